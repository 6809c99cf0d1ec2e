-- behaviour: the key that an INSERT made
CREATE PROCEDURE p (OUT v INTEGER, OUT w INTEGER)
BEGIN
  SELECT n INTO v FROM FINAL TABLE (INSERT INTO log (line) VALUES ('one'));
  SELECT n INTO w FROM FINAL TABLE (INSERT INTO log (line) VALUES ('two'));
  SET w = w - v;
END;
-- call: p
-- out: v = 1, w = 1
-- data: SELECT line FROM log ORDER BY n : ['one'] ['two']
-- behaviour: the key of a row whose values come from variables, and are cut by a trigger
CREATE TRIGGER cut BEFORE INSERT ON log FOR EACH ROW SET NEW.line = UPPER(NEW.line);
CREATE PROCEDURE p (IN t VARCHAR(20), OUT v INTEGER, OUT l VARCHAR(20))
BEGIN
  SELECT n, line
    INTO v, l
    FROM final  table ( INSERT INTO log (line)
                        VALUES (t || '!') ) ;
END;
-- call: p t = 'abc'
-- out: v = 1, l = 'ABC!'
-- data: SELECT * FROM log ORDER BY 1 : [1, 'ABC!']
-- behaviour: NEW TABLE and an alias
CREATE PROCEDURE p (OUT l VARCHAR(20))
BEGIN
  SELECT x.line INTO l FROM NEW TABLE (INSERT INTO log (line) VALUES ('one')) AS x;
END;
-- call: p
-- out: l = 'one'
-- data: SELECT * FROM log ORDER BY 1 : [1, 'one']
-- behaviour: the rows that an UPDATE leaves
CREATE PROCEDURE p (OUT v INTEGER, OUT n INTEGER)
BEGIN
  SELECT SUM(price), COUNT(*) INTO v, n FROM FINAL TABLE (UPDATE tag SET price = price + 1 WHERE price IS NOT NULL);
END;
-- call: p
-- out: v = 6, n = 2
-- data: SELECT price FROM tag ORDER BY code : [2] [NULL] [4]
-- behaviour: the rows that a DELETE took
CREATE PROCEDURE p (OUT v VARCHAR(5), OUT w INTEGER)
BEGIN
  SELECT code, price INTO v, w FROM OLD TABLE (DELETE FROM tag WHERE code = 'cc');
END;
-- call: p
-- out: v = 'cc', w = 3
-- data: SELECT COUNT(*) FROM tag : [2]
-- behaviour: the rows before an UPDATE
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  SELECT price INTO v FROM OLD TABLE (UPDATE tag SET price = 50 WHERE code = 'cc');
END;
-- call: p
-- out: v = 3
-- data: SELECT price FROM tag WHERE code = 'cc' : [50]
-- behaviour: a change of no row is NOT FOUND
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT price INTO v FROM FINAL TABLE (UPDATE tag SET price = 50 WHERE code = 'zz');
END;
-- call: p
-- out: v = -1
-- behaviour: a change that fails leaves its target alone
CREATE PROCEDURE p (OUT v INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET v = 7;
  SELECT price INTO v FROM FINAL TABLE (INSERT INTO tag VALUES ('aa', 1));
END;
-- call: p
-- out: v = 7, s = '23505'
-- behaviour: the rows of several INSERTed rows are handed out
CREATE PROCEDURE p ()
BEGIN
  SELECT line FROM FINAL TABLE (INSERT INTO log (line) VALUES ('a'), ('b')) ORDER BY line;
END;
-- call: p
-- rows: ['a'] ['b']
-- data: SELECT * FROM log ORDER BY 1 : [1, 'a'] [2, 'b']
-- behaviour: a loop over what was deleted
CREATE PROCEDURE p (OUT v VARCHAR(20))
BEGIN
  SET v = '';
  FOR r AS SELECT code FROM OLD TABLE (DELETE FROM tag WHERE price IS NOT NULL) ORDER BY code DO
    SET v = v || r.code;
  END FOR;
END;
-- call: p
-- out: v = 'aacc'
-- data: SELECT * FROM tag ORDER BY 1 : ['bb', NULL]
-- behaviour: a routine that reads alone makes no change this way
CREATE PROCEDURE p (OUT v INTEGER) READS SQL DATA
SELECT n INTO v FROM FINAL TABLE (INSERT INTO log (line) VALUES ('one'));
-- problem: wrong-access
-- behaviour: a query with WHERE CURRENT OF is an error at its place
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT code FROM tag;
  SELECT 1 WHERE CURRENT OF c;
END;
-- problem: misplaced-statement 4:18
-- behaviour: the values of the change see no columns of the table that its rows become (7.6)
CREATE PROCEDURE p (IN line VARCHAR(20), IN n INTEGER, OUT v INTEGER, OUT w VARCHAR(20))
BEGIN
  SELECT added.n, added.line INTO v, w
    FROM FINAL TABLE (INSERT INTO log (line) VALUES (line || CAST(n AS VARCHAR(5)))) AS added;
END;
-- call: p line = 'a', n = 7
-- out: v = 1, w = 'a7'
-- data: SELECT * FROM log ORDER BY 1 : [1, 'a7']
-- behaviour: a query around a change that has a column's name hides no variable in it, and the change's own table still does
CREATE PROCEDURE p (IN price INTEGER, OUT n INTEGER)
BEGIN
  SELECT COUNT(*) INTO n FROM FINAL TABLE (UPDATE tag SET price = p.price + price WHERE code = 'aa') AS x, log l
   WHERE x.price IS NOT NULL;
END;
-- call: p price = 10
-- out: n = 0
-- data: SELECT price FROM tag ORDER BY code : [11] [NULL] [3]
