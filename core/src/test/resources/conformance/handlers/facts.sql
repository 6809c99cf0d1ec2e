-- behaviour: COALESCE of a column is no aggregate: a query by key may still find no row
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT COALESCE(price, 0) INTO v FROM tag WHERE code = w;
END;
-- call: p w = 'aa'
-- out: v = 1
-- call: p w = 'bb'
-- out: v = 0
-- call: p w = 'zz'
-- out: v = -1
-- behaviour: an aggregate with HAVING may give no row
CREATE PROCEDURE p (IN least INTEGER, OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT COUNT(*) INTO v FROM tag HAVING COUNT(*) > least;
END;
-- call: p least = 2
-- out: v = 3
-- call: p least = 3
-- out: v = -1
-- behaviour: an aggregate with GROUP BY may give no row, however it is spaced
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT COUNT(*) INTO v FROM tag WHERE code = w GROUP   BY code;
END;
-- call: p w = 'aa'
-- out: v = 1
-- call: p w = 'zz'
-- out: v = -1
-- behaviour: an aggregate with GROUP BY over two lines and a comment may give no row
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT MAX(price) INTO v FROM tag WHERE code = w group /* by */
    by code;
END;
-- call: p w = 'cc'
-- out: v = 3
-- call: p w = 'zz'
-- out: v = -1
-- behaviour: an aggregate alone gives one row always
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT MAX(price) INTO v FROM tag WHERE code = w;
END;
-- call: p w = 'zz'
-- out: v = NULL
-- behaviour: an aggregate in a subquery makes no aggregate of the query
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT (SELECT COUNT(*) FROM item) + price INTO v FROM tag WHERE code = w;
END;
-- call: p w = 'aa'
-- out: v = 4
-- call: p w = 'zz'
-- out: v = -1
-- behaviour: a window function is no aggregate
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT COUNT(*) OVER () INTO v FROM tag WHERE code = w;
END;
-- call: p w = 'aa'
-- out: v = 1
-- call: p w = 'zz'
-- out: v = -1
-- behaviour: an aggregate with OFFSET or FETCH FIRST of none may give no row
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT COUNT(*) INTO v FROM tag OFFSET 1 ROWS;
END;
-- call: p
-- out: v = -1
-- behaviour: a name that begins like an aggregate's is none
CREATE FUNCTION counted (a INTEGER) RETURNS INTEGER RETURN a;
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT counted(price) INTO v FROM tag WHERE code = w;
END;
-- call: p w = 'zz'
-- out: v = -1
-- behaviour: the query of a FOR that computes may raise in the reach of an EXIT handler
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET v = -1;
  SET v = 0;
  UPDATE tag SET price = 2 WHERE code = 'cc';
  FOR r AS SELECT price * 9223372036854775807 AS x FROM tag WHERE code = 'cc' DO
    SET v = 1;
  END FOR;
END;
-- call: p
-- out: v = -1
-- data: SELECT price FROM tag WHERE code = 'cc' : [2]
-- behaviour: the query of a FOR that computes without blanks may raise too
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET v = -1;
  SET v = 0;
  UPDATE tag SET price = 2 WHERE code = 'cc';
  FOR r AS SELECT price*9223372036854775807 AS x FROM tag WHERE code = 'cc' DO
    SET v = 1;
  END FOR;
END;
-- call: p
-- out: v = -1
-- data: SELECT price FROM tag WHERE code = 'cc' : [2]
-- behaviour: an apostrophe in a comment hides no WHERE
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SET v = 0;
  UPDATE tag SET price = 8 -- it's dearer
   WHERE code = 'zz';
END;
-- call: p
-- out: v = -1
-- data: SELECT price FROM tag ORDER BY code : [1] [NULL] [3]
-- behaviour: an apostrophe in a comment hides no WHERE of a row that is there
CREATE PROCEDURE p (OUT v INTEGER, OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SET v = 0;
  UPDATE tag /* SET ' WHERE */ SET price = 8 -- it's dearer (
   WHERE code = 'aa';
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: v = 0, n = 1
-- data: SELECT price FROM tag ORDER BY code : [8] [NULL] [3]
-- behaviour: a handler sets the variable of its own block while an inner block has one of that name
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE n INTEGER DEFAULT 1;
  BEGIN
    DECLARE m INTEGER DEFAULT 0;
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET n = n + 10;
    BEGIN
      DECLARE n INTEGER DEFAULT 2;
      SIGNAL SQLSTATE '45000';
      SET b = n;
    END;
  END;
  SET a = n;
END;
-- call: p
-- out: a = 11, b = 2
-- behaviour: an EXIT handler sets the variable of its own block too
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE n INTEGER DEFAULT 1;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION SET n = n + 10;
    BEGIN
      DECLARE n INTEGER DEFAULT 2;
      SET n = n / (n - 2);
    END;
  END;
  SET a = n;
END;
-- call: p
-- out: a = 11
-- behaviour: a handler reads the variable of its own block while a loop's row has a field of that name
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE price INTEGER DEFAULT 5;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET a = price;
  FOR price AS SELECT price FROM tag WHERE code = 'cc' DO
    SIGNAL SQLSTATE '45000';
  END FOR;
END;
-- call: p
-- out: a = 5
-- behaviour: a cursor's query is worked out with the variables of its own block
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE n VARCHAR(5) DEFAULT 'aa';
  DECLARE c CURSOR FOR SELECT price FROM tag WHERE code = n;
  BEGIN
    DECLARE n VARCHAR(5) DEFAULT 'cc';
    OPEN c;
    FETCH c INTO a;
    CLOSE c;
  END;
END;
-- call: p
-- out: a = 1
-- behaviour: a handler set off in a trigger's inner block sets its own block's variable
CREATE TRIGGER g AFTER INSERT ON tag FOR EACH ROW
BEGIN
  DECLARE n INTEGER DEFAULT 1;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET n = n + 10;
  BEGIN
    DECLARE n INTEGER DEFAULT 2;
    SIGNAL SQLSTATE '45000';
    INSERT INTO log (line) VALUES ('inner ' || CAST(n AS VARCHAR(9)));
  END;
  INSERT INTO log (line) VALUES ('outer ' || CAST(n AS VARCHAR(9)));
END;
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 4);
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['inner 2'] ['outer 11']
-- behaviour: a trigger that is atomic undoes nothing by halves: the statement is undone whole
CREATE TRIGGER g BEFORE UPDATE ON tag FOR EACH ROW
BEGIN ATOMIC
  INSERT INTO log (line) VALUES (NEW.code);
  IF NEW.code = 'cc' THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'not cc';
  END IF;
END;
CREATE PROCEDURE p (OUT a VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET a = 'handled';
  UPDATE tag SET price = 9;
END;
-- call: p
-- out: a = 'handled'
-- data: SELECT price FROM tag ORDER BY code : [1] [NULL] [3]
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a CONTINUE handler goes on inside a trigger's inner ATOMIC block, which is then not undone
CREATE TRIGGER g AFTER UPDATE ON tag FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' INSERT INTO log (line) VALUES ('handled');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('lost');
    SIGNAL SQLSTATE '45000';
  END;
END;
CREATE PROCEDURE p () UPDATE tag SET price = 9 WHERE code = 'aa';
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['lost'] ['handled']
-- data: SELECT price FROM tag ORDER BY code : [9] [NULL] [3]
-- behaviour: RESIGNAL after a nested CONTINUE handler ends a loop that counts the conditions down
CREATE PROCEDURE p (OUT a VARCHAR(60))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45002'
  BEGIN
    DECLARE n INTEGER;
    DECLARE i INTEGER;
    DECLARE s VARCHAR(5);
    GET STACKED DIAGNOSTICS n = NUMBER;
    SET a = '';
    SET i = n;
    WHILE i > 0 DO
      GET STACKED DIAGNOSTICS CONDITION i s = RETURNED_SQLSTATE;
      SET a = a || s || ' ';
      SET i = i - 1;
    END WHILE;
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45000'
    BEGIN
      BEGIN
        DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET a = 'inner';
        SIGNAL SQLSTATE '45001';
      END;
      RESIGNAL SQLSTATE '45002';
    END;
    SIGNAL SQLSTATE '45000';
  END;
END;
-- call: p
-- out: a = '45000 45002 '
-- behaviour: a handler of what a function signals inside an INSERT reads that condition
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
BEGIN
  SIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = 'from f';
  RETURN a;
END;
CREATE PROCEDURE p (OUT a VARCHAR(5), OUT m VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
  INSERT INTO must (id, code, made) VALUES (f(1), 'a', 'b');
END;
-- call: p
-- out: a = '45009', m = 'from f'
