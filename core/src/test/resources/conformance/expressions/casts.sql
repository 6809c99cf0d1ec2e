-- behaviour: a text becomes a number, its blanks at both ends left out
CREATE FUNCTION f (t VARCHAR(20)) RETURNS DECIMAL(10, 3) RETURN CAST(t AS DECIMAL(10, 3));
-- call: f t = ' 12.5 '
-- returns: 12.500
-- call: f t = '-0.0005'
-- returns: -0.001
-- call: f t = '+7'
-- returns: 7.000
-- call: f t = '1e2'
-- returns: 100.000
-- call: f t = '12,5'
-- raises: 22018
-- call: f t = '99999999'
-- raises: 22003
-- call: f t = null
-- returns: NULL
-- behaviour: a number becomes a text that must fit
CREATE FUNCTION f (n DECIMAL(8, 2)) RETURNS VARCHAR(20) RETURN CAST(n AS VARCHAR(5));
-- call: f n = 12.5
-- returns: '12.50'
-- call: f n = 123.45
-- raises: 22001
-- behaviour: a text cast to CHAR is padded, one cast to a shorter VARCHAR is cut
CREATE PROCEDURE p (IN t VARCHAR(20), OUT c CHAR(6), OUT n INTEGER, OUT v VARCHAR(20))
BEGIN
  SET c = CAST(t AS CHAR(6));
  SET n = CHAR_LENGTH(CAST(t AS CHAR(6)));
  SET v = CAST(t AS VARCHAR(3));
END;
-- call: p t = 'abcd'
-- out: c = 'abcd  ', n = 6, v = 'abc'
-- behaviour: BOOLEAN from a text and to one
CREATE PROCEDURE p (IN t VARCHAR(10), OUT b BOOLEAN, OUT r VARCHAR(10))
BEGIN SET b = CAST(t AS BOOLEAN); SET r = CAST(b AS VARCHAR(10)); END;
-- call: p t = 'true'
-- out: b = TRUE, r = 'TRUE'
-- call: p t = ' FALSE '
-- out: b = FALSE, r = 'FALSE'
-- call: p t = 'unknown'
-- out: b = NULL, r = NULL
-- call: p t = 'yes'
-- raises: 22018
-- behaviour: a text becomes a date, and one that is none is 22007 or 22008
CREATE FUNCTION f (t VARCHAR(20)) RETURNS DATE RETURN CAST(t AS DATE);
-- call: f t = '2031-10-04'
-- returns: DATE '2031-10-04'
-- call: f t = '2031-02-30'
-- raises: 22008
-- call: f t = 'yesterday'
-- raises: 22007
-- behaviour: a timestamp becomes a date and a time, and a date a timestamp of midnight
CREATE PROCEDURE p (IN t TIMESTAMP, OUT d DATE, OUT h TIME, OUT m TIMESTAMP)
BEGIN SET d = CAST(t AS DATE); SET h = CAST(t AS TIME); SET m = CAST(d AS TIMESTAMP); END;
-- call: p t = '2031-10-04 09:30:15'
-- out: d = DATE '2031-10-04', h = TIME '09:30:15', m = TIMESTAMP '2031-10-04 00:00:00'
-- behaviour: the texts of moments
CREATE PROCEDURE p (OUT a VARCHAR(30), OUT b VARCHAR(30), OUT c VARCHAR(30))
BEGIN
  SET a = CAST(DATE '2031-01-02' AS VARCHAR(30));
  SET b = CAST(TIME '03:04:05' AS VARCHAR(30));
  SET c = CAST(TIMESTAMP '2031-01-02 03:04:05' AS VARCHAR(30));
END;
-- call: p
-- out: a = '2031-01-02', b = '03:04:05', c = '2031-01-02 03:04:05'
-- behaviour: a decimal cast to an integer is rounded half away from zero, a double too
CREATE PROCEDURE p (IN d DECIMAL(9, 2), OUT a INTEGER, OUT b BIGINT)
BEGIN SET a = CAST(d AS INTEGER); SET b = CAST(CAST(d AS DOUBLE PRECISION) AS BIGINT); END;
-- call: p d = 2.5
-- out: a = 3, b = 3
-- call: p d = -2.5
-- out: a = -3, b = -3
-- call: p d = 2.49
-- out: a = 2, b = 2
-- behaviour: NULL may be cast to any type
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(5), OUT c DATE, OUT d BOOLEAN)
BEGIN
  SET a = CAST(NULL AS INTEGER); SET b = CAST(NULL AS VARCHAR(5));
  SET c = CAST(NULL AS DATE); SET d = CAST(NULL AS BOOLEAN);
END;
-- call: p
-- out: a = NULL, b = NULL, c = NULL, d = NULL
-- behaviour: a store into VARCHAR refuses what is too long unless only blanks are lost
CREATE PROCEDURE p (IN t VARCHAR(20), OUT v VARCHAR(5), OUT c CHAR(5))
BEGIN SET v = t; SET c = t; END;
-- call: p t = 'abcde   '
-- out: v = 'abcde', c = 'abcde'
-- call: p t = 'abcdef'
-- raises: 22001
-- call: p t = 'ab   '
-- out: v = 'ab   ', c = 'ab   '
-- behaviour: the value of an argument is stored by the parameter's type
CREATE PROCEDURE q (IN t VARCHAR(3), OUT r VARCHAR(3)) SET r = t;
CREATE PROCEDURE p (IN t VARCHAR(20), OUT r VARCHAR(10)) CALL q(t, r);
-- call: p t = 'abc'
-- out: r = 'abc'
-- call: p t = 'abcd'
-- raises: 22001
-- behaviour: the value of RETURN is stored by the type that the function returns
CREATE FUNCTION f (n DECIMAL(9, 3)) RETURNS DECIMAL(4, 1) RETURN n;
CREATE FUNCTION g (t VARCHAR(9)) RETURNS CHAR(4) RETURN t;
-- call: f n = 12.25
-- returns: 12.3
-- call: f n = 1234.5
-- raises: 22003
-- call: g t = 'ab'
-- returns: 'ab  '
-- call: g t = 'abcde'
-- raises: 22001
-- behaviour: DOUBLE PRECISION and REAL keep what they can, and range is 22003
CREATE PROCEDURE p (IN d DOUBLE PRECISION, OUT s SMALLINT, OUT x DECIMAL(6, 2))
BEGIN SET s = d; SET x = d; END;
-- call: p d = 3.14159
-- out: s = 3, x = 3.14
-- call: p d = 1e10
-- raises: 22003
-- behaviour: a date in a data statement and in an expression are the same
CREATE PROCEDURE p (IN t VARCHAR(10), OUT a DATE, OUT b DATE)
BEGIN
  SET a = CAST(t AS DATE) + INTERVAL '1' DAY;
  SELECT CAST(t AS DATE) + INTERVAL '1' DAY INTO b FROM item WHERE id = 1;
END;
-- call: p t = '2031-12-31'
-- out: a = DATE '2032-01-01', b = DATE '2032-01-01'
-- behaviour: precision of a time is kept, rounded or cut as its type says
CREATE PROCEDURE p (IN t TIMESTAMP(6), OUT a TIMESTAMP(3), OUT b TIMESTAMP(6))
BEGIN SET a = t; SET b = t; END;
-- call: p t = '2031-10-04 09:30:15.123456'
-- out: a = TIMESTAMP '2031-10-04 09:30:15.123', b = TIMESTAMP '2031-10-04 09:30:15.123456'
-- behaviour: a number never becomes a text, nor a text a number, without a cast
CREATE PROCEDURE p (OUT n INTEGER) SET n = 'a';
-- problem: wrong-type
-- behaviour: binary values are written in hexadecimal, joined and measured
CREATE PROCEDURE p (IN b VARBINARY(4), OUT n INTEGER, OUT c VARBINARY(8))
BEGIN SET n = OCTET_LENGTH(b); SET c = b || X'FF00'; END;
-- call: p b = '0102'
-- out: n = 2, c = X'0102FF00'
-- behaviour: UUID compares by its value
CREATE PROCEDURE p (IN t VARCHAR(40), OUT same BOOLEAN)
BEGIN
  DECLARE u UUID DEFAULT CAST(t AS UUID);
  SET same = u = CAST('00000000-0000-0000-0000-00000000000A' AS UUID);
END;
-- call: p t = '00000000-0000-0000-0000-00000000000a'
-- out: same = TRUE
-- call: p t = '00000000-0000-0000-0000-00000000000b'
-- out: same = FALSE
