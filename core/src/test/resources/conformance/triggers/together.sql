-- behaviour: a trigger's function reads the table that is being changed, after the statement
CREATE FUNCTION total () RETURNS INTEGER READS SQL DATA
RETURN (SELECT COALESCE(SUM(price), 0) FROM tag);
CREATE TRIGGER after_all AFTER UPDATE ON tag FOR EACH STATEMENT
INSERT INTO log (line) VALUES ('total ' || total());
CREATE PROCEDURE p () UPDATE tag SET price = 10 WHERE code IN ('aa', 'bb');
-- call: p
-- data: SELECT line FROM log : ['total 23']
-- behaviour: a statement trigger fires for no row, a row trigger does not
CREATE TRIGGER s AFTER DELETE ON tag FOR EACH STATEMENT INSERT INTO log (line) VALUES ('statement');
CREATE TRIGGER r AFTER DELETE ON tag FOR EACH ROW INSERT INTO log (line) VALUES ('row');
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DELETE FROM tag WHERE code = 'zz';
  SELECT COUNT(*) INTO n FROM log WHERE line = 'row';
END;
-- call: p
-- out: n = 0
-- data: SELECT line FROM log : ['statement']
-- behaviour: BEFORE triggers of one table fire by name, each seeing what the one before made
CREATE TRIGGER b2 BEFORE INSERT ON tag FOR EACH ROW SET NEW.price = NEW.price * 10;
CREATE TRIGGER b1 BEFORE INSERT ON tag FOR EACH ROW SET NEW.price = COALESCE(NEW.price, 1) + 1;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO tag VALUES ('dd', 4);
  INSERT INTO tag (code) VALUES ('ee');
END;
-- call: p
-- data: SELECT code, price FROM tag WHERE code > 'd' ORDER BY code : ['dd', 50] ['ee', 20]
-- behaviour: a handler inside a trigger keeps the statement alive, and its row
CREATE TRIGGER tr BEFORE INSERT ON tag REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN ATOMIC
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET n.price = -1;
  SET n.price = 100 / n.price;
END;
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 4), ('ee', 0), ('ff', NULL);
-- call: p
-- data: SELECT code, price FROM tag WHERE code > 'd' ORDER BY code : ['dd', 25] ['ee', -1] ['ff', NULL]
-- behaviour: a condition of a trigger's WHEN that is unknown does not fire it
CREATE TRIGGER tr AFTER UPDATE ON tag REFERENCING OLD ROW AS o NEW ROW AS n FOR EACH ROW
WHEN (o.price < n.price)
INSERT INTO log (line) VALUES (n.code);
CREATE PROCEDURE p () UPDATE tag SET price = 2;
-- call: p
-- data: SELECT line FROM log : ['aa']
-- behaviour: what a trigger signals carries its own state and text through a handler
CREATE TRIGGER tr BEFORE DELETE ON tag REFERENCING OLD ROW AS o FOR EACH ROW
BEGIN ATOMIC
  IF o.price IS NULL THEN
    SIGNAL SQLSTATE '45011' SET MESSAGE_TEXT = 'no price: ' || o.code;
  END IF;
END;
CREATE PROCEDURE p (OUT s CHAR(5), OUT t VARCHAR(40), OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, t = MESSAGE_TEXT;
  DELETE FROM tag;
  SELECT COUNT(*) INTO n FROM tag;
END;
-- call: p
-- out: s = '45011', t = 'no price: bb', n = 3
-- behaviour: a trigger that changes another table with a trigger, and the order of their lines
CREATE TRIGGER one AFTER INSERT ON tag REFERENCING NEW ROW AS n FOR EACH ROW
INSERT INTO parent VALUES (n.price, n.code);
CREATE TRIGGER two AFTER INSERT ON parent REFERENCING NEW ROW AS n FOR EACH ROW
INSERT INTO log (line) VALUES ('parent ' || n.note);
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 40), ('ee', 50);
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['parent dd'] ['parent ee']
-- data: SELECT id, note FROM parent WHERE id > 2 ORDER BY id : [40, 'dd'] [50, 'ee']
-- behaviour: an UPDATE that names a column fires its trigger though the value stays
CREATE TRIGGER tr AFTER UPDATE OF price ON tag REFERENCING NEW ROW AS n FOR EACH ROW
INSERT INTO log (line) VALUES (n.code);
CREATE PROCEDURE p ()
BEGIN
  UPDATE tag SET price = price WHERE code = 'aa';
  UPDATE tag SET code = 'zz' WHERE code = 'cc';
END;
-- call: p
-- data: SELECT line FROM log : ['aa']
-- behaviour: transition tables hold all rows and survive a nested change
CREATE TRIGGER tr AFTER UPDATE ON tag REFERENCING OLD TABLE AS o NEW TABLE AS n FOR EACH STATEMENT
BEGIN ATOMIC
  DECLARE a, b INTEGER;
  SELECT COUNT(*), SUM(price) INTO a, b FROM o;
  INSERT INTO log (line) VALUES ('was ' || a || ' ' || b);
  DELETE FROM child WHERE id = 11;
  SELECT COUNT(*), SUM(price) INTO a, b FROM n;
  INSERT INTO log (line) VALUES ('is ' || a || ' ' || b);
END;
CREATE PROCEDURE p () UPDATE tag SET price = price + 1 WHERE price IS NOT NULL;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['was 2 4'] ['is 2 6']
-- behaviour: a trigger named with a blank and a quote fires and is told apart
CREATE TRIGGER "My ""Trig""" BEFORE INSERT ON tag FOR EACH ROW SET NEW.price = 1;
CREATE TRIGGER "my ""trig""" BEFORE DELETE ON tag FOR EACH ROW
BEGIN ATOMIC
  SIGNAL SQLSTATE '45012';
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO tag VALUES ('dd', 9);
  DELETE FROM tag WHERE code = 'dd';
END;
-- call: p
-- out: s = '45012'
-- data: SELECT price FROM tag WHERE code = 'dd' : [1]
-- behaviour: a function in an INSERT that fails half-way leaves nothing of what it wrote
CREATE FUNCTION noted (t VARCHAR(9)) RETURNS INTEGER MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES (t);
  IF t = 'bad' THEN SIGNAL SQLSTATE '45013'; END IF;
  RETURN 5;
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO tag VALUES ('dd', noted('good')), ('ee', noted('bad'));
END;
-- call: p
-- out: s = '45013'
-- data: SELECT COUNT(*) FROM log : [0]
-- data: SELECT COUNT(*) FROM tag : [3]
-- behaviour: an ATOMIC trigger inside an ATOMIC block that an UNDO handler takes back
CREATE TRIGGER tr AFTER INSERT ON tag REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN ATOMIC
  INSERT INTO log (line) VALUES (n.code);
END;
CREATE PROCEDURE p (OUT r VARCHAR(9))
BEGIN
  INSERT INTO tag VALUES ('dd', 1);
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLEXCEPTION SET r = 'undone';
    INSERT INTO tag VALUES ('ee', 1);
    INSERT INTO tag VALUES ('ee', 2);
  END;
END;
-- call: p
-- out: r = 'undone'
-- data: SELECT line FROM log : ['dd']
-- data: SELECT COUNT(*) FROM tag : [4]
-- behaviour: a trigger on a cascading delete's own event sees the row that goes
CREATE TRIGGER gone AFTER DELETE ON parent REFERENCING OLD ROW AS o FOR EACH ROW
INSERT INTO log (line) VALUES (o.note);
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DELETE FROM parent WHERE id = 1;
  SELECT COUNT(*) INTO n FROM child;
END;
-- call: p
-- out: n = 1
-- data: SELECT line FROM log : ['one']
-- behaviour: a CASE without ELSE in a trigger that nothing fits is 20000 and keeps the row out
CREATE TRIGGER tr BEFORE INSERT ON tag FOR EACH ROW
BEGIN ATOMIC
  CASE NEW.price WHEN 1 THEN SET NEW.code = 'one'; WHEN 2 THEN SET NEW.code = 'two'; END CASE;
END;
CREATE PROCEDURE p (IN k INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO tag VALUES ('x', k);
END;
-- call: p k = 2
-- out: s = NULL
-- call: p k = 3
-- out: s = '20000'
-- call: p k = NULL
-- out: s = '20000'
-- data: SELECT code FROM tag WHERE price = 2 : ['two']
-- behaviour: a comment full of keywords in a trigger changes nothing
CREATE TRIGGER tr /* AFTER DELETE ON log */ BEFORE -- it's AFTER
INSERT ON tag /* FOR EACH STATEMENT */ FOR EACH ROW
/* WHEN (1 = 0) */ SET NEW.price /* = 3; END */ = 7 -- ; BEGIN ATOMIC
;
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 1);
-- call: p
-- data: SELECT price FROM tag WHERE code = 'dd' : [7]
-- behaviour: a trigger calls a procedure that changes rows and hands a value out
CREATE PROCEDURE count_up (IN t VARCHAR(5), OUT n INTEGER) MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES (t);
  SELECT COUNT(*) INTO n FROM log;
END;
CREATE TRIGGER tr BEFORE INSERT ON tag REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN ATOMIC
  DECLARE k INTEGER;
  CALL count_up(n.code, k);
  SET n.price = k;
END;
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 0), ('ee', 0);
-- call: p
-- data: SELECT code, price FROM tag WHERE code > 'd' ORDER BY code : ['dd', 1] ['ee', 2]
-- behaviour: a loop over rows that its own body changes through a trigger sees them as they were
CREATE TRIGGER tr AFTER UPDATE ON tag REFERENCING NEW ROW AS n FOR EACH ROW
INSERT INTO log (line) VALUES (n.code || n.price);
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  SET r = '';
  FOR x AS SELECT code, price FROM tag WHERE price IS NOT NULL ORDER BY code DO
    UPDATE tag SET price = 9 WHERE price IS NOT NULL;
    SET r = r || x.code || x.price || ' ';
  END FOR;
END;
-- call: p
-- out: r = 'aa1 cc3 '
-- data: SELECT COUNT(*) FROM log : [4]
