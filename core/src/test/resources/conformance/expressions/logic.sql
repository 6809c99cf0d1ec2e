-- behaviour: AND, OR and NOT over true, false and unknown
CREATE PROCEDURE p (IN a BOOLEAN, IN b BOOLEAN, OUT c BOOLEAN, OUT d BOOLEAN, OUT n BOOLEAN)
BEGIN
  SET c = a AND b; SET d = a OR b; SET n = NOT a;
END;
-- call: p a = TRUE, b = null
-- out: c = NULL, d = TRUE, n = FALSE
-- call: p a = FALSE, b = null
-- out: c = FALSE, d = NULL, n = TRUE
-- call: p a = null, b = null
-- out: c = NULL, d = NULL, n = NULL
-- call: p a = null, b = FALSE
-- out: c = FALSE, d = NULL, n = NULL
-- call: p a = null, b = TRUE
-- out: c = NULL, d = TRUE, n = NULL
-- behaviour: IS TRUE, FALSE and UNKNOWN are never unknown
CREATE PROCEDURE p (IN a BOOLEAN, OUT t BOOLEAN, OUT f BOOLEAN, OUT u BOOLEAN, OUT nt BOOLEAN)
BEGIN
  SET t = a IS TRUE; SET f = a IS FALSE; SET u = a IS UNKNOWN; SET nt = a IS NOT TRUE;
END;
-- call: p a = TRUE
-- out: t = TRUE, f = FALSE, u = FALSE, nt = FALSE
-- call: p a = null
-- out: t = FALSE, f = FALSE, u = TRUE, nt = TRUE
-- behaviour: NOT of an unknown comparison is not true
CREATE PROCEDURE p (IN x INTEGER, OUT r VARCHAR(10))
  IF NOT (x = 1) THEN SET r = 'yes'; ELSE SET r = 'no'; END IF;
-- call: p x = 2
-- out: r = 'yes'
-- call: p x = null
-- out: r = 'no'
-- behaviour: NOT (a AND b) with an unknown side
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT r VARCHAR(10))
  IF NOT (a = 1 AND b = 1) THEN SET r = 'yes'; ELSE SET r = 'no'; END IF;
-- call: p a = 1, b = null
-- out: r = 'no'
-- call: p a = 2, b = null
-- out: r = 'yes'
-- call: p a = null, b = 2
-- out: r = 'yes'
-- behaviour: NOT (a OR b) with an unknown side
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT r VARCHAR(10))
  IF NOT (a = 1 OR b = 1) THEN SET r = 'yes'; ELSE SET r = 'no'; END IF;
-- call: p a = 2, b = null
-- out: r = 'no'
-- call: p a = 2, b = 2
-- out: r = 'yes'
-- call: p a = null, b = 1
-- out: r = 'no'
-- behaviour: IS DISTINCT FROM takes NULL as a value
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT d BOOLEAN, OUT n BOOLEAN)
BEGIN
  SET d = a IS DISTINCT FROM b; SET n = a IS NOT DISTINCT FROM b;
END;
-- call: p a = 1, b = 1
-- out: d = FALSE, n = TRUE
-- call: p a = 1, b = null
-- out: d = TRUE, n = FALSE
-- call: p a = null, b = null
-- out: d = FALSE, n = TRUE
-- behaviour: IN with a NULL among the values
CREATE FUNCTION f (x INTEGER) RETURNS BOOLEAN RETURN x IN (1, NULL, 3);
CREATE FUNCTION g (x INTEGER) RETURNS BOOLEAN RETURN x NOT IN (1, NULL, 3);
-- call: f x = 1
-- returns: TRUE
-- call: f x = 2
-- returns: NULL
-- call: g x = 1
-- returns: FALSE
-- call: g x = 2
-- returns: NULL
-- behaviour: BETWEEN, and BETWEEN SYMMETRIC
CREATE PROCEDURE p (IN x INTEGER, IN a INTEGER, IN b INTEGER, OUT c BOOLEAN, OUT d BOOLEAN)
BEGIN
  SET c = x BETWEEN a AND b; SET d = x BETWEEN SYMMETRIC a AND b;
END;
-- call: p x = 2, a = 1, b = 3
-- out: c = TRUE, d = TRUE
-- call: p x = 2, a = 3, b = 1
-- out: c = FALSE, d = TRUE
-- call: p x = 2, a = 3, b = null
-- out: c = FALSE, d = NULL
-- behaviour: COALESCE and NULLIF
CREATE PROCEDURE p (IN x INTEGER, OUT a INTEGER, OUT b INTEGER)
BEGIN
  SET a = COALESCE(x, NULL, 7); SET b = NULLIF(x, 5);
END;
-- call: p x = 5
-- out: a = 5, b = NULL
-- call: p x = null
-- out: a = 7, b = NULL
-- behaviour: a CASE expression without ELSE is NULL where nothing fits
CREATE FUNCTION f (x INTEGER) RETURNS VARCHAR(5) RETURN CASE x WHEN 1 THEN 'one' WHEN 2 THEN 'two' END;
-- call: f x = 2
-- returns: 'two'
-- call: f x = 3
-- returns: NULL
-- behaviour: the right side of AND is not worked out where the left one is false
CREATE FUNCTION f (x INTEGER) RETURNS VARCHAR(5)
  RETURN CASE WHEN x <> 0 AND 10 / x > 1 THEN 'yes' ELSE 'no' END;
-- call: f x = 0
-- returns: 'no'
-- call: f x = 2
-- returns: 'yes'
-- behaviour: rows of the database in a condition
CREATE PROCEDURE p (IN x INTEGER, OUT a BOOLEAN, OUT b BOOLEAN, OUT c BOOLEAN)
BEGIN
  SET a = EXISTS (SELECT 1 FROM item WHERE id = x);
  SET b = x IN (SELECT id FROM item);
  SET c = x >= ALL (SELECT id FROM item);
END;
-- call: p x = 3
-- out: a = TRUE, b = TRUE, c = TRUE
-- call: p x = 9
-- out: a = FALSE, b = FALSE, c = TRUE
-- behaviour: what a query compares is true, false or unknown, not a number
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b BOOLEAN, OUT c BOOLEAN, OUT d BOOLEAN, OUT e BOOLEAN, OUT n INTEGER)
BEGIN
  SELECT i.qty > 5, i.name IS NULL AS unnamed, (i.qty = NULL), CASE WHEN i.qty > 50 THEN TRUE ELSE i.id = 1 END, 7
    INTO a, b, c, d, n FROM item i WHERE i.id = 1;
  SET e = (SELECT NOT COALESCE(i.qty > 5, FALSE) FROM item i WHERE i.id = 1);
  FOR v AS SELECT i.qty BETWEEN 1 AND 15 AS few, i.id FROM item i DO
    IF v.few THEN
      SET n = n + 1;
    END IF;
  END FOR;
END;
-- call: p
-- out: a = TRUE, b = FALSE, c = NULL, d = TRUE, e = FALSE, n = 8
