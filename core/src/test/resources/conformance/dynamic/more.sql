-- behaviour: markers take values by their order, NULL too
CREATE PROCEDURE p (IN a INTEGER, IN b VARCHAR(20), IN c INTEGER)
BEGIN
  PREPARE s FROM 'INSERT INTO item (id, name, qty) VALUES (?, ?, ?)';
  EXECUTE s USING a, b, c;
END;
-- call: p a = 7, b = 'it''s', c = null
-- data: SELECT id, name, qty FROM item WHERE id = 7 : [7, 'it''s', NULL]
-- behaviour: a prepared statement is run again with other values
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 1;
  DECLARE one INTEGER;
  SET n = 0;
  PREPARE s FROM 'SELECT qty FROM item WHERE id = ?';
  WHILE i < 3 DO
    EXECUTE s INTO one USING i;
    SET n = n + one;
    SET i = i + 1;
  END WHILE;
  DEALLOCATE PREPARE s;
END;
-- call: p
-- out: n = 30
-- behaviour: EXECUTE of what was not prepared, or is no more, is 26000
CREATE PROCEDURE p (IN again BOOLEAN)
BEGIN
  IF again THEN
    PREPARE s FROM 'DELETE FROM log';
    DEALLOCATE PREPARE s;
  END IF;
  EXECUTE s;
END;
-- call: p again = false
-- raises: 26000
-- call: p again = true
-- raises: 26000
-- behaviour: PREPARE of a name replaces the statement that had it
CREATE PROCEDURE p ()
BEGIN
  PREPARE s FROM 'INSERT INTO log (line) VALUES (''first'')';
  PREPARE s FROM 'INSERT INTO log (line) VALUES (''second'')';
  EXECUTE s;
END;
-- call: p
-- data: SELECT line FROM log : ['second']
-- behaviour: a text that is no statement is 42000, and takes the statement of its name with it
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '26000' SET r = r || ' gone';
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = 'bad';
  PREPARE s FROM 'DELETE FROM log';
  PREPARE s FROM 'DELETE FROM WHERE';
  EXECUTE s;
END;
-- call: p
-- out: r = 'bad gone'
-- behaviour: EXECUTE IMMEDIATE of a change that finds no row is NOT FOUND
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'none';
  EXECUTE IMMEDIATE 'DELETE FROM item WHERE id = 99';
END;
-- call: p
-- out: r = 'none'
-- behaviour: EXECUTE INTO without a row leaves its target alone
CREATE PROCEDURE p (OUT n INTEGER, OUT r VARCHAR(10))
BEGIN
  DECLARE id INTEGER DEFAULT 99;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'none';
  SET n = 5;
  PREPARE s FROM 'SELECT qty FROM item WHERE id = ?';
  EXECUTE s INTO n USING id;
END;
-- call: p
-- out: n = 5, r = 'none'
-- behaviour: EXECUTE INTO of two rows is 21000
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  PREPARE s FROM 'SELECT id FROM item';
  EXECUTE s INTO n;
END;
-- call: p
-- raises: 21000
-- behaviour: the number of values must be that of the markers
CREATE PROCEDURE p (IN a INTEGER)
BEGIN
  PREPARE s FROM 'DELETE FROM item WHERE id = ? AND qty = ?';
  EXECUTE s USING a;
END;
-- call: p a = 1
-- raises: 07001
-- behaviour: the text of dynamic SQL that is NULL is refused
CREATE PROCEDURE p (IN t VARCHAR(50)) EXECUTE IMMEDIATE t;
-- call: p t = null
-- raises: 22004
-- behaviour: a dynamic cursor with markers
CREATE PROCEDURE p (IN least INTEGER, OUT r VARCHAR(40))
BEGIN
  DECLARE x VARCHAR(20);
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR s;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '';
  PREPARE s FROM 'SELECT name FROM item WHERE id >= ? ORDER BY id';
  OPEN c USING least;
  FETCH c INTO x;
  WHILE NOT done DO
    SET r = r || x || ' ';
    FETCH c INTO x;
  END WHILE;
  CLOSE c;
END;
-- call: p least = 2
-- out: r = 'label bottle '
-- call: p least = 9
-- out: r = ''
-- behaviour: variables of the routine are not seen in dynamic SQL
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE unseen INTEGER DEFAULT 1;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET s = 'no';
  SET s = 'yes';
  EXECUTE IMMEDIATE 'DELETE FROM item WHERE id = unseen';
END;
-- call: p
-- out: s = 'no   '
-- behaviour: a violation in dynamic SQL has its SQLSTATE
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = 'twice';
  EXECUTE IMMEDIATE 'INSERT INTO item (id, name) VALUES (1, ''x'')';
END;
-- call: p
-- out: r = 'twice'
-- behaviour: a trigger fires for dynamic SQL too
CREATE TRIGGER keep AFTER DELETE ON child FOR EACH ROW INSERT INTO log (line) VALUES (OLD.note);
CREATE PROCEDURE p () EXECUTE IMMEDIATE 'DELETE FROM child WHERE id = 21';
-- call: p
-- data: SELECT line FROM log : ['c']
-- behaviour: the text is put together from parts
CREATE PROCEDURE p (IN tab VARCHAR(20), IN col VARCHAR(20), OUT n INTEGER)
BEGIN
  PREPARE s FROM 'SELECT MAX(' || col || ') FROM ' || tab;
  EXECUTE s INTO n;
END;
-- call: p tab = 'item', col = 'qty'
-- out: n = 20
-- call: p tab = 'child', col = 'id'
-- out: n = 21
-- behaviour: what EXECUTE changes is counted, also where a handler waits for none
CREATE PROCEDURE p (IN k INTEGER, OUT n INTEGER, OUT none BOOLEAN)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET none = TRUE;
  SET none = FALSE;
  PREPARE d FROM 'DELETE FROM log WHERE n >= 0';
  INSERT INTO log (line) VALUES ('a'), ('b');
  EXECUTE d;
  GET DIAGNOSTICS n = ROW_COUNT;
  IF k = 2 THEN EXECUTE d; END IF;
END;
-- call: p k = 1
-- out: n = 2, none = FALSE
-- call: p k = 2
-- out: n = 2, none = TRUE
-- behaviour: UPDATE OF looks at what a dynamic UPDATE sets, not at what differs
CREATE TRIGGER keep AFTER UPDATE OF qty ON item FOR EACH ROW
INSERT INTO log (line) VALUES (NEW.name);
CREATE PROCEDURE p ()
BEGIN
  EXECUTE IMMEDIATE 'UPDATE item SET price = 9 WHERE id = 1';
  EXECUTE IMMEDIATE '  update item /* price */ set QTY = qty where id = 2';
END;
-- call: p
-- data: SELECT line FROM log : ['label']
-- behaviour: a statement inside a trigger of a dynamic UPDATE is another one
CREATE TRIGGER keep AFTER UPDATE OF qty ON item FOR EACH ROW
INSERT INTO log (line) VALUES (NEW.name);
CREATE TRIGGER more AFTER UPDATE OF price ON item FOR EACH ROW
UPDATE item SET qty = qty WHERE id = 3;
CREATE PROCEDURE p ()
EXECUTE IMMEDIATE 'UPDATE item SET price = price WHERE id = 1';
-- call: p
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: a comment before a dynamic statement ends no transaction
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  START TRANSACTION;
  UPDATE item SET qty = 77 WHERE id = 1;
  EXECUTE IMMEDIATE '/* a word */ UPDATE item SET qty = 78 WHERE id = 1';
  ROLLBACK;
  SELECT qty INTO r FROM item WHERE id = 1;
END;
-- call: p
-- out: r = 10
