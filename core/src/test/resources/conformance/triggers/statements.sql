-- behaviour: a trigger FOR EACH STATEMENT fires once, however many rows change
CREATE TRIGGER once AFTER UPDATE ON item FOR EACH STATEMENT
INSERT INTO log (line) VALUES ('updated');
CREATE PROCEDURE p () UPDATE item SET price = 1;
-- call: p
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: a trigger FOR EACH STATEMENT fires even where no row changes
CREATE TRIGGER once AFTER DELETE ON item FOR EACH STATEMENT
INSERT INTO log (line) VALUES ('deleted');
CREATE PROCEDURE p () DELETE FROM item WHERE id > 100;
-- call: p
-- data: SELECT line FROM log : ['deleted']
-- behaviour: without FOR EACH a trigger is one for each statement
CREATE TRIGGER once AFTER DELETE ON child INSERT INTO log (line) VALUES ('gone');
CREATE PROCEDURE p () DELETE FROM child;
-- call: p
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: NEW TABLE holds all rows that an INSERT added
CREATE TRIGGER summed AFTER INSERT ON item
REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT
INSERT INTO log (line) SELECT COUNT(*) || ' rows, ' || SUM(qty) FROM fresh;
CREATE PROCEDURE p () INSERT INTO item (id, name, qty) VALUES (5, 'a', 3), (6, 'b', 4);
-- call: p
-- data: SELECT line FROM log : ['2 rows, 7']
-- behaviour: OLD TABLE and NEW TABLE hold the rows of an UPDATE before and after
CREATE TRIGGER summed AFTER UPDATE ON item
REFERENCING OLD TABLE AS o NEW TABLE AS n FOR EACH STATEMENT
INSERT INTO log (line)
SELECT n.name || ' ' || o.qty || ' -> ' || n.qty FROM n JOIN o ON o.id = n.id ORDER BY n.id;
CREATE PROCEDURE p () UPDATE item SET qty = qty * 2 WHERE id < 3;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['cork 10 -> 20'] ['label 20 -> 40']
-- behaviour: OLD TABLE holds the rows that a DELETE removed
CREATE TRIGGER summed AFTER DELETE ON child
REFERENCING OLD TABLE AS o
BEGIN
  DECLARE notes VARCHAR(20) DEFAULT '';
  FOR r AS SELECT note FROM o ORDER BY id DO SET notes = notes || r.note; END FOR;
  INSERT INTO log (line) VALUES (notes);
END;
CREATE PROCEDURE p () DELETE FROM child WHERE parent_id = 1;
-- call: p
-- data: SELECT line FROM log : ['ab']
-- behaviour: transition tables are empty where the statement changes no row
CREATE TRIGGER summed AFTER UPDATE ON item
REFERENCING NEW TABLE AS n FOR EACH STATEMENT
INSERT INTO log (line) SELECT 'rows ' || COUNT(*) FROM n;
CREATE PROCEDURE p () UPDATE item SET qty = 1 WHERE id = 99;
-- call: p
-- data: SELECT line FROM log : ['rows 0']
-- behaviour: a row trigger sees the transition tables of its whole statement
CREATE TRIGGER share AFTER UPDATE ON item
REFERENCING NEW ROW AS r NEW TABLE AS n FOR EACH ROW
INSERT INTO log (line) SELECT r.name || ' of ' || SUM(n.qty) FROM n;
CREATE PROCEDURE p () UPDATE item SET qty = qty + 1 WHERE id < 3;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['cork of 32'] ['label of 32']
-- behaviour: the transition table of a statement inside a trigger is its own
CREATE TRIGGER down AFTER UPDATE ON item
REFERENCING NEW TABLE AS n FOR EACH STATEMENT
BEGIN
  INSERT INTO log (line) SELECT 'sum ' || SUM(qty) FROM n;
  IF EXISTS (SELECT 1 FROM n WHERE qty > 5) THEN
    UPDATE item SET qty = qty - 5 WHERE id IN (SELECT id FROM n WHERE qty > 5);
  END IF;
  INSERT INTO log (line) SELECT 'again ' || SUM(qty) FROM n;
END;
CREATE PROCEDURE p () UPDATE item SET qty = 8 WHERE id < 3;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['sum 16'] ['sum 6'] ['again 6'] ['again 16']
-- behaviour: a statement that fails inside a trigger leaves the transition tables alone
CREATE TRIGGER down AFTER UPDATE OF price ON item
REFERENCING NEW TABLE AS n FOR EACH STATEMENT
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23514' INSERT INTO log (line) VALUES ('caught');
  IF (SELECT MAX(price) FROM n) > 5 THEN
    UPDATE item SET price = 1, qty = -1 WHERE id = 1;
  END IF;
  INSERT INTO log (line) SELECT 'rows ' || COUNT(*) FROM n;
END;
CREATE PROCEDURE p () UPDATE item SET price = 9;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['caught'] ['rows 3']
-- behaviour: a transition table can't be changed
CREATE TRIGGER t AFTER UPDATE ON item REFERENCING NEW TABLE AS n DELETE FROM n;
-- problem: not-assignable
-- behaviour: a BEFORE trigger has no transition tables
CREATE TRIGGER t BEFORE UPDATE ON item REFERENCING NEW TABLE AS n FOR EACH STATEMENT
INSERT INTO log (line) VALUES ('x');
-- problem: wrong-declaration
-- behaviour: an INSERT has no rows before it
CREATE TRIGGER t AFTER INSERT ON item REFERENCING OLD TABLE AS o
INSERT INTO log (line) VALUES ('x');
-- problem: wrong-declaration
-- behaviour: a trigger FOR EACH STATEMENT has no row
CREATE TRIGGER t AFTER UPDATE ON item REFERENCING NEW ROW AS n FOR EACH STATEMENT
INSERT INTO log (line) VALUES ('x');
-- problem: wrong-declaration
-- behaviour: UPDATE OF looks at what is set, not at what differs
CREATE TRIGGER keep AFTER UPDATE OF qty ON item FOR EACH ROW
INSERT INTO log (line) VALUES (NEW.name);
CREATE PROCEDURE p () UPDATE item SET qty = qty WHERE id = 1;
-- call: p
-- data: SELECT line FROM log : ['cork']
-- behaviour: UPDATE OF of a trigger FOR EACH STATEMENT looks at what is set
CREATE TRIGGER keep AFTER UPDATE OF qty ON item FOR EACH STATEMENT
INSERT INTO log (line) VALUES ('qty');
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET price = 2;
  UPDATE item SET qty = 2, price = 3;
END;
-- call: p
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: a BEFORE trigger may fill a column that is NOT NULL
CREATE TRIGGER fill BEFORE INSERT ON must FOR EACH ROW
SET NEW.code = COALESCE(NEW.code, 'C' || NEW.id);
CREATE PROCEDURE p ()
INSERT INTO must (id, code, made) VALUES (1, NULL, 'a');
CREATE PROCEDURE q ()
INSERT INTO must (id, made) VALUES (2, 'b');
-- call: p
-- data: SELECT code FROM must : ['C1']
-- call: q
-- data: SELECT code FROM must WHERE id = 2 : ['C2']
-- behaviour: what no trigger fills is 23502 all the same
CREATE TRIGGER fill BEFORE INSERT ON must FOR EACH ROW
SET NEW.code = COALESCE(NEW.code, 'C' || NEW.id);
CREATE PROCEDURE p (OUT c VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23502' GET DIAGNOSTICS CONDITION 1 c = COLUMN_NAME;
  INSERT INTO must (id) VALUES (1);
END;
CREATE PROCEDURE q ()
BEGIN
  INSERT INTO must VALUES (5, 'a', 'b');
  UPDATE must SET made = NULL;
END;
-- call: p
-- out: c = 'made'
-- call: q
-- raises: 23502
-- behaviour: an ATOMIC block that is undone in a trigger leaves the change that fired it
CREATE TRIGGER tries AFTER UPDATE ON item FOR EACH ROW
BEGIN
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLSTATE '45001' BEGIN END;
    INSERT INTO log (line) VALUES ('undone');
    SIGNAL SQLSTATE '45001';
  END;
  INSERT INTO log (line) VALUES ('kept');
END;
CREATE TRIGGER all_of_it AFTER UPDATE ON parent REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' INSERT INTO log (line) SELECT note FROM fresh;
  INSERT INTO item (id, name) VALUES (1, 'twice');
END;
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET price = price + 1 WHERE id = 2;
  UPDATE parent SET note = 'changed' WHERE id = 1;
END;
-- call: p
-- data: SELECT price FROM item WHERE id = 2 : [1.10]
-- data: SELECT note FROM parent WHERE id = 1 : ['changed']
-- data: SELECT line FROM log ORDER BY n : ['kept'] ['changed']
