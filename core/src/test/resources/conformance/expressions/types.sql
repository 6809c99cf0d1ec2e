-- behaviour: REAL and DOUBLE PRECISION are approximate, and mixed arithmetic is
CREATE PROCEDURE p (IN a DOUBLE PRECISION, IN b INTEGER, OUT c DECIMAL(9, 4), OUT d BOOLEAN)
BEGIN
  SET c = a * b;
  SET d = a + 0.2 > 0.3 - 0.0001;
END;
-- call: p a = 0.1, b = 3
-- out: c = 0.3000, d = TRUE
-- behaviour: a REAL keeps some seven digits
CREATE FUNCTION f (a REAL) RETURNS BOOLEAN RETURN a BETWEEN 1234567 AND 1234568;
-- call: f a = 1234567.2
-- returns: TRUE
-- behaviour: BIGINT at both ends of its range
CREATE PROCEDURE p (INOUT a BIGINT, IN b INTEGER) SET a = a + b;
-- call: p a = 9223372036854775806, b = 1
-- out: a = 9223372036854775807
-- call: p a = 9223372036854775807, b = 1
-- raises: 22003
-- call: p a = -9223372036854775808, b = -1
-- raises: 22003
-- behaviour: SMALLINT arithmetic does not overflow on the way
CREATE PROCEDURE p (IN a SMALLINT, IN b SMALLINT, OUT c INTEGER, OUT d SMALLINT)
BEGIN
  SET c = a * b;
  SET d = a * b / b;
END;
-- call: p a = 32767, b = 2
-- out: c = 65534, d = 32767
-- behaviour: CHAR is padded to its length, and measured so
CREATE PROCEDURE p (IN c CHAR(5), OUT n INTEGER, OUT t VARCHAR(10), OUT e BOOLEAN)
BEGIN
  SET n = CHAR_LENGTH(c);
  SET t = '[' || c || ']';
  SET e = c = 'ab';
END;
-- call: p c = 'ab'
-- out: n = 5, t = '[ab   ]', e = TRUE
-- behaviour: CLOB takes any length
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE c CLOB DEFAULT '';
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < 500 DO
    SET c = c || 'twenty characters ...';
    SET i = i + 1;
  END WHILE;
  SET n = CHAR_LENGTH(c);
END;
-- call: p
-- out: n = 10500
-- behaviour: DECIMAL without a scale has none
CREATE PROCEDURE p (IN a DECIMAL(9, 3), OUT b DECIMAL(5)) SET b = a;
-- call: p a = 2.5
-- out: b = 3
-- call: p a = 99999.5
-- raises: 22003
-- behaviour: a comparison of numbers of different types is by value
CREATE PROCEDURE p (IN a INTEGER, IN b DECIMAL(9, 2), OUT e BOOLEAN, OUT l BOOLEAN)
BEGIN SET e = a = b; SET l = a < b; END;
-- call: p a = 2, b = 2.00
-- out: e = TRUE, l = FALSE
-- call: p a = 2, b = 2.01
-- out: e = FALSE, l = TRUE
-- behaviour: dates compare with dates and with timestamps
CREATE PROCEDURE p (IN d DATE, IN t TIMESTAMP, OUT l BOOLEAN, OUT e BOOLEAN)
BEGIN
  SET l = d < DATE '2031-10-05';
  SET e = CAST(d AS TIMESTAMP) = t;
END;
-- call: p d = '2031-10-04', t = '2031-10-04 00:00:00'
-- out: l = TRUE, e = TRUE
-- behaviour: a time goes round at midnight
CREATE PROCEDURE p (IN t TIME, OUT a TIME, OUT b TIME)
BEGIN
  SET a = t + INTERVAL '2' HOUR;
  SET b = t - INTERVAL '30' MINUTE;
END;
-- call: p t = '23:15:00'
-- out: a = TIME '01:15:00', b = TIME '22:45:00'
-- call: p t = '00:15:00'
-- out: a = TIME '02:15:00', b = TIME '23:45:00'
-- behaviour: the difference of two timestamps in hours and in minutes
CREATE PROCEDURE p (IN a TIMESTAMP, IN b TIMESTAMP, OUT h INTEGER, OUT m INTEGER)
BEGIN
  SET h = CAST((a - b) HOUR AS INTEGER);
  SET m = CAST((a - b) MINUTE AS INTEGER);
END;
-- call: p a = '2031-10-04 12:30:00', b = '2031-10-04 10:00:00'
-- out: h = 2, m = 150
-- behaviour: a leap day, and the day after it
CREATE FUNCTION f (d DATE) RETURNS DATE RETURN d + INTERVAL '1' DAY;
-- call: f d = '2032-02-28'
-- returns: DATE '2032-02-29'
-- call: f d = '2031-02-28'
-- returns: DATE '2031-03-01'
-- call: f d = '2031-12-31'
-- returns: DATE '2032-01-01'
-- behaviour: EXTRACT compares and counts
CREATE FUNCTION quarter_of (d DATE) RETURNS INTEGER RETURN (EXTRACT(MONTH FROM d) + 2) / 3;
-- call: quarter_of d = '2031-01-15'
-- returns: 1
-- call: quarter_of d = '2031-12-15'
-- returns: 4
-- behaviour: literals of every kind
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b INTEGER, OUT c DOUBLE PRECISION, OUT d DATE, OUT e BOOLEAN, OUT f DECIMAL(5, 2))
BEGIN
  SET a = 'it''s ' || U&'\00E9';
  SET b = 007;
  SET c = 1.5E2;
  SET d = DATE '2031-10-04';
  SET e = UNKNOWN;
  SET f = .5;
END;
-- call: p
-- out: a = 'it''s é', b = 7, c = 150.0, d = DATE '2031-10-04', e = NULL, f = 0.50
-- behaviour: GREATEST and LEAST of texts and dates
CREATE PROCEDURE p (IN a VARCHAR(5), IN b VARCHAR(5), OUT g VARCHAR(5), OUT l DATE)
BEGIN
  SET g = GREATEST(a, b);
  SET l = LEAST(DATE '2031-01-01', DATE '2030-01-01');
END;
-- call: p a = 'b', b = 'a'
-- out: g = 'b', l = DATE '2030-01-01'
-- call: p a = 'a', b = null
-- out: g = NULL, l = DATE '2030-01-01'
-- behaviour: a quotient of decimals keeps its digits until it is stored
CREATE PROCEDURE p (IN a DECIMAL(9, 2), IN b DECIMAL(9, 2), OUT c DECIMAL(9, 2), OUT d DECIMAL(12, 6))
BEGIN
  SET c = a / b * b;
  SET d = a / b;
END;
-- call: p a = 10, b = 3
-- out: c = 10.00, d = 3.333333
-- behaviour: percent of an integer needs a decimal
CREATE PROCEDURE p (IN part INTEGER, IN whole INTEGER, OUT a INTEGER, OUT b DECIMAL(5, 1))
BEGIN
  SET a = part / whole * 100;
  SET b = part * 100.0 / whole;
END;
-- call: p part = 1, whole = 3
-- out: a = 0, b = 33.3
-- behaviour: MOD with negative and with decimal operands
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c DECIMAL(5, 2))
BEGIN SET a = MOD(-7, 3); SET b = MOD(7, -3); SET c = MOD(7.5, 2); END;
-- call: p
-- out: a = -1, b = 1, c = 1.50
-- behaviour: quotients of quotients, and of sums
CREATE PROCEDURE p (IN a DECIMAL(9, 2), IN b DECIMAL(9, 2), IN c INTEGER, OUT x DECIMAL(12, 4), OUT y DECIMAL(12, 4), OUT z INTEGER)
BEGIN
  SET x = a / b / c;
  SET y = (a + b) / (b - c) / b * 2;
  SET z = c / 2 / 2 + (c + 1) / c;
END;
-- call: p a = 100, b = 8, c = 5
-- out: x = 2.5000, y = 9.0000, z = 2
-- call: p a = 100, b = 5, c = 5
-- raises: 22012
-- behaviour: GREATEST and LEAST of numbers of several types give the wider one
CREATE PROCEDURE p (IN a INTEGER, IN x DECIMAL(9, 3), OUT g DECIMAL(9, 3), OUT l DECIMAL(9, 3), OUT t VARCHAR(20))
BEGIN
  SET g = GREATEST(x, a);
  SET l = LEAST(a, x, 7);
  SET t = CAST(GREATEST(a, 2) AS VARCHAR(20));
END;
-- call: p a = 3, x = 2.5
-- out: g = 3.000, l = 2.500, t = '3'
-- call: p a = 1, x = 2.5
-- out: g = 2.500, l = 1.000, t = '2'
-- call: p a = null, x = 2.5
-- out: g = NULL, l = NULL, t = NULL
-- behaviour: values through records, defaults and nested calls
CREATE FUNCTION code5 (c CHAR(5)) RETURNS CHAR(5) RETURN c;
CREATE FUNCTION pick (a DECIMAL(6, 2) DEFAULT 1.5, b INTEGER DEFAULT 3) RETURNS DECIMAL(8, 3) RETURN a * b;
CREATE PROCEDURE swap (INOUT a CHAR(3), INOUT b VARCHAR(3))
BEGIN
  DECLARE h VARCHAR(3);
  SET h = a; SET a = b; SET b = h;
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE x ROW (c CHAR(4), n DECIMAL(5, 1), d DATE);
  DECLARE a CHAR(3) DEFAULT 'a';
  DECLARE b VARCHAR(3) DEFAULT 'xyz';
  SET x.c = 'k'; SET x.n = 2.25; SET x.d = DATE '2031-01-31' + INTERVAL '1' MONTH;
  REPORT '<', x.c, '> ', x.n, ' ', x.d;
  SET x = ('zz', 1 / 3.0, NULL);
  REPORT '<', x.c || '>', x.n, ' ', COALESCE(CAST(x.d AS VARCHAR(10)), 'no day');
  CALL swap(a, b);
  REPORT '<', a, '><', b, '>', CHAR_LENGTH(b);
  REPORT pick(), ' ', pick(b => 2), ' ', pick(2.345), ' ', code5(x.c) || '!', ' ', CHAR_LENGTH(code5('ab'));
  REPORT CASE WHEN code5('ab') = 'ab' THEN 'same' END, CASE WHEN x.c = CAST('zz' AS CHAR(9)) THEN 'same' END, CASE WHEN a LIKE 'xy_' THEN 'like' END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22001' REPORT 'long';
    SET x.c = SUBSTRING('abcdefgh' FROM 3);
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22003' REPORT 'large ', x.n;
    SET x.n = 99999;
  END;
END;
-- call: p
-- says: <k   > 2.3 2031-02-28
-- says: <zz  >0.3 no day
-- says: <xyz><a  >3
-- says: 4.500 3.000 7.050 zz   ! 5
-- says: samesamelike
-- says: long
-- says: large 0.3
-- behaviour: a row set from values that read it, and that may fail
CREATE PROCEDURE p ()
BEGIN
  DECLARE x ROW (a INTEGER, b INTEGER, c VARCHAR(3));
  DECLARE y ROW (a INTEGER, b INTEGER, c VARCHAR(3));
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012', SQLSTATE '22001' REPORT 'kept';
  SET x = (1, 2, 'x');
  SET x = (x.b, x.a, x.c || '!');
  REPORT x.a, x.b, x.c;
  SET x = (7, x.a / 0, 'y');
  REPORT x.a, x.b, x.c;
  SET x = (8, 9, 'too long');
  REPORT x.a, x.b, x.c;
  SET y = x;
  SET x = (NULL, y.a + y.b, NULL);
  REPORT COALESCE(x.a, -1), x.b, COALESCE(x.c, 'none'), y.c;
END;
-- call: p
-- says: 21x!
-- says: kept
-- says: 21x!
-- says: kept
-- says: 21x!
-- says: -13nonex!
