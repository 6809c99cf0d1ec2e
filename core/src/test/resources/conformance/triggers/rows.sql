-- behaviour: a BEFORE trigger may change the new row
CREATE TRIGGER tidy BEFORE INSERT ON item FOR EACH ROW
BEGIN
  SET NEW.name = UPPER(NEW.name);
  SET NEW.qty = COALESCE(NEW.qty, 1);
END;
CREATE PROCEDURE p () INSERT INTO item (id, name) VALUES (7, 'rack');
-- call: p
-- data: SELECT name, qty FROM item WHERE id = 7 : ['RACK', 1]
-- behaviour: an AFTER trigger sees both rows, by names of its own
CREATE TRIGGER keep AFTER UPDATE ON item
REFERENCING OLD ROW AS was NEW ROW AS now FOR EACH ROW
INSERT INTO log (line) VALUES (was.name || ' ' || was.qty || ' -> ' || now.qty);
CREATE PROCEDURE p () UPDATE item SET qty = qty + 5 WHERE id <= 2;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['cork 10 -> 15'] ['label 20 -> 25']
-- behaviour: WHEN lets a trigger rest
CREATE TRIGGER keep AFTER UPDATE ON item FOR EACH ROW WHEN (NEW.qty > 22)
INSERT INTO log (line) VALUES (NEW.name);
CREATE PROCEDURE p () UPDATE item SET qty = qty + 5 WHERE id <= 2;
-- call: p
-- data: SELECT line FROM log : ['label']
-- behaviour: UPDATE OF fires for its columns alone
CREATE TRIGGER keep AFTER UPDATE OF qty ON item FOR EACH ROW
INSERT INTO log (line) VALUES (NEW.name);
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET price = 9 WHERE id = 1;
  UPDATE item SET qty = 9 WHERE id = 2;
END;
-- call: p
-- data: SELECT line FROM log : ['label']
-- behaviour: a condition raised in a trigger undoes the statement that fired it, and that alone
CREATE TRIGGER guard AFTER UPDATE ON item FOR EACH ROW
BEGIN
  IF NEW.id = 2 THEN SIGNAL SQLSTATE '45044' SET MESSAGE_TEXT = 'not ' || NEW.name; END IF;
END;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45044' GET DIAGNOSTICS CONDITION 1 r = MESSAGE_TEXT;
  UPDATE item SET price = 7 WHERE id = 3;
  UPDATE item SET price = 9 WHERE id < 3;
END;
-- call: p
-- out: r = 'not label'
-- data: SELECT price FROM item ORDER BY id : [0.25] [0.10] [7.00]
-- behaviour: triggers fire on cascaded deletes
CREATE TRIGGER gone AFTER DELETE ON child FOR EACH ROW
INSERT INTO log (line) VALUES (OLD.note);
CREATE PROCEDURE p () DELETE FROM parent WHERE id = 1;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['a'] ['b']
-- data: SELECT COUNT(*) FROM child : [1]
-- behaviour: several triggers of one file fire in the order of their names
CREATE TRIGGER b_second AFTER DELETE ON child FOR EACH ROW INSERT INTO log (line) VALUES ('second');
CREATE TRIGGER a_first AFTER DELETE ON child FOR EACH ROW INSERT INTO log (line) VALUES ('first');
CREATE PROCEDURE p () DELETE FROM child WHERE id = 21;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['first'] ['second']
-- behaviour: a trigger that fires itself ends at the depth limit
CREATE TRIGGER again AFTER INSERT ON log FOR EACH ROW INSERT INTO log (line) VALUES ('more');
CREATE PROCEDURE p () INSERT INTO log (line) VALUES ('one');
-- call: p
-- raises: UL003 again
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a trigger may call procedures and functions
CREATE FUNCTION shout (x VARCHAR(20)) RETURNS VARCHAR(20) RETURN UPPER(x) || '!';
CREATE PROCEDURE note (IN x VARCHAR(20)) INSERT INTO log (line) VALUES (shout(x));
CREATE TRIGGER keep AFTER INSERT ON child FOR EACH ROW CALL note(NEW.note);
CREATE PROCEDURE p () INSERT INTO child VALUES (31, 1, 'new');
-- call: p
-- data: SELECT line FROM log : ['NEW!']
-- behaviour: a handler in a trigger keeps the statement going
CREATE TRIGGER keep AFTER UPDATE ON item FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' INSERT INTO log (line) VALUES ('zero');
  INSERT INTO log (line) VALUES (CAST(100 / NEW.qty AS VARCHAR(10)));
END;
CREATE PROCEDURE p () UPDATE item SET qty = id - 1 WHERE id < 3;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['zero'] ['100']
-- behaviour: the rows that a routine changed, and those its trigger changed, are undone together
CREATE TRIGGER keep AFTER UPDATE ON item FOR EACH ROW INSERT INTO log (line) VALUES ('x');
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 1 WHERE id = 1;
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- raises: 45000
-- data: SELECT COUNT(*) FROM log : [0]
-- data: SELECT qty FROM item WHERE id = 1 : [10]
-- behaviour: a statement trigger fires once, for no row too
CREATE TRIGGER once AFTER UPDATE ON item FOR EACH STATEMENT INSERT INTO log (line) VALUES ('once');
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET price = 1;
  UPDATE item SET price = 1 WHERE id = 99;
END;
-- call: p
-- data: SELECT COUNT(*) FROM log : [2]
