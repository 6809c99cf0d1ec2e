-- behaviour: || with NULL is NULL, and an empty text is not NULL
CREATE PROCEDURE p (IN x VARCHAR(5), OUT a VARCHAR(20), OUT b BOOLEAN)
BEGIN
  SET a = 'x' || x; SET b = x IS NULL;
END;
-- call: p x = null
-- out: a = NULL, b = TRUE
-- call: p x = ''
-- out: a = 'x', b = FALSE
-- behaviour: too long a text is 22001 unless only blanks are lost
CREATE PROCEDURE p (IN x VARCHAR(20), OUT a VARCHAR(3)) SET a = x;
-- call: p x = 'abc'
-- out: a = 'abc'
-- call: p x = 'abc   '
-- out: a = 'abc'
-- call: p x = 'abcd'
-- raises: 22001
-- behaviour: a cast cuts what is too long
CREATE FUNCTION f (x VARCHAR(20)) RETURNS VARCHAR(20) RETURN CAST(x AS VARCHAR(3));
-- call: f x = 'abcd'
-- returns: 'abc'
-- behaviour: CHAR is padded, and its trailing blanks do not count
CREATE PROCEDURE p (IN x VARCHAR(20), OUT c CHAR(5), OUT same BOOLEAN)
BEGIN
  SET c = x;
  SET same = c = 'ab';
END;
-- call: p x = 'ab'
-- out: c = 'ab   ', same = TRUE
-- behaviour: trailing blanks of VARCHAR count, and so does case
CREATE PROCEDURE p (IN x VARCHAR(20), OUT a BOOLEAN, OUT b BOOLEAN)
BEGIN
  SET a = x = 'ab'; SET b = x = 'AB';
END;
-- call: p x = 'ab '
-- out: a = FALSE, b = FALSE
-- call: p x = 'ab'
-- out: a = TRUE, b = FALSE
-- behaviour: texts compare by code point
CREATE FUNCTION f (a VARCHAR(5), b VARCHAR(5)) RETURNS BOOLEAN RETURN a < b;
-- call: f a = 'Z', b = 'a'
-- returns: TRUE
-- call: f a = 'z', b = 'é'
-- returns: TRUE
-- behaviour: SUBSTRING counts from 1, and a start before the text counts too
CREATE PROCEDURE p (OUT a VARCHAR(9), OUT b VARCHAR(9), OUT c VARCHAR(9), OUT d VARCHAR(9))
BEGIN
  SET a = SUBSTRING('abcdef' FROM 2 FOR 3);
  SET b = SUBSTRING('abcdef' FROM 4);
  SET c = SUBSTRING('abcdef' FROM -1 FOR 3);
  SET d = SUBSTRING('abcdef' FROM 9);
END;
-- call: p
-- out: a = 'bcd', b = 'def', c = 'a', d = ''
-- behaviour: a negative length of SUBSTRING is 22011
CREATE FUNCTION f () RETURNS VARCHAR(9) RETURN SUBSTRING('abc' FROM 1 FOR -1);
-- call: f
-- raises: 22011
-- behaviour: TRIM takes blanks or another character, from either side
CREATE PROCEDURE p (OUT a VARCHAR(9), OUT b VARCHAR(9), OUT c VARCHAR(9), OUT d VARCHAR(9))
BEGIN
  SET a = TRIM('  x '); SET b = TRIM(LEADING '0' FROM '007'); SET c = TRIM(TRAILING FROM ' x ');
  SET d = TRIM(BOTH '*' FROM '**x**');
END;
-- call: p
-- out: a = 'x', b = '7', c = ' x', d = 'x'
-- behaviour: lengths count characters and octets
CREATE PROCEDURE p (IN x VARCHAR(9), OUT a INTEGER, OUT b INTEGER)
BEGIN
  SET a = CHAR_LENGTH(x); SET b = OCTET_LENGTH(x);
END;
-- call: p x = 'né😀'
-- out: a = 3, b = 7
-- behaviour: POSITION, UPPER, LOWER, REPLACE, OVERLAY, LPAD, RPAD
CREATE PROCEDURE p (OUT r VARCHAR(80))
  SET r = POSITION('b' IN 'abc') || UPPER('aé') || LOWER('AÉ') || REPLACE('aXbX', 'X', '-')
       || OVERLAY('abcdef' PLACING 'ZZ' FROM 3) || LPAD('7', 3, '0') || RPAD('x', 3, '.');
-- call: p
-- out: r = '2AÉaéa-b-abZZef007x..'
-- behaviour: LIKE with % and _ and an escape
CREATE FUNCTION f (x VARCHAR(20), y VARCHAR(20)) RETURNS BOOLEAN RETURN x LIKE y;
CREATE FUNCTION g (x VARCHAR(20), y VARCHAR(20)) RETURNS BOOLEAN RETURN x LIKE y ESCAPE '!';
-- call: f x = 'barrel', y = 'b%r_l'
-- returns: TRUE
-- call: f x = 'barrel', y = 'B%'
-- returns: FALSE
-- call: f x = null, y = '%'
-- returns: NULL
-- call: g x = '10%', y = '10!%'
-- returns: TRUE
-- call: g x = '10x', y = '10!%'
-- returns: FALSE
-- call: g x = '10x', y = '10!x'
-- raises: 22025
-- behaviour: a cast of a text that is no number is 22018, of a bad date 22007 or 22008
CREATE FUNCTION f (x VARCHAR(20)) RETURNS INTEGER RETURN CAST(x AS INTEGER);
CREATE FUNCTION g (x VARCHAR(20)) RETURNS DATE RETURN CAST(x AS DATE);
-- call: f x = ' 12 '
-- returns: 12
-- call: f x = 'twelve'
-- raises: 22018
-- call: g x = '2031-02-28'
-- returns: DATE '2031-02-28'
-- call: g x = 'soon'
-- raises: 22007
-- call: g x = '2031-02-30'
-- raises: 22008
-- behaviour: EXTRACT takes the fields of dates and times
CREATE PROCEDURE p (IN t TIMESTAMP, OUT y INTEGER, OUT m INTEGER, OUT d INTEGER, OUT h INTEGER, OUT s DECIMAL(5, 2))
BEGIN
  SET y = EXTRACT(YEAR FROM t); SET m = EXTRACT(MONTH FROM t); SET d = EXTRACT(DAY FROM t);
  SET h = EXTRACT(HOUR FROM t); SET s = EXTRACT(SECOND FROM t);
END;
-- call: p t = '2031-10-04 09:05:07.25'
-- out: y = 2031, m = 10, d = 4, h = 9, s = 7.25
-- behaviour: a text in quotes keeps doubled quotes as one
CREATE FUNCTION f () RETURNS VARCHAR(20) RETURN 'it''s' || U&' \00e9';
-- call: f
-- returns: 'it''s é'

-- behaviour: a cast to a text writes a number or a moment whole, or is 22001
CREATE FUNCTION f (n INTEGER, d DECIMAL(8, 2)) RETURNS VARCHAR(20)
RETURN CAST(n * n AS VARCHAR(4)) || ' ' || CAST(d AS VARCHAR(5));
CREATE FUNCTION g (d DATE) RETURNS VARCHAR(20) RETURN CAST(d AS VARCHAR(9));
-- call: f n = 99, d = 1.25
-- returns: '9801 1.25'
-- call: f n = 100, d = 1.25
-- raises: 22001
-- call: f n = 1, d = 123.45
-- raises: 22001
-- call: g d = '2031-10-04'
-- raises: 22001
-- behaviour: without ESCAPE a backslash is a character like others
CREATE FUNCTION f (t VARCHAR(20), p VARCHAR(20)) RETURNS BOOLEAN RETURN t LIKE p;
-- call: f t = 'a%c', p = 'a\%c'
-- returns: FALSE
-- call: f t = 'a\xc', p = 'a\%c'
-- returns: TRUE
-- call: f t = 'a\b', p = 'a\b'
-- returns: TRUE
-- behaviour: CHAR and VARCHAR: comparing, joining, lengths, and where blanks go
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE c CHAR(5) DEFAULT 'ab'; DECLARE v VARCHAR(5) DEFAULT 'ab'; DECLARE e CHAR(3) DEFAULT ''; DECLARE w VARCHAR(9);
  SET r = '[' || c || '|' || v || '|' || e || ']' || CHAR_LENGTH(c) || CHAR_LENGTH(v) || CHAR_LENGTH(e);
  SET r = r || CASE WHEN c = v THEN '=' ELSE '#' END || CASE WHEN c = 'ab ' THEN '=' ELSE '#' END || CASE WHEN v = 'ab ' THEN '=' ELSE '#' END || CASE WHEN e = '' THEN '=' ELSE '#' END;
  SET w = c; SET r = r || '[' || w || ']' || '[' || UPPER(c) || ']' || '[' || TRIM(c) || ']' || '[' || SUBSTRING(c FROM 2 FOR 2) || ']' || POSITION(' ' IN c);
  SET c = 'xyz' || v; SET r = r || '[' || c || ']';
  IF c LIKE 'xyz%' AND c LIKE 'xyzab' THEN SET r = r || 'like'; END IF;
  SET r = r || CASE c WHEN 'xyzab' THEN 'w' ELSE '-' END || COALESCE(e, 'n') || '.' || COALESCE(NULLIF(e, ''), 'null');
END;
-- call: p
-- out: r = '[ab   |ab|   ]523==#=[ab   ][AB   ][ab][b ]3[xyzab]likew   .null'
-- behaviour: letters beyond ASCII, and quotes
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE s VARCHAR(20) DEFAULT 'Grüße, Ž😀''"\';
  SET r = CHAR_LENGTH(s) || UPPER('é') || LOWER('Ž') || POSITION('😀' IN s) || SUBSTRING(s FROM 3 FOR 3) || '[' || SUBSTRING(s FROM CHAR_LENGTH(s)) || ']' || REPLACE(s, '''', '-') || OVERLAY('aé' PLACING '😀😀' FROM 2);
END;
-- call: p
-- out: r = '12Éž9üße[\]Grüße, Ž😀-"\a😀😀'
-- behaviour: the order of texts is that of their characters
CREATE PROCEDURE p (OUT r VARCHAR(100))
BEGIN
  SET r = CASE WHEN 'a' < 'B' THEN '1' ELSE '0' END || CASE WHEN 'Z' < 'a' THEN '1' ELSE '0' END || CASE WHEN 'a' < 'a ' THEN '1' ELSE '0' END || CASE WHEN '' < ' ' THEN '1' ELSE '0' END || CASE WHEN 'é' > 'z' THEN '1' ELSE '0' END || CASE WHEN 'a' = 'A' THEN '1' ELSE '0' END || CASE WHEN '10' < '9' THEN '1' ELSE '0' END || GREATEST('b', 'C', 'a') || LEAST('b', 'C', 'a') || CASE WHEN 'b' BETWEEN 'A' AND 'C' THEN '1' ELSE '0' END;
END;
-- call: p
-- out: r = '0111101bC0'
-- behaviour: a text too long for its place, with and without blanks at its end
CREATE FUNCTION f (t VARCHAR(3)) RETURNS CHAR(2) RETURN t;
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE t VARCHAR(3); DECLARE c CHAR(2);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' SET r = r || '! ';
  SET r = '';
  SET t = 'ab    '; SET r = r || '[' || t || ']';
  SET c = 'a     '; SET r = r || '[' || c || ']';
  SET c = f('a '); SET r = r || '[' || c || ']';
  SET c = f('abc'); SET r = r || '[' || c || ']';
  SET t = 'abcd'; SET r = r || '[' || t || ']';
  INSERT INTO tag VALUES ('toolong', 1);
  INSERT INTO tag VALUES ('dd', 1);
  SET r = r || (SELECT COUNT(*) FROM tag WHERE code = 'dd');
END;
-- call: p
-- out: r = '[ab ][a ][a ]! [a ]! [ab ]! 1'
-- data: SELECT COUNT(*) FROM tag : [4]
-- behaviour: binary strings
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE b VARBINARY(4) DEFAULT X'0aFF'; DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' SET r = r || '!';
  SET r = '';
  SET b = b || X'00'; IF b = X'0AFF00' THEN SET r = r || '='; END IF;
  SET b = b || X'0102';
  SET r = r || OCTET_LENGTH(b) || CASE WHEN b > X'0AFE' THEN '>' ELSE '<' END || OCTET_LENGTH(X'');
END;
-- call: p
-- out: r = '=!3>0'
-- behaviour: moments compared, counted and cut
CREATE PROCEDURE p (IN a DATE, IN b DATE, OUT r VARCHAR(300))
BEGIN
  DECLARE t TIMESTAMP(0) DEFAULT TIMESTAMP '2025-06-30 23:59:59.6'; DECLARE c TIME DEFAULT TIME '23:59:59';
  SET r = CAST((b - a) DAY AS INTEGER) || ' ' || CASE WHEN a < b THEN 'before' WHEN a = b THEN 'same' ELSE 'after' END || ' ' || t || ' ' || CAST(t AS TIME) || ' ' || (c + INTERVAL '2' SECOND);
  SET r = r || ' ' || CAST(a AS TIMESTAMP) || ' ' || (a + INTERVAL '1' MONTH) || ' ' || CAST(CAST(TIMESTAMP '2025-01-01 10:20:30.123456' AS TIMESTAMP(3)) AS VARCHAR(30));
  SET r = r || ' ' || EXTRACT(HOUR FROM t) || EXTRACT(MONTH FROM b) || ' ' || CASE WHEN CAST(a AS TIMESTAMP) = a THEN 'eq' ELSE 'ne' END;
END;
-- call: p a = '2025-02-28', b = '2025-03-01'
-- out: r = '1 before 2025-07-01 00:00:00 00:00:00 00:00:01 2025-02-28 00:00:00 2025-03-28 2025-01-01 10:20:30.123 03 eq'
-- call: p a = '2024-12-31', b = '2024-12-31'
-- out: r = '0 same 2025-07-01 00:00:00 00:00:00 00:00:01 2024-12-31 00:00:00 2025-01-31 2025-01-01 10:20:30.123 012 eq'
-- behaviour: UPPER and LOWER of a CHAR keep its blanks, and compare as it does
CREATE PROCEDURE p (OUT r VARCHAR(100))
BEGIN
  DECLARE c CHAR(5) DEFAULT 'aB'; DECLARE v VARCHAR(5);
  SET r = '[' || UPPER(c) || LOWER(c) || ']' || CHAR_LENGTH(UPPER(c)) || CASE WHEN UPPER(c) = 'AB' THEN '=' ELSE '#' END || CASE WHEN LOWER(c) = 'ab   ' THEN '=' ELSE '#' END || CASE WHEN UPPER(c) LIKE 'AB' THEN '=' ELSE '#' END;
  SET v = UPPER(c); SET r = r || '[' || v || ']' || CASE UPPER(c) WHEN 'AB' THEN 'w' ELSE '-' END || '[' || TRIM(UPPER(c)) || ']' || SUBSTRING(UPPER(c) FROM 2 FOR 3) || '.' || COALESCE(UPPER(c), 'n') || '.';
END;
-- call: p
-- out: r = '[AB   ab   ]5==#[AB   ]w[AB]B  .AB   .'
-- behaviour: texts between others, and the greatest of them
CREATE PROCEDURE p (IN a VARCHAR(9), OUT r VARCHAR(100))
BEGIN
  DECLARE c CHAR(3) DEFAULT 'b';
  SET r = CASE WHEN a BETWEEN 'A' AND c THEN '1' ELSE '0' END || CASE WHEN c NOT BETWEEN a AND 'z' || a THEN '1' ELSE '0' END || CASE WHEN 'm' BETWEEN SYMMETRIC 'z' AND a THEN '1' ELSE '0' END || GREATEST(a, 'Z', c) || LEAST(a, 'Z', c) || CASE WHEN a IN ('B', 'b') THEN '1' ELSE '0' END || CASE WHEN a >= c OR NOT a < 'C' THEN '1' ELSE '0' END;
END;
-- call: p a = 'B'
-- out: r = '101b  B10'
-- call: p a = 'é'
-- out: r = '010éZ01'
-- behaviour: binary strings of a length, in every place
CREATE FUNCTION f (b VARBINARY(3)) RETURNS BINARY(4) RETURN b;
CREATE PROCEDURE q (INOUT b VARBINARY(2), IN c BINARY(3)) SET b = b || c;
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE b VARBINARY(3) DEFAULT X'01'; DECLARE c BINARY(2) DEFAULT X'FF'; DECLARE l BLOB;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' SET r = r || '!';
  SET r = '';
  SET l = b || c || X'AA'; SET r = r || OCTET_LENGTH(l) || OCTET_LENGTH(c) || CASE WHEN c = X'FF00' THEN '=' ELSE '#' END;
  SET b = l; SET r = r || OCTET_LENGTH(b);
  SET r = r || OCTET_LENGTH(f(X'0102')) || CASE WHEN f(X'0102') = X'01020000' THEN '=' ELSE '#' END;
  SET l = f(X'01020304'); SET r = r || OCTET_LENGTH(l);
  SET r = r || OCTET_LENGTH(CAST(X'010203' AS VARBINARY(9))) || CASE WHEN b IS NULL THEN 'n' ELSE 'v' END;
END;
-- call: p
-- out: r = '42=!14=!43v'
-- behaviour: times of day with parts of a second
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE c TIME DEFAULT TIME '22:59:59.9'; DECLARE d TIME(2) DEFAULT TIME '10:00:00.125'; DECLARE t TIMESTAMP(1) DEFAULT TIMESTAMP '2025-12-31 22:59:59.96';
  SET r = c || ' ' || d || ' ' || t || ' ' || (d + INTERVAL '0.5' SECOND) || ' ' || (c + INTERVAL '0.5' SECOND) || ' ' || CAST(d AS TIME) || ' ' || CAST(t AS TIME(1)) || ' ' || EXTRACT(SECOND FROM d);
  SET c = d; SET r = r || ' ' || c;
END;
-- call: p
-- out: r = '23:00:00 10:00:00.13 2025-12-31 23:00:00 10:00:00.63 23:00:00.5 10:00:00 23:00:00 0.130000 10:00:00'
