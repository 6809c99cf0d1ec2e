-- behaviour: NOT binds less than a comparison, and more than AND
CREATE PROCEDURE p (IN a INTEGER, OUT v BOOLEAN, OUT w BOOLEAN, OUT n INTEGER)
BEGIN
  SET v = NOT a = 1 AND a > 0;
  SET w = NOT (a = 1 AND a > 0);
  SELECT COUNT(*) INTO n FROM item WHERE NOT id = p.a AND id > 1 OR NOT id > 1;
END;
-- call: p a = 1
-- out: v = FALSE, w = FALSE, n = 3
-- call: p a = 2
-- out: v = TRUE, w = TRUE, n = 2
-- call: p a = NULL
-- out: v = NULL, w = NULL, n = 1
-- behaviour: a minus before a product, and two of them
CREATE PROCEDURE p (IN a INTEGER, OUT v INTEGER, OUT w INTEGER, OUT x INTEGER)
BEGIN
  SET v = -a * 2 - -3;
  SET w = - (-a) + 7 / -2;
  SELECT -price * -2 - - a INTO x FROM tag WHERE code = 'cc';
END;
-- call: p a = 4
-- out: v = -5, w = 1, x = 10
-- behaviour: quotients of whole numbers are cut towards zero, in statements too
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT v INTEGER, OUT w INTEGER, OUT x INTEGER, OUT y INTEGER)
BEGIN
  SET v = a / b, w = MOD(a, b);
  SELECT (price * a) / b, MOD(price * a, b) INTO x, y FROM tag WHERE code = 'aa';
END;
-- call: p a = 7, b = 2
-- out: v = 3, w = 1, x = 3, y = 1
-- call: p a = -7, b = 2
-- out: v = -3, w = -1, x = -3, y = -1
-- call: p a = 7, b = -2
-- out: v = -3, w = 1, x = -3, y = 1
-- behaviour: a decimal goes into whole numbers and shorter decimals
CREATE PROCEDURE p (IN d DECIMAL(8, 3), OUT v DECIMAL(8, 2), OUT w DECIMAL(8, 1), OUT x DECIMAL(8, 2))
BEGIN
  SET v = d * 2;
  SET w = d + 0.04;
  SELECT price * 3 + 0.005 INTO x FROM item WHERE id = 1;
END;
-- call: p d = 1.250
-- out: v = 2.50, w = 1.3, x = 0.76
-- behaviour: an empty text is not NULL
CREATE PROCEDURE p (IN t VARCHAR(9), OUT v BOOLEAN, OUT w INTEGER, OUT x VARCHAR(9), OUT n INTEGER)
BEGIN
  SET v = t IS NULL;
  SET w = CHAR_LENGTH(t || '');
  SET x = COALESCE(NULLIF(t, ''), 'none');
  INSERT INTO log (line) VALUES (t);
  SELECT COUNT(*) INTO n FROM log WHERE line = '';
END;
-- call: p t = ''
-- out: v = FALSE, w = 0, x = 'none', n = 1
-- call: p t = NULL
-- out: v = TRUE, w = NULL, x = 'none', n = 1
-- data: SELECT COUNT(*) FROM log : [2]
-- behaviour: LIKE with escape, wildcards and texts that hold them
CREATE PROCEDURE p (IN t VARCHAR(20), OUT v BOOLEAN, OUT w BOOLEAN, OUT x BOOLEAN, OUT n INTEGER)
BEGIN
  SET v = t LIKE '50!%%' ESCAPE '!';
  SET w = t LIKE '5_\%';
  SET x = t NOT LIKE '%!_%' ESCAPE '!';
  INSERT INTO log (line) VALUES (t);
  SELECT COUNT(*) INTO n FROM log WHERE line LIKE '50!%%' ESCAPE '!' AND line NOT LIKE '%\_%';
END;
-- call: p t = '50% off'
-- out: v = TRUE, w = FALSE, x = TRUE, n = 1
-- call: p t = '50\% o_'
-- out: v = FALSE, w = TRUE, x = FALSE, n = 1
-- data: SELECT COUNT(*) FROM log : [2]
-- behaviour: IN with a NULL among its values
CREATE PROCEDURE p (IN a INTEGER, OUT v BOOLEAN, OUT w BOOLEAN, OUT n INTEGER, OUT m INTEGER)
BEGIN
  SET v = a IN (1, NULL, 3);
  SET w = a NOT IN (1, NULL, 3);
  SELECT COUNT(*) INTO n FROM item WHERE id NOT IN (SELECT price FROM tag);
  SELECT COUNT(*) INTO m FROM item WHERE id IN (SELECT price FROM tag);
END;
-- call: p a = 1
-- out: v = TRUE, w = FALSE, n = 0, m = 2
-- call: p a = 2
-- out: v = NULL, w = NULL, n = 0, m = 2
-- behaviour: aggregates of nothing, and of NULL alone
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER)
BEGIN
  SELECT COUNT(*), SUM(price), MAX(price) INTO a, b, c FROM tag WHERE code = 'zz';
  SELECT COUNT(price) INTO d FROM tag WHERE price IS NULL;
END;
-- call: p
-- out: a = 0, b = NULL, c = NULL, d = 0
-- behaviour: CASE without a branch that fits is NULL, and its branches have one type
CREATE PROCEDURE p (IN a INTEGER, OUT v VARCHAR(9), OUT w DECIMAL(6, 2), OUT x VARCHAR(9))
BEGIN
  SET v = CASE a WHEN 1 THEN 'one' WHEN 2 THEN 'two' END;
  SET w = CASE WHEN a = 1 THEN 1 WHEN a = 2 THEN 2.5 END;
  SELECT CASE WHEN price > a THEN 'more' WHEN price = a THEN 'same' END INTO x FROM tag WHERE code = 'cc';
END;
-- call: p a = 2
-- out: v = 'two', w = 2.50, x = 'more'
-- call: p a = 5
-- out: v = NULL, w = NULL, x = NULL
-- behaviour: BETWEEN with its ends the wrong way round, and NOT BETWEEN of NULL
CREATE PROCEDURE p (IN a INTEGER, OUT v BOOLEAN, OUT w BOOLEAN, OUT n INTEGER)
BEGIN
  SET v = a BETWEEN 3 AND 1;
  SET w = a NOT BETWEEN 1 AND NULL;
  SELECT COUNT(*) INTO n FROM item WHERE id BETWEEN p.a - 1 AND p.a + 0 AND name > 'a';
END;
-- call: p a = 2
-- out: v = FALSE, w = NULL, n = 2
-- call: p a = 0
-- out: v = FALSE, w = TRUE, n = 0
-- behaviour: dates are counted and compared
CREATE PROCEDURE p (IN d DATE, OUT a DATE, OUT b INTEGER, OUT c BOOLEAN, OUT e DATE)
BEGIN
  SET a = d + INTERVAL '1' MONTH;
  SET b = EXTRACT(DAY FROM d) * 100 + EXTRACT(MONTH FROM d);
  SET c = d < DATE '2024-03-01';
  SET e = d - INTERVAL '1' DAY;
END;
-- call: p d = 2024-01-31
-- out: a = DATE '2024-02-29', b = 3101, c = TRUE, e = DATE '2024-01-30'
-- call: p d = 2024-03-01
-- out: a = DATE '2024-04-01', b = 103, c = FALSE, e = DATE '2024-02-29'
-- behaviour: SUBSTRING and POSITION at the ends
CREATE PROCEDURE p (IN t VARCHAR(9), IN a INTEGER, IN n INTEGER, OUT v VARCHAR(9), OUT w INTEGER, OUT x VARCHAR(9))
BEGIN
  SET v = SUBSTRING(t FROM a FOR n);
  SET w = POSITION('' IN t) * 10 + POSITION('c' IN t);
  SET x = SUBSTRING(t FROM a);
END;
-- call: p t = 'abc', a = 2, n = 9
-- out: v = 'bc', w = 13, x = 'bc'
-- call: p t = 'abc', a = 0, n = 2
-- out: v = 'a', w = 13, x = 'abc'
-- call: p t = 'abc', a = 9, n = 1
-- out: v = '', w = 13, x = ''
-- behaviour: a negative length of SUBSTRING is 22011
CREATE PROCEDURE p (IN n INTEGER, OUT v VARCHAR(9)) SET v = SUBSTRING('abc' FROM 2 FOR n);
-- call: p n = -1
-- raises: 22011
-- behaviour: comparisons of texts do not look at case, and do at letters beyond A to Z
CREATE PROCEDURE p (OUT v BOOLEAN, OUT w BOOLEAN, OUT x BOOLEAN, OUT n INTEGER)
BEGIN
  SET v = 'A' = 'a';
  SET w = 'B' < 'a';
  SET x = 'é' = 'e';
  SELECT COUNT(*) INTO n FROM item WHERE name = 'Cork' OR name = 'CORK';
END;
-- call: p
-- out: v = FALSE, w = TRUE, x = FALSE, n = 0
-- behaviour: a CHAR is padded, and compared without its blanks
CREATE PROCEDURE p (OUT v INTEGER, OUT w BOOLEAN, OUT x VARCHAR(20), OUT n INTEGER)
BEGIN
  DECLARE c CHAR(5) DEFAULT 'ab';
  SET v = CHAR_LENGTH(c);
  SET w = c = 'ab';
  SET x = '[' || c || ']';
  SELECT COUNT(*) INTO n FROM pad WHERE c = 'ab';
END;
-- call: p
-- out: v = 5, w = TRUE, x = '[ab   ]', n = 1
