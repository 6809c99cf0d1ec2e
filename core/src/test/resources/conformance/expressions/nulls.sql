-- behaviour: the truth table of AND, OR and NOT
CREATE PROCEDURE p (IN a BOOLEAN, IN b BOOLEAN, OUT x BOOLEAN, OUT y BOOLEAN, OUT z BOOLEAN)
BEGIN SET x = a AND b; SET y = a OR b; SET z = NOT a; END;
-- call: p a = true, b = true
-- out: x = TRUE, y = TRUE, z = FALSE
-- call: p a = true, b = false
-- out: x = FALSE, y = TRUE, z = FALSE
-- call: p a = true, b = null
-- out: x = NULL, y = TRUE, z = FALSE
-- call: p a = false, b = false
-- out: x = FALSE, y = FALSE, z = TRUE
-- call: p a = false, b = null
-- out: x = FALSE, y = NULL, z = TRUE
-- call: p a = null, b = null
-- out: x = NULL, y = NULL, z = NULL
-- behaviour: IS TRUE, IS FALSE and IS UNKNOWN, and their contraries, are never unknown
CREATE PROCEDURE p (IN a BOOLEAN, OUT r VARCHAR(40))
SET r = CASE WHEN a IS TRUE THEN 't' ELSE '-' END || CASE WHEN a IS FALSE THEN 'f' ELSE '-' END
     || CASE WHEN a IS UNKNOWN THEN 'u' ELSE '-' END || CASE WHEN a IS NOT TRUE THEN 't' ELSE '-' END
     || CASE WHEN a IS NOT FALSE THEN 'f' ELSE '-' END || CASE WHEN a IS NOT UNKNOWN THEN 'u' ELSE '-' END;
-- call: p a = true
-- out: r = 't---fu'
-- call: p a = false
-- out: r = '-f-t-u'
-- call: p a = null
-- out: r = '--utf-'
-- behaviour: IN a list with NULL is true, or unknown, never false
CREATE PROCEDURE p (IN a INTEGER, OUT i BOOLEAN, OUT n BOOLEAN)
BEGIN SET i = a IN (1, NULL, 3); SET n = a NOT IN (1, NULL, 3); END;
-- call: p a = 3
-- out: i = TRUE, n = FALSE
-- call: p a = 2
-- out: i = NULL, n = NULL
-- call: p a = null
-- out: i = NULL, n = NULL
-- behaviour: BETWEEN with one NULL end is false where the other end decides
CREATE PROCEDURE p (IN a INTEGER, IN l INTEGER, IN h INTEGER, OUT b BOOLEAN, OUT n BOOLEAN)
BEGIN SET b = a BETWEEN l AND h; SET n = a NOT BETWEEN l AND h; END;
-- call: p a = 5, l = null, h = 3
-- out: b = FALSE, n = TRUE
-- call: p a = 5, l = null, h = 9
-- out: b = NULL, n = NULL
-- call: p a = 5, l = 9, h = 1
-- out: b = FALSE, n = TRUE
-- behaviour: IS DISTINCT FROM knows NULL
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT d BOOLEAN, OUT n BOOLEAN)
BEGIN SET d = a IS DISTINCT FROM b; SET n = a IS NOT DISTINCT FROM b; END;
-- call: p a = 1, b = 1
-- out: d = FALSE, n = TRUE
-- call: p a = 1, b = null
-- out: d = TRUE, n = FALSE
-- call: p a = null, b = null
-- out: d = FALSE, n = TRUE
-- behaviour: a simple CASE with a NULL operand takes ELSE, also where a WHEN is NULL
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(10)
RETURN CASE a WHEN 1 THEN 'one' WHEN NULL THEN 'null' ELSE 'else' END;
-- call: f a = 1
-- returns: 'one'
-- call: f a = null
-- returns: 'else'
-- behaviour: a CASE expression without ELSE is NULL where nothing fits
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(10)
RETURN COALESCE(CASE WHEN a > 5 THEN 'big' END, 'none');
-- call: f a = 6
-- returns: 'big'
-- call: f a = null
-- returns: 'none'
-- behaviour: NULLIF and COALESCE
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT x INTEGER, OUT y INTEGER)
BEGIN SET x = NULLIF(a, b); SET y = COALESCE(a, b, 9); END;
-- call: p a = 1, b = 1
-- out: x = NULL, y = 1
-- call: p a = null, b = 1
-- out: x = NULL, y = 1
-- call: p a = 1, b = null
-- out: x = 1, y = 1
-- call: p a = null, b = null
-- out: x = NULL, y = 9
-- behaviour: a WHILE whose test becomes unknown ends
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET n = 0;
  WHILE i < 10 DO
    SET n = n + 1;
    SET i = CASE WHEN n = 3 THEN NULL ELSE i + 1 END;
  END WHILE;
END;
-- call: p
-- out: n = 3
-- behaviour: UNTIL goes on while its test is unknown
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE stop BOOLEAN;
  SET n = 0;
  REPEAT
    SET n = n + 1;
    IF n = 4 THEN SET stop = TRUE; END IF;
  UNTIL stop END REPEAT;
END;
-- call: p
-- out: n = 4
-- behaviour: comparison of rows with NULL
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT e BOOLEAN, OUT l BOOLEAN)
BEGIN SET e = (a, b) = (1, 2); SET l = (a, b) < (1, 2); END;
-- call: p a = 1, b = null
-- out: e = NULL, l = NULL
-- call: p a = 0, b = null
-- out: e = FALSE, l = TRUE
-- call: p a = 2, b = null
-- out: e = FALSE, l = FALSE
-- call: p a = 1, b = 1
-- out: e = FALSE, l = TRUE
-- behaviour: IS NULL of a row asks each of its values
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT x BOOLEAN, OUT y BOOLEAN)
BEGIN SET x = (a, b) IS NULL; SET y = (a, b) IS NOT NULL; END;
-- call: p a = null, b = null
-- out: x = TRUE, y = FALSE
-- call: p a = 1, b = null
-- out: x = FALSE, y = FALSE
-- call: p a = 1, b = 2
-- out: x = FALSE, y = TRUE
-- behaviour: quantified comparison with no row, and with NULL among the rows
CREATE PROCEDURE p (IN a INTEGER, OUT x BOOLEAN, OUT y BOOLEAN, OUT z BOOLEAN)
BEGIN
  SET x = a > ALL (SELECT qty FROM item WHERE id = 99);
  SET y = a = ANY (SELECT qty FROM item);
  SET z = a NOT IN (SELECT qty FROM item);
END;
-- call: p a = 20
-- out: x = TRUE, y = TRUE, z = FALSE
-- call: p a = 5
-- out: x = TRUE, y = NULL, z = NULL
-- behaviour: a scalar subquery with no row is NULL, with two rows 21000
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN (SELECT qty FROM item WHERE id >= a);
-- call: f a = 99
-- returns: NULL
-- call: f a = 1
-- raises: 21000
-- behaviour: EXISTS is never unknown
CREATE FUNCTION f (a INTEGER) RETURNS BOOLEAN RETURN EXISTS (SELECT NULL FROM item WHERE id = a);
-- call: f a = 1
-- returns: TRUE
-- call: f a = null
-- returns: FALSE
-- behaviour: concatenation with NULL is NULL, with an empty text it is not
CREATE PROCEDURE p (IN a VARCHAR(5), OUT x VARCHAR(10), OUT y BOOLEAN)
BEGIN SET x = 'a' || a || 'b'; SET y = a = ''; END;
-- call: p a = null
-- out: x = NULL, y = NULL
-- call: p a = ''
-- out: x = 'ab', y = TRUE
-- behaviour: every function of texts is NULL where an argument is
CREATE FUNCTION f (t VARCHAR(10), n INTEGER) RETURNS VARCHAR(40)
RETURN COALESCE(SUBSTRING(t FROM n), '-') || COALESCE(UPPER(t), '-') || COALESCE(TRIM(t), '-')
    || COALESCE(CAST(POSITION('a' IN t) AS VARCHAR(5)), '-') || COALESCE(REPLACE(t, 'a', 'b'), '-')
    || COALESCE(LPAD(t, n, '.'), '-') || COALESCE(OVERLAY(t PLACING 'x' FROM 1), '-');
-- call: f t = null, n = 1
-- returns: '-------'
-- call: f t = 'ab', n = null
-- returns: '-ABab1bb-xb'
-- behaviour: IF takes unknown as not true, in ELSEIF too
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(10)
BEGIN
  IF a > 1 THEN RETURN 'more';
  ELSEIF NOT (a > 1) THEN RETURN 'less';
  ELSE RETURN 'unknown';
  END IF;
END;
-- call: f a = 2
-- returns: 'more'
-- call: f a = 1
-- returns: 'less'
-- call: f a = null
-- returns: 'unknown'
-- behaviour: LIKE with NULL is unknown, and its pattern counts each character
CREATE PROCEDURE p (IN t VARCHAR(20), IN pattern VARCHAR(20), OUT l BOOLEAN)
SET l = t LIKE pattern ESCAPE '!';
-- call: p t = null, pattern = '%'
-- out: l = NULL
-- call: p t = 'a%b', pattern = 'a!%b'
-- out: l = TRUE
-- call: p t = 'axb', pattern = 'a!%b'
-- out: l = FALSE
-- call: p t = 'abc', pattern = 'a__'
-- out: l = TRUE
-- call: p t = 'abcd', pattern = 'a__'
-- out: l = FALSE
-- call: p t = '', pattern = '%'
-- out: l = TRUE
-- call: p t = 'a', pattern = 'a!'
-- raises: 22025
-- behaviour: beside a NULL the other operand is worked out all the same, and may raise
CREATE FUNCTION loud (x INTEGER) RETURNS INTEGER
BEGIN
  IF x = 0 THEN SIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = 'loud'; END IF;
  RETURN x;
END;
CREATE PROCEDURE p (IN what INTEGER, IN a INTEGER, IN x INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE n INTEGER;
  DECLARE b BOOLEAN;
  CASE what
    WHEN 1 THEN SET n = a + loud(x);
    ELSE SET b = a = loud(x) OR TRUE;
  END CASE;
  SET r = 'went well';
END;
-- call: p what = 1, a = null, x = 0
-- raises: 45009
-- call: p what = 1, a = null, x = 1
-- out: r = 'went well'
-- call: p what = 4, a = 1, x = 2
-- out: r = 'went well'
