-- behaviour: MERGE with every branch, its rows and its count
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE low INTEGER DEFAULT 15;
  MERGE INTO item t USING (SELECT id, note FROM parent UNION ALL SELECT 9, 'nine' FROM parent WHERE id = 1) s ON t.id = s.id
    WHEN MATCHED AND t.qty < low THEN UPDATE SET qty = t.qty + low, name = s.note
    WHEN MATCHED THEN DELETE
    WHEN NOT MATCHED THEN INSERT (id, name, qty) VALUES (s.id, s.note, low);
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 3
-- data: SELECT id, name, qty FROM item ORDER BY id : [1, 'one', 25] [3, 'bottle', NULL] [9, 'nine', 15]
-- behaviour: UPDATE with a subquery that reads what it changes, and FROM itself
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  UPDATE item SET qty = (SELECT MAX(i.qty) FROM item i) + id WHERE id <= (SELECT AVG(id) FROM item);
  SET r = '';
  FOR x AS SELECT qty FROM item ORDER BY id DO SET r = r || COALESCE(CAST(x.qty AS VARCHAR(9)), '-') || ' '; END FOR;
END;
-- call: p
-- out: r = '21 22 - '
-- data: SELECT qty FROM item ORDER BY id : [21] [22] [NULL]
-- behaviour: keys, checks and references, each handled by its name
CREATE PROCEDURE p (OUT r VARCHAR(200))
BEGIN
  DECLARE c VARCHAR(60); DECLARE s VARCHAR(5);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505', SQLSTATE '23503', SQLSTATE '23514', SQLSTATE '23502'
  BEGIN
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
    SET r = r || s || ' ';
  END;
  SET r = '';
  INSERT INTO parent VALUES (1, 'x');
  DELETE FROM parent WHERE id = 1;
  UPDATE child SET parent_id = 55 WHERE id = 21;
  UPDATE item SET qty = qty - 100;
  UPDATE item SET name = NULL WHERE id = 1;
  INSERT INTO node VALUES (5, 5); INSERT INTO node VALUES (6, 7);
  SET r = r || (SELECT COUNT(*) FROM child) || (SELECT COUNT(*) FROM node);
END;
-- call: p
-- out: r = '23505 23503 23514 23502 23503 11'
-- data: SELECT id FROM child : [21]
-- data: SELECT id FROM parent : [2]
-- data: SELECT id FROM node : [5]
-- behaviour: conditions declared, raised again, and changed on the way
CREATE PROCEDURE inner_one (IN k INTEGER)
BEGIN
  DECLARE low CONDITION FOR SQLSTATE '45301';
  DECLARE EXIT HANDLER FOR low RESIGNAL SET MESSAGE_TEXT = 'lower';
  DECLARE EXIT HANDLER FOR SQLSTATE '45302' RESIGNAL SQLSTATE '45399' SET MESSAGE_TEXT = 'changed';
  IF k = 1 THEN SIGNAL low SET MESSAGE_TEXT = 'low'; ELSEIF k = 2 THEN SIGNAL SQLSTATE '45302'; ELSEIF k = 3 THEN SIGNAL SQLSTATE '02000'; ELSEIF k = 4 THEN SIGNAL SQLSTATE '01234'; END IF;
  INSERT INTO log (line) VALUES ('on ' || k);
END;
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(60))
BEGIN
  DECLARE s VARCHAR(5); DECLARE m VARCHAR(60);
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT; SET r = s || m; END;
  SET r = 'none';
  CALL inner_one(k);
END;
-- call: p k = 1
-- out: r = '45301lower'
-- call: p k = 2
-- out: r = '45399changed'
-- call: p k = 3
-- out: r = 'none'
-- data: SELECT line FROM log : ['on 3']
-- call: p k = 4
-- out: r = 'none'
-- data: SELECT line FROM log : ['on 3'] ['on 4']
-- behaviour: local temporary tables, filled, joined, emptied and made again
CREATE PROCEDURE fills (IN k INTEGER, OUT n INTEGER, OUT s DECIMAL(9, 2))
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (id INTEGER PRIMARY KEY, price DECIMAL(8, 2) DEFAULT 0.5, name VARCHAR(20));
  INSERT INTO t (id, name) SELECT id, name FROM item WHERE id <= k;
  UPDATE t SET price = price * id WHERE id > 1;
  SELECT COUNT(*), SUM(t.price + i.price) INTO n, s FROM t JOIN item i ON i.id = t.id;
  IF k > 1 THEN DELETE FROM t WHERE id = 1; SET n = n * 10 + (SELECT COUNT(*) FROM t); END IF;
END;
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE n INTEGER; DECLARE s DECIMAL(9, 2);
  CALL fills(1, n, s); SET r = n || ' ' || s;
  CALL fills(3, n, s); SET r = r || ' ' || n || ' ' || s;
  CALL fills(0, n, s); SET r = r || ' ' || n || ' ' || COALESCE(s, -1);
END;
-- call: p
-- out: r = '1 0.75 32 4.85 0 -1.00'
-- behaviour: a scroll cursor, moved every way
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE v VARCHAR(20); DECLARE k INTEGER DEFAULT 2;
  DECLARE c SCROLL CURSOR FOR SELECT name FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = '!';
  SET r = '';
  OPEN c;
  FETCH LAST FROM c INTO v; SET r = r || v || ' ';
  FETCH PRIOR FROM c INTO v; SET r = r || v || ' ';
  FETCH FIRST FROM c INTO v; SET r = r || v || ' ';
  FETCH RELATIVE k FROM c INTO v; SET r = r || v || ' ';
  FETCH NEXT FROM c INTO v; SET r = r || v || ' ';
  FETCH ABSOLUTE -3 FROM c INTO v; SET r = r || v || ' ';
  FETCH ABSOLUTE 9 FROM c INTO v; SET r = r || v;
  CLOSE c;
END;
-- call: p
-- out: r = 'bottle label cork bottle ! cork !'
