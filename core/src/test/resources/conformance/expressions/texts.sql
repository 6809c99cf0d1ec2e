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
