-- behaviour: POSITION counts from 1, is 0 where there is none and 1 of an empty text
CREATE FUNCTION f (a VARCHAR(10), b VARCHAR(20)) RETURNS INTEGER RETURN POSITION(a IN b);
-- call: f a = 'n', b = 'cantina'
-- returns: 3
-- call: f a = 'x', b = 'cantina'
-- returns: 0
-- call: f a = '', b = 'cantina'
-- returns: 1
-- call: f a = 'N', b = 'cantina'
-- returns: 0
-- behaviour: SUBSTRING before the beginning and past the end
CREATE FUNCTION f (s INTEGER, n INTEGER) RETURNS VARCHAR(10) RETURN '[' || SUBSTRING('barrel' FROM s FOR n) || ']';
-- call: f s = 2, n = 3
-- returns: '[arr]'
-- call: f s = -1, n = 4
-- returns: '[ba]'
-- call: f s = 0, n = 1
-- returns: '[]'
-- call: f s = 5, n = 9
-- returns: '[el]'
-- call: f s = 9, n = 1
-- returns: '[]'
-- call: f s = 3, n = 0
-- returns: '[]'
-- call: f s = 3, n = -1
-- raises: 22011
-- behaviour: TRIM takes the character that it is told, from the ends that it is told
CREATE PROCEDURE p (IN t VARCHAR(20), OUT a VARCHAR(20), OUT b VARCHAR(20), OUT c VARCHAR(20), OUT d VARCHAR(20))
BEGIN
  SET a = '[' || TRIM(t) || ']';
  SET b = TRIM(LEADING 'x' FROM t);
  SET c = TRIM(TRAILING 'x' FROM t);
  SET d = TRIM(BOTH 'x' FROM t);
END;
-- call: p t = 'xxaxbx'
-- out: a = '[xxaxbx]', b = 'axbx', c = 'xxaxb', d = 'axb'
-- call: p t = '  a '
-- out: a = '[a]', b = '  a ', c = '  a ', d = '  a '
-- behaviour: LPAD and RPAD fill up and cut off
CREATE PROCEDURE p (IN t VARCHAR(10), IN n INTEGER, OUT a VARCHAR(20), OUT b VARCHAR(20))
BEGIN SET a = LPAD(t, n, '*-'); SET b = RPAD(t, n, '*-'); END;
-- call: p t = 'ab', n = 5
-- out: a = '*-*ab', b = 'ab*-*'
-- call: p t = 'abcdef', n = 3
-- out: a = 'abc', b = 'abc'
-- behaviour: OVERLAY replaces as many characters as it is told, or as the new ones are
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20), OUT c VARCHAR(20))
BEGIN
  SET a = OVERLAY('abcdef' PLACING 'XY' FROM 3);
  SET b = OVERLAY('abcdef' PLACING 'XY' FROM 3 FOR 0);
  SET c = OVERLAY('abcdef' PLACING '' FROM 2 FOR 3);
END;
-- call: p
-- out: a = 'abXYef', b = 'abXYcdef', c = 'aef'
-- behaviour: lengths are counted in characters and in octets of UTF-8
CREATE PROCEDURE p (IN t VARCHAR(10), OUT a INTEGER, OUT b INTEGER)
BEGIN SET a = CHAR_LENGTH(t); SET b = OCTET_LENGTH(t); END;
-- call: p t = 'früh'
-- out: a = 4, b = 5
-- call: p t = ''
-- out: a = 0, b = 0
-- behaviour: UPPER and LOWER of letters beyond ASCII
CREATE PROCEDURE p (IN t VARCHAR(10), OUT a VARCHAR(10), OUT b VARCHAR(10))
BEGIN SET a = UPPER(t); SET b = LOWER(t); END;
-- call: p t = 'Éclat'
-- out: a = 'ÉCLAT', b = 'éclat'
-- behaviour: REPLACE takes each occurrence, from left to right
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20))
BEGIN
  SET a = REPLACE('aaa', 'aa', 'b');
  SET b = REPLACE('a.b.c', '.', '');
END;
-- call: p
-- out: a = 'ba', b = 'abc'
-- behaviour: texts compare by code point
CREATE PROCEDURE p (IN a VARCHAR(10), IN b VARCHAR(10), OUT l BOOLEAN, OUT e BOOLEAN)
BEGIN SET l = a < b; SET e = a = b; END;
-- call: p a = 'Z', b = 'a'
-- out: l = TRUE, e = FALSE
-- call: p a = 'a', b = 'A'
-- out: l = FALSE, e = FALSE
-- call: p a = 'a', b = 'a '
-- out: l = TRUE, e = FALSE
-- call: p a = 'z', b = 'é'
-- out: l = TRUE, e = FALSE
-- behaviour: trailing blanks of CHAR do not count when it is compared
CREATE PROCEDURE p (IN a CHAR(5), IN b CHAR(8), OUT e BOOLEAN)
SET e = a = b;
-- call: p a = 'ab', b = 'ab'
-- out: e = TRUE
-- behaviour: ROUND and TRUNCATE take places before the point too
CREATE PROCEDURE p (IN x DECIMAL(9, 2), OUT a DECIMAL(9, 2), OUT b DECIMAL(9, 2), OUT c DECIMAL(9, 2))
BEGIN SET a = ROUND(x, -1); SET b = TRUNCATE(x, -1); SET c = ROUND(x); END;
-- call: p x = 155.55
-- out: a = 160.00, b = 150.00, c = 156.00
-- call: p x = -155.55
-- out: a = -160.00, b = -150.00, c = -156.00
-- behaviour: SIGN, ABS and MOD of decimals
CREATE PROCEDURE p (IN x DECIMAL(9, 2), OUT s INTEGER, OUT a DECIMAL(9, 2), OUT m DECIMAL(9, 2))
BEGIN SET s = SIGN(x); SET a = ABS(x); SET m = MOD(x, 1.5); END;
-- call: p x = -4.25
-- out: s = -1, a = 4.25, m = -1.25
-- call: p x = 0
-- out: s = 0, a = 0.00, m = 0.00
-- behaviour: POWER, EXP and LOG10
CREATE PROCEDURE p (OUT a DECIMAL(9, 3), OUT b DECIMAL(9, 3), OUT c DECIMAL(9, 3))
BEGIN
  SET a = CAST(POWER(2, 10) AS DECIMAL(9, 3));
  SET b = CAST(EXP(1) AS DECIMAL(9, 3));
  SET c = CAST(LOG10(1000) AS DECIMAL(9, 3));
END;
-- call: p
-- out: a = 1024.000, b = 2.718, c = 3.000
-- behaviour: FLOOR and CEILING of negative numbers
CREATE PROCEDURE p (IN x DECIMAL(9, 2), OUT a INTEGER, OUT b INTEGER)
BEGIN SET a = FLOOR(x); SET b = CEILING(x); END;
-- call: p x = -1.5
-- out: a = -2, b = -1
-- call: p x = 2
-- out: a = 2, b = 2
-- behaviour: EXTRACT of a timestamp's fields
CREATE PROCEDURE p (IN t TIMESTAMP, OUT y INTEGER, OUT mo INTEGER, OUT d INTEGER, OUT h INTEGER, OUT mi INTEGER, OUT s DECIMAL(8, 3))
BEGIN
  SET y = EXTRACT(YEAR FROM t); SET mo = EXTRACT(MONTH FROM t); SET d = EXTRACT(DAY FROM t);
  SET h = EXTRACT(HOUR FROM t); SET mi = EXTRACT(MINUTE FROM t); SET s = EXTRACT(SECOND FROM t);
END;
-- call: p t = '2031-10-04 09:08:07.250'
-- out: y = 2031, mo = 10, d = 4, h = 9, mi = 8, s = 7.250
-- behaviour: a month before the 31st is the last day of the month
CREATE PROCEDURE p (OUT a DATE, OUT b DATE, OUT c DATE)
BEGIN
  SET a = DATE '2032-03-31' - INTERVAL '1' MONTH;
  SET b = DATE '2032-02-29' - INTERVAL '1' YEAR;
  SET c = DATE '2031-12-31' + INTERVAL '2' MONTH;
END;
-- call: p
-- out: a = DATE '2032-02-29', b = DATE '2031-02-28', c = DATE '2032-02-29'
-- behaviour: the clock stands still within a statement
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b BOOLEAN)
BEGIN
  SET a = CURRENT_TIMESTAMP = CURRENT_TIMESTAMP;
  SET b = CAST(LOCALTIMESTAMP AS DATE) = CURRENT_DATE;
END;
-- call: p
-- out: a = TRUE, b = TRUE
-- behaviour: an exact number keeps its scale in a text
CREATE PROCEDURE p (IN a DECIMAL(6, 2), OUT r VARCHAR(60))
SET r = a || ' ' || a * 2 || ' ' || a * a || ' ' || (a + 0.125);
-- call: p a = 1.5
-- out: r = '1.50 3.00 2.2500 1.625'
-- behaviour: precedence of the operators
CREATE PROCEDURE p (OUT a INTEGER, OUT b BOOLEAN, OUT c INTEGER)
BEGIN
  SET a = 2 + 3 * 4 - 10 / 5;
  SET b = TRUE OR FALSE AND FALSE;
  SET c = -2 * -3;
END;
-- call: p
-- out: a = 12, b = TRUE, c = 6
-- behaviour: NOT binds less than comparison and more than AND
CREATE FUNCTION f (a INTEGER) RETURNS BOOLEAN RETURN NOT a = 1 AND NOT a = 2;
-- call: f a = 1
-- returns: FALSE
-- call: f a = 3
-- returns: TRUE
-- behaviour: a function that only the database knows is asked there
CREATE FUNCTION f (t VARCHAR(10)) RETURNS VARCHAR(20) RETURN CONCAT(t, '-', t) || REPEAT(t, 2);
-- call: f t = 'abc'
-- returns: 'abc-abcabcabc'
-- behaviour: the largest decimals are added, taken away and multiplied exactly
CREATE PROCEDURE p (OUT a DECIMAL(38, 0), OUT b DECIMAL(38, 18))
BEGIN
  SET a = 99999999999999999999999999999999999999 - 1;
  SET b = 12345678901234567890.123456789012345678 + 0.000000000000000001;
END;
-- call: p
-- out: a = 99999999999999999999999999999999999998, b = 12345678901234567890.123456789012345679
-- behaviour: one more than the largest decimal of its precision is 22003
CREATE PROCEDURE p (INOUT a DECIMAL(5, 2)) SET a = a + 0.01;
-- call: p a = 999.98
-- out: a = 999.99
-- call: p a = 999.99
-- raises: 22003
-- behaviour: what is worked out for a place or a length
CREATE FUNCTION f (t VARCHAR(20)) RETURNS VARCHAR(40)
  RETURN SUBSTRING(t FROM 1 FOR CHAR_LENGTH(t) / 2) || '|' || SUBSTRING(t FROM CHAR_LENGTH(t) - 1)
    || '|' || SUBSTRING(t FROM CHAR_LENGTH(t) / 2 + 1 FOR CHAR_LENGTH(t) - CHAR_LENGTH(t) / 2) || '|' || LPAD(t, CHAR_LENGTH(t) + 2, '*');
-- call: f t = 'abcdef'
-- returns: 'abc|ef|def|**abcdef'
