-- behaviour: a statement trigger fires for no rows, and a row trigger does not
CREATE TRIGGER s1 AFTER UPDATE ON item FOR EACH STATEMENT INSERT INTO log (line) VALUES ('statement');
CREATE TRIGGER r1 AFTER UPDATE ON item REFERENCING NEW ROW AS n FOR EACH ROW INSERT INTO log (line) VALUES ('row ' || n.id);
CREATE PROCEDURE p (IN k INTEGER) UPDATE item SET qty = 1 WHERE id = k;
-- call: p k = 99
-- data: SELECT line FROM log ORDER BY n : ['statement']
-- behaviour: UPDATE OF a column fires where it is set, changed or not; WHEN that is unknown does not
CREATE TRIGGER t1 AFTER UPDATE OF qty ON item REFERENCING OLD ROW AS o NEW ROW AS n FOR EACH ROW WHEN (n.qty > o.qty) INSERT INTO log (line) VALUES (n.id || ' up');
CREATE TRIGGER t2 AFTER UPDATE OF qty ON item REFERENCING NEW ROW AS n FOR EACH ROW INSERT INTO log (line) VALUES (n.id || ' set');
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = qty WHERE id = 1;
  UPDATE item SET price = 9 WHERE id = 1;
  UPDATE item SET qty = 11, price = 8 WHERE id = 1;
  UPDATE item SET qty = 5 WHERE id = 3;
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['1 set'] ['1 up'] ['1 set'] ['3 set']
-- behaviour: BEFORE triggers of a row see what those before them set
CREATE TRIGGER b1 BEFORE INSERT ON item REFERENCING NEW ROW AS n FOR EACH ROW SET n.qty = COALESCE(n.qty, 0) + 1;
CREATE TRIGGER b2 BEFORE INSERT ON item REFERENCING NEW ROW AS n FOR EACH ROW BEGIN SET n.qty = n.qty * 10; SET n.name = n.name || n.qty; END;
CREATE PROCEDURE p () INSERT INTO item (id, name, qty) VALUES (7, 'x', 2), (8, 'y', NULL);
-- call: p
-- data: SELECT id, name, qty FROM item WHERE id > 6 ORDER BY id : [7, 'x30', 30] [8, 'y10', 10]
-- behaviour: a trigger's exception undoes its statement, and what a handler did stays
CREATE TRIGGER g BEFORE DELETE ON child REFERENCING OLD ROW AS o FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES ('try ' || o.id);
  IF o.id = 12 THEN SIGNAL SQLSTATE '45012' SET MESSAGE_TEXT = 'not ' || o.note; END IF;
END;
CREATE PROCEDURE p (OUT m VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45012'
  BEGIN
    GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
    INSERT INTO log (line) VALUES ('handled');
  END;
  DELETE FROM child WHERE parent_id = 1;
  DELETE FROM child WHERE id = 11;
END;
-- call: p
-- out: m = 'not b'
-- data: SELECT id FROM child ORDER BY id : [12] [21]
-- data: SELECT line FROM log ORDER BY n : ['handled'] ['try 11']
-- behaviour: a trigger calls a procedure that changes another table whose trigger signals
CREATE PROCEDURE note (IN t VARCHAR(20)) INSERT INTO log (line) VALUES (t);
CREATE TRIGGER l1 BEFORE INSERT ON log REFERENCING NEW ROW AS n FOR EACH ROW IF n.line = 'bad' THEN SIGNAL SQLSTATE '45100'; END IF;
CREATE TRIGGER p1 AFTER UPDATE ON parent REFERENCING NEW ROW AS n FOR EACH ROW CALL note(n.note);
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45100' SET r = 'no';
  UPDATE parent SET note = 'good' WHERE id = 1;
  UPDATE parent SET note = 'bad' WHERE id = 2;
  SET r = 'yes';
END;
-- call: p
-- out: r = 'no'
-- data: SELECT note FROM parent ORDER BY id : ['good'] ['two']
-- data: SELECT line FROM log ORDER BY n : ['good']
-- behaviour: transition tables, joined and counted, of INSERT from a query
CREATE TRIGGER t1 AFTER INSERT ON must REFERENCING NEW TABLE AS added FOR EACH STATEMENT
  INSERT INTO log (line) SELECT COUNT(*) || ' ' || MIN(a.code) || ' ' || MAX(i.name) FROM added a JOIN item i ON i.id = a.id;
CREATE PROCEDURE p () INSERT INTO must SELECT id, 'c' || id, 'm' FROM item WHERE id < 3;
-- call: p
-- data: SELECT line FROM log : ['2 c1 label']
-- data: SELECT COUNT(*) FROM must : [2]
-- behaviour: a cursor of a block that is run again begins anew, and reads the variables of then
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE k INTEGER DEFAULT 1;
  SET r = '';
  WHILE k < 4 DO
    BEGIN
      DECLARE v VARCHAR(20);
      DECLARE c CURSOR FOR SELECT name FROM item WHERE id >= k ORDER BY id;
      DECLARE EXIT HANDLER FOR NOT FOUND SET r = r || '. ';
      OPEN c;
      SET k = k + 1;
      LOOP FETCH c INTO v; SET r = r || SUBSTRING(v FROM 1 FOR 1); END LOOP;
    END;
  END WHILE;
END;
-- call: p
-- out: r = 'clb. lb. b. '
-- behaviour: a cursor opened twice, closed twice, and fetched when closed
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE v INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '24000' SET r = r || 'no ';
  SET r = '';
  FETCH c INTO v;
  OPEN c; OPEN c;
  FETCH c INTO v; SET r = r || v || ' ';
  CLOSE c; CLOSE c;
  OPEN c; FETCH c INTO v; FETCH c INTO v; SET r = r || v; CLOSE c;
END;
-- call: p
-- out: r = 'no no 1 no 2'
-- behaviour: nested loops over the same cursor query, one changing what the other reads
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  FOR a AS SELECT id, qty FROM item WHERE qty IS NOT NULL ORDER BY id DO
    UPDATE item SET qty = qty + 1 WHERE id <> a.id;
    FOR b AS SELECT id, qty FROM item WHERE id <= a.id AND qty IS NOT NULL ORDER BY id DO
      SET r = r || a.id || b.id || ':' || b.qty || ' ';
    END FOR;
  END FOR;
END;
-- call: p
-- out: r = '11:10 21:11 22:21 '
-- data: SELECT qty FROM item ORDER BY id : [11] [21] [NULL]
