-- behaviour: INTEGER / INTEGER is cut towards zero
CREATE FUNCTION f (a INTEGER, b INTEGER) RETURNS INTEGER RETURN a / b;
-- call: f a = 7, b = 2
-- returns: 3
-- call: f a = -7, b = 2
-- returns: -3
-- behaviour: division by zero is 22012, for decimals and doubles too
CREATE FUNCTION f (a DECIMAL(5, 1), b DECIMAL(5, 1)) RETURNS DECIMAL(9, 3) RETURN a / b;
CREATE FUNCTION g (a DOUBLE PRECISION, b DOUBLE PRECISION) RETURNS DOUBLE PRECISION RETURN a / b;
-- call: f a = 1, b = 0
-- raises: 22012
-- call: g a = 1, b = 0
-- raises: 22012
-- behaviour: an INTEGER sum may pass INTEGER's range on the way, not in the end
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN (a + a) / 2;
CREATE FUNCTION g (a INTEGER) RETURNS INTEGER RETURN a + 1;
-- call: f a = 2147483647
-- returns: 2147483647
-- call: g a = 2147483647
-- raises: 22003
-- behaviour: BIGINT overflow is 22003 and never a wrap-around
CREATE FUNCTION f (a BIGINT, b BIGINT) RETURNS BIGINT RETURN a + b;
CREATE FUNCTION g (a BIGINT, b BIGINT) RETURNS BIGINT RETURN a * b;
CREATE FUNCTION h (a BIGINT) RETURNS BIGINT RETURN -a;
-- call: f a = 9223372036854775807, b = 1
-- raises: 22003
-- call: f a = -9223372036854775808, b = -1
-- raises: 22003
-- call: g a = 4294967296, b = 4294967296
-- raises: 22003
-- call: h a = -9223372036854775808
-- raises: 22003
-- behaviour: storing into SMALLINT keeps its range
CREATE PROCEDURE p (IN a INTEGER, OUT s SMALLINT) SET s = a;
-- call: p a = 32767
-- out: s = 32767
-- call: p a = 32768
-- raises: 22003
-- behaviour: exact products are exact
CREATE FUNCTION f (a DECIMAL(18, 9), b DECIMAL(18, 9)) RETURNS DECIMAL(36, 18) RETURN a * b;
-- call: f a = 123456789.123456789, b = 987654321.987654321
-- returns: 121932631356500531.347203169112635269
-- behaviour: decimals never become doubles
CREATE FUNCTION f () RETURNS DECIMAL(10, 1) RETURN 0.1 + 0.2;
CREATE FUNCTION g () RETURNS BOOLEAN RETURN 0.1 + 0.2 = 0.3;
-- call: f
-- returns: 0.3
-- call: g
-- returns: TRUE
-- behaviour: a store into a scale rounds half away from zero
CREATE FUNCTION f (a DECIMAL(9, 4)) RETURNS DECIMAL(9, 2) RETURN a;
-- call: f a = 2.345
-- returns: 2.35
-- call: f a = -2.345
-- returns: -2.35
-- call: f a = 2.3449
-- returns: 2.34
-- behaviour: a decimal stored into INTEGER is rounded half away from zero
CREATE FUNCTION f (a DECIMAL(9, 4)) RETURNS INTEGER RETURN a;
-- call: f a = 2.5
-- returns: 3
-- call: f a = -2.5
-- returns: -3
-- behaviour: too large a decimal is 22003
CREATE FUNCTION f (a DECIMAL(9, 1)) RETURNS DECIMAL(4, 2) RETURN a;
-- call: f a = 99.9
-- returns: 99.90
-- call: f a = 100
-- raises: 22003
-- behaviour: exact division keeps sixteen significant digits
CREATE FUNCTION f () RETURNS DECIMAL(30, 16) RETURN 1.0 / 3.0;
CREATE FUNCTION g () RETURNS DECIMAL(30, 2) RETURN 10.0 / 4;
-- call: f
-- returns: 0.3333333333333333
-- call: g
-- returns: 2.50
-- behaviour: a NULL operand makes the result NULL
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN a * 2 + 1 - a / 3;
-- call: f a = null
-- returns: NULL
-- behaviour: MOD has the sign of its first argument
CREATE FUNCTION f (a INTEGER, b INTEGER) RETURNS INTEGER RETURN MOD(a, b);
-- call: f a = 7, b = 3
-- returns: 1
-- call: f a = -7, b = 3
-- returns: -1
-- call: f a = 7, b = 0
-- raises: 22012
-- behaviour: rounding functions
CREATE PROCEDURE p (IN x DECIMAL(9, 3), OUT a DECIMAL(9, 3), OUT b DECIMAL(9, 3), OUT c DECIMAL(9, 3), OUT d DECIMAL(9, 3), OUT e DECIMAL(9, 3))
BEGIN
  SET a = ROUND(x, 1); SET b = TRUNCATE(x, 1); SET c = FLOOR(x); SET d = CEILING(x); SET e = ABS(x);
END;
-- call: p x = 2.355
-- out: a = 2.400, b = 2.300, c = 2.000, d = 3.000, e = 2.355
-- call: p x = -2.355
-- out: a = -2.400, b = -2.300, c = -3.000, d = -2.000, e = 2.355
-- behaviour: GREATEST and LEAST are NULL where an argument is
CREATE PROCEDURE p (IN x INTEGER, OUT a INTEGER, OUT b INTEGER)
BEGIN
  SET a = GREATEST(x, 3, 5); SET b = LEAST(x, 3, 5);
END;
-- call: p x = 4
-- out: a = 5, b = 3
-- call: p x = null
-- out: a = NULL, b = NULL
-- behaviour: the square root of a negative number is 2201F, a logarithm of zero 2201E
CREATE FUNCTION f (x DOUBLE PRECISION) RETURNS DOUBLE PRECISION RETURN SQRT(x);
CREATE FUNCTION g (x DOUBLE PRECISION) RETURNS DOUBLE PRECISION RETURN LN(x);
-- call: f x = 9
-- returns: 3.0
-- call: f x = -1
-- raises: 2201F
-- call: g x = 0
-- raises: 2201E
-- behaviour: DECFLOAT keeps 34 digits
CREATE FUNCTION f () RETURNS DECFLOAT RETURN CAST(2 AS DECFLOAT) / 3;
-- call: f
-- returns: 0.6666666666666666666666666666666667
-- behaviour: a sum of values that are no variables may pass INTEGER's range on the way too
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN (COALESCE(a, 1) + COALESCE(a, 1)) / (COALESCE(a, 1) - a + 4);
CREATE FUNCTION g (a INTEGER) RETURNS BOOLEAN RETURN COALESCE(a, 1) * 2 > a;
-- call: f a = 2147483647
-- returns: 1073741823
-- call: g a = 2147483647
-- returns: TRUE
-- behaviour: the least whole number of a type has no counterpart in it
CREATE PROCEDURE p (OUT r VARCHAR(200))
BEGIN
  DECLARE i INTEGER DEFAULT -2147483648; DECLARE s SMALLINT DEFAULT -32768; DECLARE b BIGINT DEFAULT -9223372036854775808;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET r = r || 'over ';
  SET r = '';
  SET i = ABS(i); SET r = r || i || ' ';
  SET i = -i; SET r = r || i || ' ';
  SET r = r || ABS(i) || ' ' || -i || ' ' || (ABS(s) + 1) || ' ';
  SET s = ABS(s); SET r = r || s || ' ';
  SET s = ROUND(32767, -1); SET r = r || s || ' ';
  SET i = ROUND(2147483647, -1); SET r = r || i || ' ' || ROUND(i + 1, -1) || ' ';
  SET b = ABS(b); SET r = r || b;
END;
-- call: p
-- out: r = 'over -2147483648 over -2147483648 2147483648 2147483648 32769 over -32768 over -32768 over -2147483648 -2147483650 over -9223372036854775808'
-- behaviour: a value out of several shows the digits of their common type
CREATE FUNCTION two (n DECIMAL(6, 2)) RETURNS DECIMAL(6, 2) RETURN n;
CREATE PROCEDURE p (IN d DECIMAL(6, 2), IN i INTEGER, OUT r VARCHAR(200), OUT s VARCHAR(20), OUT n DECIMAL(8, 3))
BEGIN
  DECLARE e DECIMAL(5, 1) DEFAULT 7.5;
  SET r = COALESCE(d, 0) || ' ' || COALESCE(d, i) || ' ' || COALESCE(i, d) || ' ' || COALESCE(d, e) || ' ' || CASE WHEN i > 0 THEN i ELSE d END;
  SET r = r || ' ' || GREATEST(i, e) || ' ' || LEAST(COALESCE(d, i), i, 3.125) || ' ' || (COALESCE(d, 1) + 1) || ' ' || (COALESCE(d, 2) * 2) || ' ' || NULLIF(i, 0);
  SET r = r || ' ' || ABS(COALESCE(d, -1)) || ' ' || -COALESCE(d, 5) || ' ' || two(COALESCE(d, 0)) || ' ' || CAST(COALESCE(d, 0) AS VARCHAR(9)) || ' ' || COALESCE(COALESCE(d, i), 1);
  SET s = CAST(COALESCE(d, 0) AS VARCHAR(20));
  SET n = COALESCE(d, 0);
  IF COALESCE(d, 0) = 0 THEN SET s = s || '!'; END IF;
END;
-- call: p d = NULL, i = 4
-- out: r = '0.00 4.00 4.00 7.50 4.00 7.5 3.125 2.00 4.00 4 1.00 -5.00 0.00 0.00 4.00', s = '0.00!', n = 0.000
-- call: p d = 2.50, i = 9
-- out: r = '2.50 2.50 9.00 2.50 9.00 9.0 2.500 3.50 5.00 9 2.50 -2.50 2.50 2.50 2.50', s = '2.50', n = 2.500
-- behaviour: the seconds of a moment have six digits behind the point
CREATE PROCEDURE p (OUT r VARCHAR(200))
BEGIN
  DECLARE t TIMESTAMP DEFAULT TIMESTAMP '2023-12-31 23:59:59.5'; DECLARE c TIME DEFAULT TIME '10:11:12'; DECLARE d DECIMAL(9, 3); DECLARE i INTEGER;
  SET r = EXTRACT(SECOND FROM t) || ' ' || EXTRACT(SECOND FROM c) || ' ' || (EXTRACT(SECOND FROM t) + 1) || ' ' || EXTRACT(SECOND FROM TIMESTAMP '2023-12-31 23:59:59');
  SET d = EXTRACT(SECOND FROM t); SET i = EXTRACT(SECOND FROM t);
  SET r = r || ' ' || d || ' ' || i;
END;
-- call: p
-- out: r = '59.500000 12.000000 60.500000 59.000000 59.500 60'
-- behaviour: FLOOR, CEILING, ROUND, TRUNCATE, SIGN of whole numbers and decimals
CREATE PROCEDURE p (IN d DECIMAL(8, 3), IN i INTEGER, IN b BIGINT, OUT r VARCHAR(300))
BEGIN
  SET r = FLOOR(d) || ' ' || CEILING(d) || ' ' || CEIL(-d) || ' ' || ROUND(d) || ' ' || ROUND(d, 1) || ' ' || ROUND(d, -1) || ' ' || TRUNCATE(d, 2) || ' ' || TRUNC(d);
  SET r = r || ' ' || FLOOR(i) || ' ' || ROUND(i, -1) || ' ' || TRUNCATE(i, -1) || ' ' || SIGN(d) || SIGN(-i) || SIGN(0.0);
  SET r = r || ' ' || FLOOR(b) || ' ' || ROUND(b) || ' ' || CEILING(b) || ' ' || ABS(d) || ' ' || MOD(d, 2) || ' ' || MOD(i, 4) || ' ' || MOD(b, 10);
END;
-- call: p d = -12.345, i = 25, b = 9007199254740993
-- out: r = '-13 -12 13 -12 -12.3 -10 -12.34 -12 25 30 20 -1-10 9007199254740993 9007199254740993 9007199254740993 12.345 -0.345 1 3'
-- call: p d = 0.500, i = -15, b = -1
-- out: r = '0 1 0 1 0.5 0 0.50 0 -15 -20 -10 110 -1 -1 -1 0.500 0.500 -3 -1'
-- behaviour: division of whole numbers and of decimals
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, IN d DECIMAL(6, 2), OUT r VARCHAR(300), OUT q DECIMAL(12, 4))
BEGIN
  SET r = a / b || ' ' || (a * 1.0 / b = 3.5) || ' ' || CAST(d / b AS DECIMAL(10, 3)) || ' ' || CAST(a / d AS DECIMAL(10, 3)) || ' ' || a / 2 * 2;
  SET q = d / 3;
  SET r = r || ' ' || CAST(1 / 3.0 AS DECIMAL(12, 6)) || ' ' || CAST(2.0 / 3 AS DECIMAL(5, 1)) || ' ' || (1 / 2);
END;
-- call: p a = 7, b = 2, d = 10.25
-- out: r = '3 TRUE 5.125 0.683 6 0.333333 0.7 0', q = 3.4167
-- call: p a = -7, b = 2, d = -0.01
-- out: r = '-3 FALSE -0.005 700.000 -6 0.333333 0.7 0', q = -0.0033
-- behaviour: comparisons across kinds of numbers and texts of digits
CREATE PROCEDURE p (IN d DECIMAL(8, 3), IN i INTEGER, IN x DOUBLE PRECISION, OUT r VARCHAR(100))
BEGIN
  SET r = CASE WHEN d = i THEN '=' WHEN d < i THEN '<' ELSE '>' END || CASE WHEN x = d THEN '=' WHEN x < d THEN '<' ELSE '>' END
    || CASE WHEN i BETWEEN d AND x THEN 'b' ELSE '-' END || CASE WHEN i IN (d, 99, x) THEN 'i' ELSE '-' END || CASE WHEN CAST(i AS VARCHAR(5)) = '10' THEN 't' ELSE '-' END;
END;
-- call: p d = 10.000, i = 10, x = 10.0
-- out: r = '==bit'
-- call: p d = 9.999, i = 10, x = 1e1
-- out: r = '<>bit'
-- behaviour: assignments round halves away from zero, in every place of assignment
CREATE FUNCTION f (n DECIMAL(5, 1)) RETURNS INTEGER RETURN n;
CREATE PROCEDURE q (INOUT n INTEGER, IN m DECIMAL(4, 1)) SET n = n + m;
CREATE PROCEDURE p (OUT r VARCHAR(100), OUT m DECIMAL(4, 1))
BEGIN
  DECLARE i INTEGER DEFAULT 2.5; DECLARE d DECIMAL(4, 1) DEFAULT -0.25; DECLARE a INTEGER ARRAY[3] DEFAULT ARRAY[1, 2]; DECLARE w ROW (k INTEGER, v DECIMAL(3, 1));
  SET r = i || ' ' || d || ' ' || f(3.45) || ' ' || f(-2.55);
  SET i = 1; CALL q(i, 0.449); SET r = r || ' ' || i;
  CALL q(i, 1.45); SET r = r || ' ' || i;
  SET w.k = 6.5; SET w.v = 1.25; SET r = r || ' ' || w.k || ' ' || w.v;
  SELECT 7.5, 0.05 INTO i, m FROM item WHERE id = 1; SET r = r || ' ' || i || ' ' || m;
  FOR z AS SELECT price * 10 AS t FROM item WHERE id = 1 DO SET i = z.t; END FOR; SET r = r || ' ' || i;
END;
-- call: p
-- out: r = '3 -0.3 4 -3 1 3 7 1.3 8 0.1 3', m = 0.1
-- behaviour: a value that does not fit leaves what was there, in every place of assignment
CREATE FUNCTION f (n INTEGER) RETURNS SMALLINT RETURN n * 1000;
CREATE PROCEDURE q (OUT n SMALLINT) SET n = 100;
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE s SMALLINT DEFAULT 1; DECLARE t VARCHAR(3) DEFAULT 'abc'; DECLARE d DECIMAL(3, 1) DEFAULT 9.9;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET r = r || 'n ';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' SET r = r || 't ';
  SET r = '';
  SET s = f(40); SET s = 70000; SET d = 99.95; SET t = 'abcd'; SET t = 'ab   '; SET r = r || '[' || t || ']' || s || d;
  SELECT 40000, 'long' INTO s, t FROM item WHERE id = 1; SET r = r || s || t;
  SET (s, t) = (5, 'toolong'); SET r = r || s || t;
  SET t = CAST('abcdef' AS VARCHAR(3)); SET r = r || t;
  CALL q(s); SET r = r || s;
END;
-- call: p
-- out: r = 'n n n t [ab ]19.9n 1ab t 1ab abc100'
-- behaviour: arithmetic with NULL in every operator
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(100))
BEGIN
  SET r = COALESCE(CAST(a + 1 AS VARCHAR(9)), 'n') || COALESCE(CAST(1 / a AS VARCHAR(9)), 'n') || COALESCE('x' || a, 'n') || COALESCE(CAST(MOD(a, 2) AS VARCHAR(9)), 'n')
    || COALESCE(CAST(ABS(a) AS VARCHAR(9)), 'n') || COALESCE(CAST(-a AS VARCHAR(9)), 'n') || COALESCE(SUBSTRING('abc' FROM a), 'n') || COALESCE(CAST(CHAR_LENGTH(CAST(a AS VARCHAR(9))) AS VARCHAR(9)), 'n')
    || COALESCE(CAST(GREATEST(a, 4) AS VARCHAR(9)), 'n') || COALESCE(CAST(POSITION(CAST(a AS VARCHAR(9)) IN '123') AS VARCHAR(9)), 'n');
END;
-- call: p a = NULL
-- out: r = 'nnnnnnnnnn'
-- call: p a = 2
-- out: r = '30x202-2bc142'
-- behaviour: a rounded whole number is still one, in what is worked out with it
CREATE PROCEDURE p (IN i INTEGER, IN s SMALLINT, IN d DECIMAL(6, 2), OUT r VARCHAR(300))
BEGIN
  DECLARE b BIGINT DEFAULT 9007199254740993;
  SET r = FLOOR(i) / 2 || ' ' || ROUND(i) / 2 || ' ' || CEILING(s) / 2 || ' ' || TRUNCATE(i, -1) / 4 || ' ' || SIGN(i) / 2 || ' ' || SIGN(d) / 2 || ' ' || ROUND(i, -1) / 4 || ' ' || ABS(s) / 2;
  SET r = r || ' ' || MOD(i, 4) / 2 || ' ' || CHAR_LENGTH('abc') / 2 || ' ' || POSITION('b' IN 'ab') / 4 || ' ' || EXTRACT(YEAR FROM DATE '2025-01-01') / 2 || ' ' || (FLOOR(b) + 1) || ' ' || FLOOR(b + i) || ' ' || -i / 2;
  IF FLOOR(i) / 2 = i / 2 AND CEILING(d) > d THEN SET r = r || ' yes'; END IF;
END;
-- call: p i = 25, s = -7, d = 1.50
-- out: r = '12 12 -3 5 0 0 7 3 0 1 0 1012 9007199254740994 9007199254741018 -12 yes'
