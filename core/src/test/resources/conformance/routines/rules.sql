-- behaviour: a named condition in an inner block hides the outer one of its name
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE bad CONDITION FOR SQLSTATE '45001';
  DECLARE EXIT HANDLER FOR bad SET r = r || 'outer';
  SET r = '';
  BEGIN
    DECLARE bad CONDITION FOR SQLSTATE '45002';
    DECLARE CONTINUE HANDLER FOR bad SET r = r || 'inner ';
    SIGNAL bad;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: r = 'inner outer'
-- behaviour: a label of an inner loop, LEAVE of the outer one from a handler's block
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE i, j INTEGER DEFAULT 0;
  SET r = '';
  outside: WHILE i < 3 DO
    SET i = i + 1, j = 0;
    inside: REPEAT
      SET j = j + 1;
      IF j = 2 AND i = 1 THEN ITERATE outside; END IF;
      IF i = 3 THEN LEAVE outside; END IF;
      SET r = r || i || j || ' ';
      IF j = 3 THEN LEAVE inside; END IF;
    UNTIL j > 5 END REPEAT inside;
  END WHILE outside;
  SET r = r || 'end' || i;
END;
-- call: p
-- out: r = '11 21 22 23 end3'
-- behaviour: a FETCH past the end sets nothing, again and again, and the handler runs each time
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE k, misses INTEGER DEFAULT 0;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id < 3 ORDER BY id DESC;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET misses = misses + 1;
  SET r = '';
  OPEN c;
  FOR i IN 1..4 DO
    FETCH c INTO k;
    SET r = r || k || ' ';
  END FOR;
  CLOSE c;
  SET r = r || misses;
END;
-- call: p
-- out: r = '2 1 1 1 2'
-- behaviour: a cursor keeps the rows that were there when it was opened
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE k INTEGER;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT price FROM tag WHERE price IS NOT NULL ORDER BY code;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '';
  OPEN c;
  UPDATE tag SET price = price * 100;
  INSERT INTO tag VALUES ('dd', 7);
  FETCH c INTO k;
  WHILE NOT done DO
    SET r = r || k || ' ';
    FETCH c INTO k;
  END WHILE;
  CLOSE c;
  OPEN c;
  FETCH c INTO k;
  SET r = r || k;
END;
-- call: p
-- out: r = '1 3 100'
-- data: SELECT COUNT(*) FROM tag : [4]
-- behaviour: ROW_COUNT of each kind of change
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER, OUT e INTEGER)
BEGIN
  INSERT INTO log (line) SELECT name FROM item;
  GET DIAGNOSTICS a = ROW_COUNT;
  UPDATE tag SET price = price WHERE price > 0;
  GET DIAGNOSTICS b = ROW_COUNT;
  DELETE FROM log WHERE line <> 'cork';
  GET DIAGNOSTICS c = ROW_COUNT;
  UPDATE tag SET price = 5 WHERE code = 'zz';
  GET DIAGNOSTICS d = ROW_COUNT;
  DELETE FROM parent WHERE id = 1;
  GET DIAGNOSTICS e = ROW_COUNT;
END;
-- call: p
-- out: a = 3, b = 2, c = 2, d = 0, e = 1
-- data: SELECT line FROM log : ['cork']
-- data: SELECT id FROM child : [21]
-- data: SELECT id FROM parent : [2]
-- behaviour: a BEFORE trigger changes what is stored, and one after it sees that
CREATE TRIGGER a BEFORE INSERT ON tag REFERENCING NEW AS n FOR EACH ROW SET n.price = COALESCE(n.price, 0) + 10;
CREATE TRIGGER b BEFORE INSERT ON tag REFERENCING NEW AS n FOR EACH ROW WHEN (n.price > 10) SET n.price = n.price * 2;
CREATE TRIGGER c AFTER INSERT ON tag REFERENCING NEW AS n FOR EACH ROW INSERT INTO log (line) VALUES (n.code || n.price);
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO tag VALUES ('x', NULL), ('y', 1);
END;
-- call: p
-- data: SELECT code, price FROM tag WHERE code IN ('x', 'y') ORDER BY code : ['x', 10] ['y', 22]
-- data: SELECT line FROM log ORDER BY line : ['x10'] ['y22']
-- behaviour: a trigger that fails takes its statement with it, whose own handler goes on
CREATE TRIGGER a AFTER UPDATE ON tag REFERENCING NEW AS n OLD AS o FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES (o.code);
  IF n.price > 100 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'dear: ' || n.code; END IF;
END;
CREATE PROCEDURE p (OUT m VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
  UPDATE tag SET price = COALESCE(price, 0) * 50 + 1;
  UPDATE tag SET price = 9 WHERE code = 'bb';
END;
-- call: p
-- out: m = 'dear: cc'
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 1] ['bb', 9] ['cc', 3]
-- data: SELECT line FROM log : ['bb']
-- behaviour: a function that reads is used in a query, a condition, an assignment and an argument
CREATE FUNCTION dear (c VARCHAR(5)) RETURNS INTEGER READS SQL DATA
BEGIN
  DECLARE v INTEGER;
  SELECT price INTO v FROM tag WHERE code = c;
  RETURN COALESCE(v, -1);
END;
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER) SET b = a + 1;
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE n INTEGER;
  IF dear('cc') > dear('aa') THEN SET r = 'yes '; ELSE SET r = 'no '; END IF;
  CALL q(dear('cc') * 2, n);
  SET r = r || n;
  SELECT SUM(dear(code)) INTO n FROM tag WHERE dear(code) > 0 OR code = 'bb';
  SET r = r || ' ' || n;
END;
-- call: p
-- out: r = 'yes 7 3'
-- behaviour: values that do not fit are told by their states
CREATE PROCEDURE p (IN what INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE a SMALLINT;
  DECLARE d DECIMAL(4, 1);
  DECLARE t VARCHAR(3);
  DECLARE e DATE;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET s = 'fine';
  CASE what
    WHEN 1 THEN SET a = 32767 + what;
    WHEN 2 THEN SET d = 999.9 + what;
    WHEN 3 THEN SET t = 'four' || what;
    WHEN 4 THEN SET e = CAST('2023-02-29' AS DATE);
    WHEN 5 THEN SET a = CAST('12x' AS INTEGER);
    WHEN 6 THEN SET t = 'ab   ';
    WHEN 7 THEN SET a = NULL + what;
    ELSE SIGNAL SQLSTATE '45000';
  END CASE;
END;
-- call: p what = 1
-- out: s = '22003'
-- call: p what = 2
-- out: s = '22003'
-- call: p what = 3
-- out: s = '22001'
-- call: p what = 4
-- out: s = '22008'
-- call: p what = 5
-- out: s = '22018'
-- call: p what = 6
-- out: s = 'fine '
-- call: p what = 7
-- out: s = 'fine '
-- call: p what = 8
-- out: s = '45000'
-- behaviour: a handler's own handler, and diagnostics of both
CREATE PROCEDURE p (OUT a CHAR(5), OUT b CHAR(5), OUT c CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000'
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' GET DIAGNOSTICS CONDITION 1 b = RETURNED_SQLSTATE;
    GET DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE;
    SET c = CAST(1 / CHAR_LENGTH('') AS CHAR(5));
    SET c = 'after';
  END;
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- out: a = '45000', b = '22012', c = 'after'
-- behaviour: a table of one's own hides nothing, and is emptied by COMMIT
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE own_rows (n INTEGER, t VARCHAR(9));
  INSERT INTO own_rows SELECT id, name FROM item;
  UPDATE own_rows SET n = n * 2 WHERE t <> 'cork';
  SELECT SUM(n) INTO a FROM own_rows;
  COMMIT;
  SELECT COUNT(*) INTO b FROM own_rows;
END;
-- call: p
-- out: a = 11, b = 0
-- behaviour: MERGE updates, inserts and leaves
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  MERGE INTO tag AS t USING (SELECT name, id FROM item UNION ALL SELECT 'aa', 50 FROM parent WHERE id = 1) AS s
    ON t.code = s.name
    WHEN MATCHED THEN UPDATE SET price = s.id
    WHEN NOT MATCHED AND s.id < 3 THEN INSERT (code, price) VALUES (SUBSTRING(s.name FROM 1 FOR 5), s.id * 7);
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 3
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 50] ['bb', NULL] ['cc', 3] ['cork', 7] ['label', 14]
-- behaviour: a handler for a class's first state beside one for another of it, in either order
CREATE PROCEDURE p (IN s CHAR(5), OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET r = 'first';
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = 'second';
  DECLARE EXIT HANDLER FOR SQLSTATE '23000' SET r = 'never';
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = 'key';
  CASE s
    WHEN '45000' THEN SIGNAL SQLSTATE '45000';
    WHEN '45001' THEN SIGNAL SQLSTATE '45001';
    ELSE INSERT INTO tag VALUES ('aa', 1);
  END CASE;
END;
-- call: p s = '45000'
-- out: r = 'first'
-- call: p s = '45001'
-- out: r = 'second'
-- call: p s = '23505'
-- out: r = 'key'
-- behaviour: a transaction ends in a called procedure, and a handler's goes on
CREATE PROCEDURE q () BEGIN INSERT INTO log (line) VALUES ('q'); COMMIT; INSERT INTO log (line) VALUES ('r'); END;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('p');
  CALL q();
  ROLLBACK;
  SELECT COUNT(*) INTO n FROM log;
END;
-- call: p
-- out: n = 2
-- data: SELECT line FROM log ORDER BY n : ['p'] ['q']
-- behaviour: an integer that is too large for its column, its variable and its product
CREATE PROCEDURE p (IN a INTEGER, OUT s CHAR(5), OUT t CHAR(5), OUT b BIGINT)
BEGIN
  DECLARE v INTEGER DEFAULT 7;
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET s = '22003';
    SET v = a * 2;
  END;
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET t = '22003';
    INSERT INTO tag VALUES ('zz', CAST(p.a AS BIGINT) * 2);
  END;
  SET b = a * 2 + v;
END;
-- call: p a = 2000000000
-- out: s = '22003', t = '22003', b = 4000000007
-- behaviour: text that looks like a number, and a number that looks like text
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b INTEGER, OUT c VARCHAR(9), OUT d BOOLEAN)
BEGIN
  SET a = '10' < '9';
  SET b = CAST(' 12 ' AS INTEGER) + CAST('-3' AS SMALLINT);
  SET c = CAST(-0.50 AS VARCHAR(9)) || CAST(7 AS CHAR(3)) || '|';
  SET d = CAST('1.50' AS DECIMAL(5, 2)) = 1.5;
END;
-- call: p
-- out: a = TRUE, b = 9, c = '-0.507  |', d = TRUE
-- behaviour: TRUE and FALSE as text, from text, and in a column
CREATE PROCEDURE p (IN v BOOLEAN, OUT a VARCHAR(9), OUT b BOOLEAN, OUT c INTEGER)
BEGIN
  SET a = CAST(v AS VARCHAR(9));
  SET b = CAST(' true ' AS BOOLEAN) AND v IS NOT FALSE;
  SELECT COUNT(*) INTO c FROM item WHERE (id > 1) = v OR (qty IS NULL) = v;
END;
-- call: p v = TRUE
-- out: a = 'TRUE', b = TRUE, c = 2
-- call: p v = FALSE
-- out: a = 'FALSE', b = FALSE, c = 2
-- call: p v = NULL
-- out: a = NULL, b = TRUE, c = 0
-- behaviour: a function with two RETURNs, in a loop, with a handler that returns
CREATE FUNCTION f (n INTEGER) RETURNS VARCHAR(20)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN 'zero at ' || i;
  LOOP
    SET i = i + 1;
    IF 12 / (n - i) = 4 THEN RETURN 'four at ' || i; END IF;
  END LOOP;
END;
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20)) SET (a, b) = (f(5), f(2));
-- call: p
-- out: a = 'four at 2', b = 'zero at 2'
-- behaviour: rows are compared, and looked for among others
CREATE PROCEDURE p (IN a INTEGER, IN t VARCHAR(9), OUT v BOOLEAN, OUT w BOOLEAN, OUT n INTEGER)
BEGIN
  SET v = (a, t) = (1, 'x');
  SET w = (a, t) < (1, 'y');
  SELECT COUNT(*) INTO n FROM tag WHERE (price, code) IN (SELECT price, code FROM tag WHERE price >= p.a);
END;
-- call: p a = 1, t = 'x'
-- out: v = TRUE, w = TRUE, n = 2
-- call: p a = 1, t = 'z'
-- out: v = FALSE, w = FALSE, n = 2
-- call: p a = NULL, t = 'z'
-- out: v = FALSE, w = NULL, n = 0
-- behaviour: dates at the ends of months and years
CREATE PROCEDURE p (IN d DATE, OUT a DATE, OUT b DATE, OUT c INTEGER, OUT e INTEGER)
BEGIN
  SET a = d + INTERVAL '1' YEAR;
  SET b = d - INTERVAL '2' MONTH;
  SET c = CAST((DATE '2024-03-01' - d) DAY AS INTEGER);
  SELECT EXTRACT(YEAR FROM d) * 12 + EXTRACT(MONTH FROM CAST(d AS DATE)) INTO e FROM parent WHERE id = 1;
END;
-- call: p d = 2024-02-29
-- out: a = DATE '2025-02-28', b = DATE '2023-12-29', c = 1, e = 24290
-- behaviour: timestamps keep their parts, and are compared to the microsecond
CREATE PROCEDURE p (IN t TIMESTAMP, OUT a BOOLEAN, OUT b TIME, OUT c DATE, OUT e INTEGER)
BEGIN
  SET a = t < TIMESTAMP '2024-02-29 10:20:30.5';
  SET b = CAST(t AS TIME);
  SET c = CAST(t + INTERVAL '14' HOUR AS DATE);
  SET e = EXTRACT(MINUTE FROM t + INTERVAL '45' SECOND);
END;
-- call: p t = 2024-02-29 10:20:30
-- out: a = TRUE, b = TIME '10:20:30', c = DATE '2024-03-01', e = 21
-- behaviour: a procedure without parameters that does nothing, and one of a single IF
CREATE PROCEDURE nothing () BEGIN END;
CREATE PROCEDURE one (IN a INTEGER, INOUT b INTEGER) IF a > 0 THEN SET b = b + a; ELSE BEGIN END; END IF;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 1;
  CALL nothing();
  CALL one(5, n);
  CALL one(b => n, a => -5);
END;
-- call: p
-- out: n = 6
-- behaviour: a cursor with parameters by use sees the variables as they are at OPEN
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE least INTEGER DEFAULT 2;
  DECLARE k INTEGER;
  DECLARE c CURSOR FOR SELECT id + least FROM item WHERE id >= least ORDER BY id;
  SET least = 3;
  OPEN c;
  SET least = 100;
  FETCH c INTO k;
  CLOSE c;
  SET r = k || ' ';
  SET least = 1;
  OPEN c;
  FETCH c INTO k;
  SET r = r || k;
END;
-- call: p
-- out: r = '6 2'
-- behaviour: the same name for a parameter, a column, a table and a label
CREATE PROCEDURE p (IN tag INTEGER, OUT code VARCHAR(20))
code: BEGIN
  DECLARE price INTEGER DEFAULT 0;
  SELECT tag.code, tag.price INTO code, price FROM tag WHERE tag.price = p.tag;
  SET code = code || price || tag;
  IF price > 0 THEN LEAVE code; END IF;
  SET code = 'never';
END;
-- call: p tag = 3
-- out: code = 'cc33'
