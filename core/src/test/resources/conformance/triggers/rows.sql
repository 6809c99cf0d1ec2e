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
-- behaviour: a trigger fills its new row in every way
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER, INOUT c VARCHAR(20)) BEGIN SET b = a + 1; SET c = c || '!'; END;
CREATE TRIGGER guard BEFORE UPDATE ON item REFERENCING NEW ROW AS now OLD ROW AS was FOR EACH ROW
BEGIN
  DECLARE c CURSOR FOR SELECT qty, name FROM item WHERE id = 2;
  IF was.id = 1 THEN
    SELECT 'from ' || code, price INTO now.name, now.qty FROM tag WHERE code = 'aa';
  ELSEIF was.id = 2 THEN
    OPEN c; FETCH c INTO now.qty, now.name; CLOSE c;
    SELECT 'none', 7 INTO now.name, now.qty FROM tag WHERE code = 'zz';
  ELSE
    CALL q(4, now.qty, now.name);
    SET (now.price) = (SELECT 9.5 FROM tag WHERE code = 'aa');
    SET now.qty = now.qty + (SELECT COUNT(*) FROM tag);
  END IF;
END;
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET price = 1, qty = 50 WHERE id = 1;
  UPDATE item SET price = 2, qty = 50 WHERE id = 2;
  UPDATE item SET price = 3, qty = 50 WHERE id = 3;
END;
-- call: p
-- data: SELECT name, qty, price FROM item ORDER BY id : ['from aa', 1, 1.00] ['label', 20, 2.00] ['bottle!', 8, 9.50]
-- behaviour: a trigger takes from diagnostics what it puts into its new row
CREATE TRIGGER guard BEFORE UPDATE ON item REFERENCING NEW ROW AS now FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' GET DIAGNOSTICS CONDITION 1 now.name = RETURNED_SQLSTATE;
  SIGNAL SQLSTATE '45001';
  SET now.qty = CASE now.qty WHEN NULL THEN 1 WHEN 5 THEN 6 END;
END;
CREATE PROCEDURE p () UPDATE item SET qty = 5 WHERE id = 1;
-- call: p
-- data: SELECT name, qty FROM item WHERE id = 1 : ['45001', 6]
-- behaviour: a trigger's row in loops, queries, handlers and functions
CREATE FUNCTION longer (a VARCHAR(20), b INTEGER) RETURNS VARCHAR(20) RETURN a || b;
CREATE TRIGGER fill BEFORE INSERT ON item REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN
  DECLARE total INTEGER DEFAULT 0;
  FOR r AS SELECT qty FROM item WHERE qty < n.qty ORDER BY qty DO
    SET total = total + r.qty;
    IF total > n.qty THEN SET n.price = total; END IF;
  END FOR;
  WHILE n.qty > 25 DO SET n.qty = n.qty - 10; END WHILE;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET n.name = longer(n.name, n.id);
    SET n.price = COALESCE(n.qty, 0) / (n.id - CASE WHEN n.qty IS NULL THEN 0 ELSE n.id END);
  END;
  IF EXISTS (SELECT 1 FROM item WHERE item.name = n.name) THEN SIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = n.name; END IF;
  INSERT INTO log (line) VALUES ('made ' || n.name || ' ' || COALESCE(CAST(n.price AS VARCHAR(20)), 'free'));
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE said VARCHAR(50);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45009' BEGIN GET DIAGNOSTICS CONDITION 1 said = MESSAGE_TEXT; REPORT said; END;
  INSERT INTO item (id, name, qty) VALUES (4, 'crate', 28);
  INSERT INTO item (id, name, qty) VALUES (5, 'crate', 3), (6, 'crate', 5);
  UPDATE item SET name = 'x7' WHERE id = 3;
  INSERT INTO item (id, name, qty) VALUES (7, 'x', 1);
  INSERT INTO item (id, name) SELECT price + 10, code FROM tag WHERE code = 'aa';
END;
-- call: p
-- says: x7
-- data: SELECT id, name, qty, price FROM item WHERE id > 3 ORDER BY id : [4, 'crate4', 18, 30.00] [5, 'crate5', 3, NULL] [6, 'crate6', 5, NULL] [11, 'aa', NULL, 0.00]
-- data: SELECT line FROM log ORDER BY n : ['made crate4 30.00'] ['made crate5 free'] ['made crate6 free'] ['made aa 0.00']
-- data: SELECT name FROM item WHERE id = 3 : ['x7']
-- behaviour: triggers that fire each other, with NULLs and old values
CREATE TRIGGER down AFTER DELETE ON tag REFERENCING OLD ROW AS o FOR EACH ROW
UPDATE item SET qty = COALESCE(qty, 0) + COALESCE(o.price, 100) WHERE id = 3;
CREATE TRIGGER changed AFTER UPDATE ON item REFERENCING OLD ROW AS o NEW ROW AS n FOR EACH ROW
WHEN (o.qty IS DISTINCT FROM n.qty OR n.name LIKE o.name || '_%')
BEGIN
  DECLARE w VARCHAR(20) DEFAULT 'less';
  IF COALESCE(o.qty, 0) < n.qty THEN SET w = 'more'; END IF;
  INSERT INTO log (line) VALUES (o.name || ' ' || w || ' ' || COALESCE(CAST(o.qty AS VARCHAR(9)), '-'));
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE k INTEGER;
  DELETE FROM tag WHERE code IN ('aa', 'bb');
  GET DIAGNOSTICS k = ROW_COUNT;
  REPORT k;
  UPDATE item SET name = name || 's' WHERE id < 3;
  UPDATE item SET qty = qty WHERE id = 1;
END;
-- call: p
-- says: 2
-- data: SELECT line FROM log ORDER BY n : ['bottle more -'] ['bottle more 1'] ['cork less 10'] ['label less 20']
-- data: SELECT qty FROM item WHERE id = 3 : [101]
-- data: SELECT COUNT(*) FROM tag : [1]
-- data: SELECT name FROM item ORDER BY id : ['corks'] ['labels'] ['bottle']
-- behaviour: a trigger's failure is undone with its statement and no more
CREATE TRIGGER guard BEFORE INSERT ON tag REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES ('try ' || n.code);
  IF n.price < 0 THEN SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'below'; END IF;
  SET n.code = UPPER(n.code);
  SET n.price = CASE n.code WHEN 'ZZ' THEN NULL ELSE n.price * 2 END;
END;
CREATE PROCEDURE p (OUT c INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' REPORT 'refused';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' REPORT 'twice';
  INSERT INTO tag VALUES ('dd', 4);
  INSERT INTO tag VALUES ('ee', 5), ('ff', -1), ('gg', 2);
  INSERT INTO tag VALUES ('zz', 9);
  INSERT INTO tag VALUES ('hh', 1), ('Dd', 7);
  SELECT COUNT(*) INTO c FROM tag WHERE code BETWEEN 'A' AND 'ZZZ';
END;
-- call: p
-- out: c = 2
-- says: refused
-- says: twice
-- data: SELECT code, price FROM tag WHERE code < 'a' ORDER BY code : ['DD', 8] ['ZZ', NULL]
-- data: SELECT line FROM log ORDER BY n : ['try dd'] ['try zz']
-- behaviour: what fails leaves a new row's column as it was
CREATE TRIGGER guard BEFORE UPDATE ON item REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n.name = n.name || '!';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003', SQLSTATE '22001' SET n.name = n.name || '?';
  SET n.price = n.qty / 0;
  SET n.price = 9999999.5 * n.qty;
  SET (n.qty, n.price) = (n.qty + 1, n.price / 0);
  SET n.name = n.name || 'a name that is much too long';
  SET n.price = n.price + (SELECT 1 / (id - 1) FROM item WHERE id = 1);
END;
CREATE PROCEDURE p () UPDATE item SET qty = 50 WHERE id = 3;
-- call: p
-- data: SELECT name, qty, price FROM item WHERE id = 3 : ['bottle!?!?!', 50, 1.50]
-- behaviour: a trigger before an INSERT of rows of its own table
CREATE TRIGGER fill BEFORE INSERT ON item REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET n.name = n.name || n.id;
    SET n.price = 1 / (n.id - n.id);
  END;
END;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO item (id, name) SELECT id + 10, name FROM item WHERE id < 3;
END;
-- call: p
-- data: SELECT id, name, price FROM item WHERE id > 3 : [11, 'cork11', NULL] [12, 'label12', NULL]
-- behaviour: a CHAR column of a new row keeps its blanks in expressions
CREATE TRIGGER padded BEFORE INSERT ON pad REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN
  DECLARE l VARCHAR(20);
  SET l = n.c || '!';
  INSERT INTO log (line) VALUES (l);
  INSERT INTO log (line) VALUES (CAST(CHAR_LENGTH(n.c) AS VARCHAR(3)) || '<' || n.c || '>' || CASE WHEN n.c = 'ab' THEN 'same' ELSE 'other' END);
  IF n.c LIKE 'ab   ' THEN SET n.c = UPPER(n.c); END IF;
  IF n.id > 5 THEN SET n.c = SUBSTRING(n.c FROM 2) || 'x'; END IF;
END;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO pad VALUES (5, 'ab'), (6, 'ab');
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22001' REPORT 'long';
    INSERT INTO pad VALUES (7, 'abcdefg');
  END;
END;
-- call: p
-- says: long
-- data: SELECT id, c FROM pad WHERE id > 4 ORDER BY id : [5, 'AB   '] [6, 'B   x']
-- data: SELECT line FROM log ORDER BY n : ['ab   !'] ['5<ab   >same'] ['ab   !'] ['5<ab   >same']
-- behaviour: rows set together, from a query without a row, and NULL on the way
CREATE TRIGGER many BEFORE UPDATE ON item REFERENCING NEW ROW AS n OLD ROW AS o FOR EACH ROW
BEGIN
  SET (n.qty, n.price) = (n.price, n.qty);
  SET (n.qty, n.price) = (SELECT price, 4 FROM tag WHERE code = 'zz');
  IF n.qty IS NULL THEN SET n.qty = o.qty + 1, n.price = COALESCE(o.price, 0) * 2; END IF;
  SET n.name = NULL;
  SET n.name = o.name || COALESCE(n.name, '+');
  CASE o.id WHEN 1 THEN SET n.qty = 100; WHEN 2 THEN SET n.qty = n.qty * 3; ELSE SET n.price = NULL; END CASE;
END;
CREATE PROCEDURE p () UPDATE item SET qty = 3, price = 7 WHERE id <= 3;
-- call: p
-- data: SELECT id, name, qty, price FROM item ORDER BY id : [1, 'cork+', 100, 0.50] [2, 'label+', 63, 0.20] [3, 'bottle+', NULL, NULL]
-- behaviour: a trigger of a deletion, with a cursor over what is left and a call
CREATE PROCEDURE note (IN w VARCHAR(20), INOUT k INTEGER) BEGIN INSERT INTO log (line) VALUES (w || k); SET k = k + 1; END;
CREATE TRIGGER gone AFTER DELETE ON child REFERENCING OLD ROW AS o FOR EACH ROW
BEGIN
  DECLARE k INTEGER DEFAULT 0;
  DECLARE x INTEGER;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT id FROM parent WHERE id <> o.parent_id ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  OPEN c;
  REPEAT
    FETCH c INTO x;
    IF NOT done THEN CALL note('p' || x || ' ', k); END IF;
  UNTIL done END REPEAT;
  CLOSE c;
  IF k = 0 THEN SIGNAL SQLSTATE '45003'; END IF;
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45003' REPORT 'none left';
  DELETE FROM child WHERE id IN (11, 21);
  DELETE FROM child;
  DELETE FROM parent WHERE id = 1;
  INSERT INTO child VALUES (31, 2, 'z');
  DELETE FROM child WHERE id = 31;
END;
-- call: p
-- says: none left
-- data: SELECT line FROM log ORDER BY n : ['p2 0'] ['p1 0'] ['p2 0']
-- data: SELECT COUNT(*) FROM child : [1]
-- data: SELECT COUNT(*) FROM parent : [1]
-- behaviour: UPDATE OF, WHEN with a function, and both rows in a query
CREATE FUNCTION raised (a INTEGER, b INTEGER) RETURNS BOOLEAN RETURN COALESCE(b, 0) > COALESCE(a, 0);
CREATE TRIGGER up AFTER UPDATE OF qty ON item REFERENCING OLD ROW AS o NEW ROW AS n FOR EACH ROW
WHEN (raised(o.qty, n.qty))
BEGIN
  DECLARE s VARCHAR(20);
  SELECT MAX(code) || ':' || (n.qty - COALESCE(o.qty, 0)) INTO s FROM tag WHERE price > o.id OR code = n.name;
  INSERT INTO log (line) VALUES (COALESCE(s, 'nothing ' || n.id));
END;
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = COALESCE(qty, 0) + 5;
  UPDATE item SET qty = qty - 1 WHERE id = 1;
  UPDATE item SET name = 'cc' WHERE id = 3;
  UPDATE item SET qty = 6 WHERE id = 3;
END;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['cc:1'] ['cc:5'] ['cc:5'] ['nothing 3']
