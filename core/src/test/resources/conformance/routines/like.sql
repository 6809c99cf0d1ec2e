-- behaviour: a function that returns a row of a table is called in an assignment
CREATE FUNCTION best () RETURNS LIKE tag READS SQL DATA
BEGIN
  DECLARE r LIKE tag;
  SELECT * INTO r FROM tag WHERE code = 'cc';
  RETURN r;
END;
CREATE PROCEDURE p (OUT c VARCHAR(5), OUT n INTEGER)
BEGIN
  DECLARE r LIKE tag;
  SET r = best();
  SET c = r.code, n = r.price;
END;
-- call: p
-- out: c = 'cc', n = 3
-- behaviour: a function that returns LIKE a column is called by SQL
CREATE FUNCTION dear (c LIKE tag.code) RETURNS LIKE tag.price READS SQL DATA
BEGIN
  DECLARE v LIKE tag.price;
  SELECT price INTO v FROM tag WHERE code = c;
  RETURN v + 1;
END;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SELECT SUM(dear(code)) INTO n FROM tag;
END;
-- call: p
-- out: n = 6
-- behaviour: a function that gives a row, none and a row of NULL
CREATE FUNCTION best (c VARCHAR(5)) RETURNS LIKE tag READS SQL DATA
BEGIN
  DECLARE r LIKE tag;
  IF c = 'zz' THEN RETURN NULL; END IF;
  SELECT * INTO r FROM tag WHERE code = c;
  RETURN r;
END;
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b BOOLEAN, OUT d BOOLEAN)
BEGIN
  DECLARE r LIKE tag;
  SET r = best('zz');
  SET a = r IS NULL;
  SET r = best('bb');
  SET b = r IS NOT NULL, d = r IS NULL;
END;
-- call: p
-- out: a = TRUE, b = FALSE, d = FALSE
