-- behaviour: BEFORE triggers see what those before them set
CREATE TRIGGER a_first BEFORE INSERT ON item FOR EACH ROW SET NEW.name = NEW.name || '1';
CREATE TRIGGER b_second BEFORE INSERT ON item FOR EACH ROW SET NEW.name = NEW.name || '2';
CREATE PROCEDURE p () INSERT INTO item (id, name) VALUES (7, 'x');
-- call: p
-- data: SELECT name FROM item WHERE id = 7 : ['x12']
-- behaviour: a BEFORE trigger sets the key and a column that the statement did not name
CREATE TRIGGER fill BEFORE INSERT ON item FOR EACH ROW
BEGIN
  SET NEW.id = NEW.id + 100;
  SET NEW.price = 3.5;
END;
CREATE PROCEDURE p () INSERT INTO item (id, name) VALUES (7, 'x');
-- call: p
-- data: SELECT id, price FROM item WHERE name = 'x' : [107, 3.50]
-- behaviour: a value that a BEFORE trigger sets is stored by the column's rules
CREATE TRIGGER fill BEFORE INSERT ON item FOR EACH ROW SET NEW.name = NEW.name || ' and a name that is much too long for it';
CREATE PROCEDURE p () INSERT INTO item (id, name) VALUES (7, 'x');
-- call: p
-- raises: 22001
-- data: SELECT COUNT(*) FROM item : [3]
-- behaviour: the check of a table is made of the row that a BEFORE trigger leaves
CREATE TRIGGER mend BEFORE UPDATE ON item FOR EACH ROW
BEGIN
  IF NEW.qty < 0 THEN SET NEW.qty = 0; END IF;
END;
CREATE PROCEDURE p () UPDATE item SET qty = -5 WHERE id = 1;
-- call: p
-- data: SELECT qty FROM item WHERE id = 1 : [0]
-- behaviour: a BEFORE trigger may take back what an UPDATE set, from OLD
CREATE TRIGGER keep_price BEFORE UPDATE ON item FOR EACH ROW SET NEW.price = OLD.price;
CREATE PROCEDURE p () UPDATE item SET price = 99, qty = 5 WHERE id = 1;
-- call: p
-- data: SELECT price, qty FROM item WHERE id = 1 : [0.25, 5]
-- behaviour: an AFTER trigger sees the rows of its own statement in the table
CREATE TRIGGER total AFTER INSERT ON child FOR EACH ROW
BEGIN
  DECLARE n INTEGER;
  SELECT COUNT(*) INTO n FROM child WHERE parent_id = NEW.parent_id;
  INSERT INTO log (line) VALUES (NEW.id || ' makes ' || n);
END;
CREATE PROCEDURE p () INSERT INTO child VALUES (31, 2, 'x');
-- call: p
-- data: SELECT line FROM log : ['31 makes 2']
-- behaviour: the changes of a trigger fire triggers of their own
CREATE TRIGGER one AFTER INSERT ON child FOR EACH ROW UPDATE parent SET note = 'touched' WHERE id = NEW.parent_id;
CREATE TRIGGER two AFTER UPDATE ON parent FOR EACH ROW INSERT INTO log (line) VALUES (OLD.note || '>' || NEW.note);
CREATE PROCEDURE p () INSERT INTO child VALUES (31, 2, 'x');
-- call: p
-- data: SELECT line FROM log : ['two>touched']
-- behaviour: a NULL condition of WHEN is not true
CREATE TRIGGER keep AFTER UPDATE ON item FOR EACH ROW WHEN (OLD.qty < 100)
INSERT INTO log (line) VALUES (NEW.name);
CREATE PROCEDURE p () UPDATE item SET price = 1;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['cork'] ['label']
-- behaviour: a multi-row INSERT fires a row trigger for each row, in a failure none stays
CREATE TRIGGER guard BEFORE INSERT ON child FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES (NEW.note);
  IF NEW.note = 'bad' THEN SIGNAL SQLSTATE '45077' SET MESSAGE_TEXT = 'a bad one'; END IF;
END;
CREATE PROCEDURE p (OUT m VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45077' GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
  INSERT INTO child VALUES (31, 1, 'good'), (32, 1, 'bad'), (33, 1, 'late');
  INSERT INTO child VALUES (34, 1, 'fine');
END;
-- call: p
-- out: m = 'a bad one'
-- data: SELECT id FROM child WHERE id > 30 : [34]
-- data: SELECT line FROM log : ['fine']
-- behaviour: a trigger's warning and its NOT FOUND do not reach the statement that fired it
CREATE TRIGGER quiet AFTER INSERT ON child FOR EACH ROW DELETE FROM item WHERE id = 99;
CREATE PROCEDURE p (OUT r VARCHAR(10))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'reached';
  SET r = 'quiet';
  INSERT INTO child VALUES (31, 1, 'x');
END;
-- call: p
-- out: r = 'quiet'
-- data: SELECT * FROM child ORDER BY 1 : [11, 1, 'a'] [12, 1, 'b'] [21, 2, 'c'] [31, 1, 'x']
-- behaviour: ROW_COUNT is of the statement, not of its triggers
CREATE TRIGGER noise AFTER UPDATE ON item FOR EACH ROW
INSERT INTO log (line) VALUES ('a'), ('b'), ('c');
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  UPDATE item SET price = 1 WHERE id < 3;
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 2
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.50]
-- data: SELECT * FROM log ORDER BY 1 : [1, 'a'] [2, 'b'] [3, 'c'] [4, 'a'] [5, 'b'] [6, 'c']
-- behaviour: a trigger calls a procedure with OUT values
CREATE PROCEDURE doubled (IN a INTEGER, OUT b INTEGER) SET b = a * 2;
CREATE TRIGGER twice BEFORE INSERT ON item FOR EACH ROW
BEGIN
  DECLARE v INTEGER;
  CALL doubled(NEW.qty, v);
  SET NEW.qty = v;
END;
CREATE PROCEDURE p () INSERT INTO item (id, name, qty) VALUES (7, 'x', 21);
-- call: p
-- data: SELECT qty FROM item WHERE id = 7 : [42]
-- behaviour: a transaction statement in a procedure that a trigger calls is 2D000
CREATE PROCEDURE ends () COMMIT;
CREATE TRIGGER bad AFTER INSERT ON child FOR EACH ROW CALL ends();
CREATE PROCEDURE p () INSERT INTO child VALUES (31, 1, 'x');
-- call: p
-- raises: 2D000
-- data: SELECT COUNT(*) FROM child : [3]
-- behaviour: INSERT from a query fires for each of its rows
CREATE TRIGGER keep AFTER INSERT ON child FOR EACH ROW INSERT INTO log (line) VALUES (NEW.note);
CREATE PROCEDURE p () INSERT INTO child SELECT id + 100, parent_id, UPPER(note) FROM child;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['A'] ['B'] ['C']
-- behaviour: OLD can't be set, nor NEW after the change
CREATE TRIGGER a BEFORE UPDATE ON item FOR EACH ROW SET OLD.qty = 1;
CREATE TRIGGER b AFTER UPDATE ON item FOR EACH ROW SET NEW.qty = 1;
-- problem: not-assignable
-- problem: not-assignable
-- behaviour: an INSERT has no OLD and a DELETE no NEW
CREATE TRIGGER a BEFORE INSERT ON item FOR EACH ROW SET NEW.qty = OLD.qty;
CREATE TRIGGER b AFTER DELETE ON item FOR EACH ROW INSERT INTO log (line) VALUES (NEW.name);
-- problem: unknown-name
-- problem: unknown-name
-- behaviour: an unknown table or column of a trigger is an error
CREATE TRIGGER a AFTER INSERT ON nowhere FOR EACH ROW INSERT INTO log (line) VALUES ('x');
CREATE TRIGGER b AFTER UPDATE OF colour ON item FOR EACH ROW INSERT INTO log (line) VALUES ('x');
-- problem: unknown-name
-- problem: unknown-name
-- behaviour: an exception in a cascaded trigger undoes the whole statement
CREATE TRIGGER guard BEFORE DELETE ON child FOR EACH ROW
BEGIN
  IF OLD.note = 'b' THEN SIGNAL SQLSTATE '45078'; END IF;
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  DELETE FROM parent WHERE id = 1;
END;
-- call: p
-- out: s = '45078'
-- data: SELECT COUNT(*) FROM parent : [2]
-- data: SELECT COUNT(*) FROM child : [3]
-- behaviour: transition tables of an UPDATE hold the rows before and after
CREATE TRIGGER sums AFTER UPDATE ON item
REFERENCING OLD TABLE AS was NEW TABLE AS now FOR EACH STATEMENT
INSERT INTO log (line)
SELECT w.name || ' ' || (n.price - w.price) FROM was w JOIN now n ON n.id = w.id ORDER BY w.id;
CREATE PROCEDURE p () UPDATE item SET price = price + 1 WHERE id < 3;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['cork 1.00'] ['label 1.00']
-- behaviour: a variable of a trigger is new for each row
CREATE TRIGGER counts AFTER UPDATE ON item FOR EACH ROW
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  SET n = n + 1;
  INSERT INTO log (line) VALUES (CAST(n AS VARCHAR(5)));
END;
CREATE PROCEDURE p () UPDATE item SET price = 1;
-- call: p
-- data: SELECT line FROM log : ['1'] ['1'] ['1']
-- behaviour: a statement that fails in a trigger undoes itself alone, though it is the trigger's first
CREATE TRIGGER tries AFTER UPDATE ON item FOR EACH ROW
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' INSERT INTO log (line) VALUES ('zero ' || NEW.id);
  INSERT INTO log (line) VALUES (CAST(10 / (NEW.id - 2) AS VARCHAR(5)));
END;
CREATE TRIGGER twice AFTER UPDATE ON parent FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' BEGIN END;
  INSERT INTO item (id, name) VALUES (1, 'twice');
END;
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET price = price + 1 WHERE id = 2;
  UPDATE parent SET note = 'changed' WHERE id = 1;
END;
-- call: p
-- data: SELECT id, price FROM item ORDER BY id : [1, 0.25] [2, 1.10] [3, 1.50]
-- data: SELECT note FROM parent WHERE id = 1 : ['changed']
-- data: SELECT line FROM log : ['zero 2']
-- behaviour: a BEFORE INSERT trigger supplies the key
CREATE TRIGGER fill BEFORE INSERT ON item FOR EACH ROW
BEGIN
  IF NEW.id IS NULL THEN
    SET NEW.id = 77;
  END IF;
  IF NEW.name IS NULL THEN
    SET NEW.name = 'made';
  END IF;
END;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO item (qty) VALUES (1);
END;
-- call: p
-- data: SELECT id, name FROM item WHERE qty = 1 : [77, 'made']
-- behaviour: a BEFORE INSERT trigger supplies a key that is a text
CREATE TRIGGER fill BEFORE INSERT ON tag FOR EACH ROW SET NEW.code = COALESCE(NEW.code, 'new');
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  INSERT INTO tag (price) VALUES (5);
  INSERT INTO tag (code, price) VALUES ('own', 6);
END;
-- call: p
-- out: s = NULL
-- data: SELECT code FROM tag WHERE price > 4 ORDER BY code : ['new'] ['own']
-- behaviour: a key that no trigger supplies is 23502 still
CREATE TRIGGER fill BEFORE INSERT ON tag FOR EACH ROW
BEGIN
  IF NEW.price = 1 THEN
    SET NEW.code = 'one';
  END IF;
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO tag (price) VALUES (5);
END;
-- call: p
-- out: s = '23502'
-- data: SELECT COUNT(*) FROM tag : [3]
-- behaviour: AFTER row triggers see all rows of their statement
CREATE TRIGGER total AFTER INSERT ON child FOR EACH ROW
BEGIN
  DECLARE n INTEGER;
  SELECT COUNT(*) INTO n FROM child;
  INSERT INTO log (line) VALUES (CAST(NEW.id AS VARCHAR(5)) || ' of ' || CAST(n AS VARCHAR(5)));
END;
CREATE PROCEDURE p () INSERT INTO child VALUES (31, 1, 'x'), (32, 1, 'y');
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['31 of 5'] ['32 of 5']
-- behaviour: AFTER row triggers of an UPDATE and a DELETE see all rows of their statement
CREATE TRIGGER upd AFTER UPDATE ON tag FOR EACH ROW
BEGIN
  DECLARE n INTEGER;
  SELECT SUM(price) INTO n FROM tag;
  INSERT INTO log (line) VALUES (NEW.code || ' ' || CAST(n AS VARCHAR(5)));
END;
CREATE TRIGGER del AFTER DELETE ON tag FOR EACH ROW
BEGIN
  DECLARE n INTEGER;
  SELECT COUNT(*) INTO n FROM tag;
  INSERT INTO log (line) VALUES (OLD.code || ' ' || CAST(n AS VARCHAR(5)));
END;
CREATE PROCEDURE p ()
BEGIN
  UPDATE tag SET price = 10 WHERE price IS NOT NULL;
  DELETE FROM tag WHERE price IS NOT NULL;
END;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['aa 1'] ['aa 20'] ['cc 1'] ['cc 20']
-- behaviour: the rows of a statement inside an AFTER trigger fire triggers of their own
CREATE TRIGGER upd AFTER UPDATE ON tag FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES (NEW.code || CAST(NEW.price AS VARCHAR(5)));
  IF NEW.price < 3 THEN
    UPDATE tag SET price = NEW.price + 1 WHERE code = NEW.code;
  END IF;
END;
CREATE PROCEDURE p () UPDATE tag SET price = 1 WHERE code IN ('aa', 'cc');
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['aa1'] ['aa2'] ['aa3'] ['cc1'] ['cc2'] ['cc3']
-- data: SELECT price FROM tag ORDER BY code : [3] [NULL] [3]
-- behaviour: AFTER row triggers run row by row, each row through all of them
CREATE TRIGGER a AFTER UPDATE ON tag FOR EACH ROW INSERT INTO log (line) VALUES ('a ' || NEW.code);
CREATE TRIGGER b AFTER UPDATE ON tag FOR EACH ROW INSERT INTO log (line) VALUES ('b ' || NEW.code);
CREATE PROCEDURE p () UPDATE tag SET price = 1 WHERE code = 'aa' OR code = 'cc';
-- call: p
-- data: SELECT COUNT(*) FROM log WHERE n IN (SELECT MIN(n) + 1 FROM log) AND line LIKE 'b%' : [1]
-- data: SELECT line FROM log ORDER BY line : ['a aa'] ['a cc'] ['b aa'] ['b cc']
-- behaviour: a statement that fails in its third row runs no AFTER trigger
CREATE TRIGGER a AFTER INSERT ON must FOR EACH ROW REPORT_ROW: BEGIN INSERT INTO log (line) VALUES (NEW.code); END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23502' SET s = '23502';
  INSERT INTO must VALUES (1, 'a', 'x'), (2, 'b', 'x'), (3, 'c', NULL);
  INSERT INTO must VALUES (4, 'd', 'x');
END;
-- call: p
-- out: s = '23502'
-- data: SELECT line FROM log : ['d']
-- behaviour: a trigger that makes its whole new row NULL is 22004
CREATE TRIGGER lose BEFORE INSERT ON tag FOR EACH ROW SET NEW = NULL;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO tag VALUES ('dd', 4);
END;
-- call: p
-- out: s = '22004'
-- behaviour: what a trigger and a function in SQL report is said
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
BEGIN
  REPORT 'f of ', a;
  RETURN a;
END;
CREATE TRIGGER tell AFTER UPDATE ON tag FOR EACH ROW REPORT 'changed ', NEW.code;
CREATE PROCEDURE p ()
BEGIN
  UPDATE tag SET price = 5 WHERE code = 'aa';
  UPDATE tag SET price = f(6) WHERE code = 'cc';
END;
-- call: p
-- says: changed aa
-- says: f of 6
-- says: changed cc
-- data: SELECT price FROM tag ORDER BY code : [5] [NULL] [6]
