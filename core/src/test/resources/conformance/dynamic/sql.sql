-- behaviour: a statement is prepared once and executed with values for its markers
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  PREPARE s FROM 'INSERT INTO log (line) VALUES (?)';
  EXECUTE s USING 'one';
  EXECUTE s USING 'two';
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 1
-- data: SELECT line FROM log ORDER BY n : ['one'] ['two']
-- behaviour: EXECUTE INTO takes one row into variables
CREATE PROCEDURE p (IN wanted INTEGER, OUT a VARCHAR(20), OUT b INTEGER)
BEGIN
  PREPARE s FROM 'SELECT name, qty FROM item WHERE id = ?';
  EXECUTE s INTO a, b USING wanted;
END;
-- call: p wanted = 2
-- out: a = 'label', b = 20
-- call: p wanted = 99
-- out: a = NULL, b = NULL
-- behaviour: EXECUTE INTO of two rows is 21000, and no row is NOT FOUND
CREATE PROCEDURE p (IN low INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE x INTEGER;
  DECLARE EXIT HANDLER FOR NOT FOUND SET r = 'none';
  PREPARE s FROM 'SELECT id FROM item WHERE id >= ?';
  EXECUTE s INTO x USING low;
  SET r = 'one';
END;
-- call: p low = 1
-- raises: 21000
-- call: p low = 3
-- out: r = 'one'
-- call: p low = 9
-- out: r = 'none'
-- behaviour: EXECUTE IMMEDIATE runs a text at once
CREATE PROCEDURE p (IN t VARCHAR(20)) EXECUTE IMMEDIATE 'DELETE FROM ' || t || ' WHERE id = 21';
-- call: p t = 'child'
-- data: SELECT COUNT(*) FROM child : [2]
-- call: p t = 'nothing'
-- raises: 42S02
-- behaviour: the rows of a dynamic query go to the caller
CREATE PROCEDURE p () EXECUTE IMMEDIATE 'SELECT id FROM item ORDER BY id DESC';
-- call: p
-- rows: [3] [2] [1]
-- behaviour: a cursor for a prepared statement is opened with values
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE n INTEGER;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR s;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '';
  PREPARE s FROM 'SELECT id FROM item WHERE id >= ? ORDER BY id';
  OPEN c USING 2;
  FETCH c INTO n;
  WHILE NOT done DO
    SET r = r || n;
    FETCH c INTO n;
  END WHILE;
  CLOSE c;
END;
-- call: p
-- out: r = '23'
-- behaviour: an unknown prepared statement is 26000, a deallocated one too
CREATE PROCEDURE p () EXECUTE nowhere;
CREATE PROCEDURE q ()
BEGIN
  PREPARE s FROM 'DELETE FROM log';
  DEALLOCATE PREPARE s;
  EXECUTE s;
END;
CREATE PROCEDURE d () DEALLOCATE PREPARE nowhere;
-- call: p
-- raises: 26000
-- call: q
-- raises: 26000
-- call: d
-- raises: 26000
-- behaviour: a text that is no statement is refused by PREPARE, and NULL is 22004
CREATE PROCEDURE p (IN t VARCHAR(40)) PREPARE s FROM t;
-- call: p t = 'SELEC 1'
-- raises: 42601
-- call: p t = null
-- raises: 22004
-- behaviour: a dynamic change of no row is NOT FOUND, and triggers fire
CREATE TRIGGER t AFTER UPDATE ON item FOR EACH ROW INSERT INTO log (line) VALUES (NEW.name);
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET n = n + 1;
  SET n = 0;
  EXECUTE IMMEDIATE 'UPDATE item SET qty = 1 WHERE id = 99';
  EXECUTE IMMEDIATE 'UPDATE item SET qty = 1 WHERE id = 1';
END;
-- call: p
-- out: n = 1
-- data: SELECT line FROM log : ['cork']
-- behaviour: a failed dynamic statement finds its handler and undoes itself alone
CREATE PROCEDURE p (OUT r VARCHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23514' SET r = 'check';
  UPDATE item SET qty = 5 WHERE id = 1;
  EXECUTE IMMEDIATE 'UPDATE item SET qty = 15 - qty WHERE id < 3';
END;
-- call: p
-- out: r = 'check'
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [5] [20]
