-- behaviour: a function may give a table
CREATE FUNCTION cheap (most DECIMAL(8, 2)) RETURNS TABLE (name VARCHAR(20), price DECIMAL(8, 2))
RETURN TABLE (SELECT i.name, i.price FROM item i WHERE i.price <= most ORDER BY i.price);
-- call: cheap most=0.25
-- rows: ['label', 0.10] ['cork', 0.25]
-- behaviour: the rows of a function stand in FROM
CREATE FUNCTION cheap (most DECIMAL(8, 2)) RETURNS TABLE (what VARCHAR(20), cost DECIMAL(8, 2))
RETURN TABLE (SELECT name, price FROM item WHERE price <= most);
CREATE PROCEDURE p (OUT n INTEGER, OUT dear VARCHAR(20))
BEGIN
  SELECT COUNT(*) INTO n FROM TABLE (cheap(0.25)) AS t;
  SELECT t.what INTO dear FROM TABLE (cheap(9)) AS t ORDER BY t.cost DESC FETCH FIRST ROW ONLY;
END;
-- call: p
-- out: n = 2, dear = 'bottle'
-- behaviour: a function's rows take variables, and join with tables
CREATE FUNCTION from_to (low INTEGER, high INTEGER) RETURNS TABLE (n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE numbers (n INTEGER);
  DECLARE i INTEGER DEFAULT low;
  WHILE i <= high DO
    INSERT INTO numbers VALUES (i);
    SET i = i + 1;
  END WHILE;
  RETURN TABLE (SELECT n FROM numbers);
END;
CREATE PROCEDURE p (IN most INTEGER, OUT names VARCHAR(60))
BEGIN
  SET names = '';
  FOR r AS SELECT item.name FROM TABLE (from_to(1, most)) AS x JOIN item ON item.id = x.n ORDER BY x.n DO
    SET names = names || r.name || ' ';
  END FOR;
END;
-- call: p most=2
-- out: names = 'cork label '
-- behaviour: each value is stored into its column's type
CREATE FUNCTION f () RETURNS TABLE (n SMALLINT)
RETURN TABLE (SELECT 100000 FROM item);
-- call: f
-- raises: 22003
-- behaviour: a function that gives rows is no value
CREATE FUNCTION f () RETURNS TABLE (n INTEGER) RETURN TABLE (SELECT 1 FROM item);
CREATE PROCEDURE p (OUT n INTEGER) SET n = f();
-- problem: wrong-type
-- behaviour: RETURN with a value does not fit a function that gives rows
CREATE FUNCTION f () RETURNS TABLE (n INTEGER) RETURN 1;
-- problem: wrong-return
-- behaviour: RETURN TABLE does not fit a function that gives a value
CREATE FUNCTION f () RETURNS INTEGER RETURN TABLE (SELECT 1 FROM item);
-- problem: wrong-return
-- behaviour: the number of columns must be right
CREATE FUNCTION f () RETURNS TABLE (a INTEGER, b INTEGER) RETURN TABLE (SELECT id FROM item);
-- problem: wrong-return
-- behaviour: what a function that gives rows raises comes out of the query
CREATE FUNCTION f (n INTEGER) RETURNS TABLE (a INTEGER)
BEGIN
  IF n > 1 THEN SIGNAL SQLSTATE '45077' SET MESSAGE_TEXT = 'too many'; END IF;
  RETURN TABLE (SELECT id FROM item);
END;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45077' GET DIAGNOSTICS CONDITION 1 r = MESSAGE_TEXT;
  SELECT COUNT(*) INTO r FROM TABLE (f(2)) AS t;
END;
-- call: p
-- out: r = 'too many'
-- behaviour: inside SQL too the overload is chosen by type
CREATE FUNCTION kind (v INTEGER) RETURNS VARCHAR(20) RETURN 'number';
CREATE FUNCTION kind (v VARCHAR(20)) RETURNS VARCHAR(20) RETURN 'text';
CREATE FUNCTION kind (v DATE) RETURNS VARCHAR(20) RETURN 'day';
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20), OUT c VARCHAR(20))
SELECT kind(i.qty), kind(i.name), kind(DATE '2024-01-01') INTO a, b, c FROM item i WHERE i.id = 1;
-- call: p
-- out: a = 'number', b = 'text', c = 'day'
-- behaviour: inside SQL too a parameter with a default may be left out
CREATE FUNCTION scaled (v INTEGER, factor INTEGER DEFAULT 3) RETURNS INTEGER RETURN v * factor;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
SELECT scaled(i.qty), scaled(i.qty, 2) INTO a, b FROM item i WHERE i.id = 1;
-- call: p
-- out: a = 30, b = 20
-- behaviour: inside SQL a call may leave out all its arguments, and stand in another that leaves out its own
CREATE FUNCTION scaled (v INTEGER DEFAULT 5, factor INTEGER DEFAULT 3) RETURNS INTEGER RETURN v * factor;
CREATE PROCEDURE p (IN k INTEGER, OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER)
SELECT scaled(), scaled(k), scaled(scaled(k)), scaled(factor => scaled(1)) INTO a, b, c, d
  FROM item i WHERE i.id = 1 AND scaled(k) + scaled( ) > 0;
-- call: p k = 2
-- out: a = 15, b = 6, c = 18, d = 15
