-- behaviour: the row that a COALESCE query may not find, in a function that a query calls
CREATE FUNCTION price_of (w VARCHAR(5)) RETURNS INTEGER
BEGIN
  DECLARE v INTEGER DEFAULT -5;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = -1;
  SELECT COALESCE ( price, 0 ) INTO v FROM tag WHERE code = w;
  RETURN v;
END;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER)
BEGIN
  SET a = price_of('aa');
  SET b = price_of('bb');
  SET c = price_of(NULL);
END;
-- call: p
-- out: a = 1, b = 0, c = -1
-- behaviour: COUNT with HAVING may give no row, and GROUP BY over many blanks too
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET c = COALESCE(c, 0) + 1;
  SET a = 7;
  SET b = 7;
  SELECT COUNT(*) INTO a FROM tag
  HAVING /* COUNT(*) > 0 */ COUNT(*) > 100;
  SELECT COUNT(*) INTO b FROM tag WHERE code = 'zz'
  GROUP
     BY   code;
END;
-- call: p
-- out: a = 7, b = 7, c = 2
-- behaviour: an aggregate under a subquery's GROUP BY gives its one row all the same
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET b = 1;
  SELECT COUNT(*) INTO a FROM (SELECT code FROM tag WHERE code = 'zz' GROUP BY code) AS d;
END;
-- call: p
-- out: a = 0, b = NULL
-- behaviour: an apostrophe in a comment between SET and WHERE counts the right rows
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET a = -1;
  UPDATE tag SET price = 8 -- it's dearer
  WHERE code = 'zz';
  UPDATE tag /* WHERE "x */ SET price = 9 -- '
  WHERE code = 'cc' /* ' */;
  GET DIAGNOSTICS b = ROW_COUNT;
END;
-- call: p
-- out: a = -1, b = 1
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 1] ['bb', NULL] ['cc', 9]
-- behaviour: DELETE and INSERT with a quote in a comment set off NOT FOUND as they should
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET a = a + 1;
  SET a = 0;
  DELETE FROM tag -- don't
   WHERE price > 100;
  INSERT INTO log (line) /* isn't ; it */ SELECT code FROM tag WHERE code > 'd';
  INSERT INTO log (line) SELECT code FROM tag WHERE code = 'aa' -- can't
  ;
END;
-- call: p
-- out: a = 2
-- data: SELECT line FROM log : ['aa']
-- behaviour: the handler of an outer block sets its own variable, three blocks deep and in a loop
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE i INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET n = n + 1;
  SET r = '';
  WHILE i < 2 DO
    SET i = i + 1;
    BEGIN
      DECLARE n INTEGER DEFAULT 100;
      BEGIN
        DECLARE n INTEGER DEFAULT 200;
        SIGNAL SQLSTATE '45001';
        SET r = r || n || ' ';
      END;
      SIGNAL SQLSTATE '45001';
      SET r = r || n || ' ';
    END;
  END WHILE;
  SET r = r || n;
END;
-- call: p
-- out: r = '200 100 200 100 4'
-- behaviour: a cursor that is opened where its variable is hidden reads its own
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE w VARCHAR(5) DEFAULT 'cc';
  DECLARE c CURSOR FOR SELECT code FROM tag WHERE code = w;
  BEGIN
    DECLARE w VARCHAR(5) DEFAULT 'aa';
    OPEN c;
    FETCH c INTO r;
    CLOSE c;
    SET r = r || w;
  END;
END;
-- call: p
-- out: r = 'ccaa'
-- behaviour: a query's product in the reach of an EXIT handler may overflow
CREATE PROCEDURE p (OUT n INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET n = 0;
  UPDATE tag SET price = 2000000000 WHERE code = 'cc';
  FOR r AS SELECT price
             *price  * price * 2 AS x FROM tag WHERE code = 'cc' DO
    SET n = n + 1;
  END FOR;
END;
-- call: p
-- out: n = 0, s = '22003'
-- data: SELECT price FROM tag WHERE code = 'cc' : [2000000000]
-- behaviour: a trigger with BEGIN ATOMIC that signals at the second row leaves no row changed
CREATE TRIGGER guard AFTER UPDATE ON tag REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN ATOMIC
  INSERT INTO log (line) VALUES (n.code);
  IF n.code = 'cc' THEN SIGNAL SQLSTATE '45003'; END IF;
END;
CREATE PROCEDURE p (OUT s CHAR(5), OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  UPDATE tag SET price = 50;
  SELECT COUNT(*) INTO n FROM tag WHERE price = 50;
END;
-- call: p
-- out: s = '45003', n = 0
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: RESIGNAL out of a recursion runs each level's handler once
CREATE PROCEDURE q (IN k INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45004'
  BEGIN
    REPORT 'level ', k;
    RESIGNAL;
  END;
  IF k = 0 THEN SIGNAL SQLSTATE '45004' SET MESSAGE_TEXT = 'deep'; END IF;
  CALL q(k - 1);
END;
CREATE PROCEDURE p (OUT t VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 t = MESSAGE_TEXT;
  CALL q(2);
END;
-- call: p
-- says: level 0
-- says: level 1
-- says: level 2
-- out: t = 'deep'
-- behaviour: a fixed text keeps its blanks on the way into a varying one, through a parameter too
CREATE FUNCTION wide (t VARCHAR(10)) RETURNS INTEGER RETURN CHAR_LENGTH(t);
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c VARCHAR(12), OUT d INTEGER)
BEGIN
  DECLARE f CHAR(5) DEFAULT 'ab';
  DECLARE v VARCHAR(10);
  SET v = f;
  SET a = CHAR_LENGTH(v);
  SET b = wide(f);
  SET c = '[' || f || ']';
  SET f = NULL;
  SET d = wide(f);
END;
-- call: p
-- out: a = 5, b = 5, c = '[ab   ]', d = NULL
-- behaviour: TRIM takes one character, of either kind of text, or raises 22027
CREATE PROCEDURE p (IN c VARCHAR(5), OUT t VARCHAR(10), OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET t = TRIM(BOTH c FROM 'xxaxx');
END;
-- call: p c = 'x'
-- out: t = 'a', s = NULL
-- call: p c = 'xx'
-- out: t = NULL, s = '22027'
-- call: p c = ''
-- out: t = NULL, s = '22027'
-- call: p c = NULL
-- out: t = NULL, s = NULL
-- behaviour: OUT and INOUT of one variable: the last parameter's value stays
CREATE PROCEDURE turn (INOUT a INTEGER, OUT b INTEGER)
BEGIN
  SET b = a + 1;
  SET a = 100;
END;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE y INTEGER DEFAULT 5;
  CALL turn(y, y);
  SET r = y;
END;
-- call: p
-- out: r = 6
-- behaviour: a delimited variable that has a blank takes the row of a query
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE "high mark" INTEGER;
  DECLARE "High mark" INTEGER DEFAULT 40;
  SELECT MAX ( price ) INTO "high mark" FROM tag;
  SET r = "high mark" + "High mark";
END;
-- call: p
-- out: r = 43
-- behaviour: an argument that is a query, NULL where it finds nothing
CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
CREATE PROCEDURE q (IN n INTEGER, OUT m INTEGER) SET m = COALESCE(n, -1);
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER)
BEGIN
  SET a = twice((SELECT price FROM tag WHERE code = 'cc'));
  CALL q((SELECT price FROM tag WHERE code = 'zz'), b);
  CALL q((SELECT COUNT(*) FROM tag WHERE price > (SELECT MIN(price) FROM tag)), c);
END;
-- call: p
-- out: a = 6, b = -1, c = 1
-- behaviour: rows are set from one another and compared part by part
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b BOOLEAN, OUT c INTEGER)
BEGIN
  DECLARE r, s ROW(code VARCHAR(5), n INTEGER);
  SET r.code = 'aa';
  SET r.n = 4;
  SET s = r;
  SET a = r = s;
  SET s.n = 5;
  SET b = r < s;
  SET c = r.n;
END;
-- call: p
-- out: a = TRUE, b = TRUE, c = 4
-- behaviour: a function with a CONTINUE handler returns from either place
CREATE FUNCTION f (w VARCHAR(5)) RETURNS INTEGER
BEGIN
  DECLARE v INTEGER;
  DECLARE missed BOOLEAN DEFAULT FALSE;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET missed = TRUE;
  SELECT price INTO v FROM tag WHERE code = w;
  IF missed THEN RETURN -1; END IF;
  RETURN v;
END;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  SET a = f('cc');
  SELECT f('zz') INTO b FROM tag WHERE code = 'aa';
END;
-- call: p
-- out: a = 3, b = -1
-- behaviour: COUNT of what a FINAL TABLE gives, twice, in a loop
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE k INTEGER;
  SET n = 0;
  FOR i IN 1 .. 3 DO
    SELECT COUNT(*) INTO k FROM FINAL TABLE (UPDATE tag SET price = price + i WHERE price IS NOT NULL);
    SET n = n + k;
  END FOR;
END;
-- call: p
-- out: n = 6
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 7] ['bb', NULL] ['cc', 9]
-- behaviour: the key of an INSERT is given to the next one
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE k INTEGER;
  SELECT n INTO k FROM FINAL TABLE (INSERT INTO log (line) VALUES ('first'));
  INSERT INTO log (n, line) VALUES (k + 10, 'second');
  SET a = k;
END;
-- call: p
-- out: a = 1
-- data: SELECT n, line FROM log ORDER BY n : [1, 'first'] [11, 'second']
-- behaviour: a range whose bounds are expressions, and empty where they cross
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT r VARCHAR(40))
BEGIN
  SET r = '';
  FOR i IN a - 1 .. b * 2 DO
    SET r = r || i || ' ';
  END FOR;
  FOR i IN REVERSE a .. b DO
    SET r = r || '-' || i;
  END FOR;
END;
-- call: p a = 1, b = 1
-- out: r = '0 1 2 -1'
-- call: p a = 5, b = 1
-- out: r = ''
-- call: p a = -1, b = 0
-- out: r = '-2 -1 0 -0--1'
-- behaviour: leaving and going on in a range, whose counter hides a variable
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE i INTEGER DEFAULT 50;
  SET r = '';
  turns: FOR i IN 1..9 DO
    IF MOD(i, 2) = 0 THEN ITERATE turns; END IF;
    IF i > 6 THEN LEAVE turns; END IF;
    SET r = r || i;
  END FOR turns;
  SET r = r || ' ' || i;
END;
-- call: p
-- out: r = '135 50'
-- behaviour: a list of assignments goes from left to right
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c VARCHAR(5))
BEGIN
  SET a = 1, b = a + 1, c = 'x' || b;
END;
-- call: p
-- out: a = 1, b = 2, c = 'x2'
-- behaviour: != and % keep the rules of <> and MOD
CREATE PROCEDURE p (IN n INTEGER, OUT a BOOLEAN, OUT b INTEGER, OUT c INTEGER)
BEGIN
  SET a = n != 3;
  SET b = n % 4;
  SET c = -n%4 + 10;
END;
-- call: p n = 7
-- out: a = TRUE, b = 3, c = 7
-- call: p n = 3
-- out: a = FALSE, b = 3, c = 7
-- call: p n = NULL
-- out: a = NULL, b = NULL, c = NULL
-- behaviour: the remainder of nothing is 22012
CREATE PROCEDURE p (IN n INTEGER, OUT a INTEGER) SET a = 7 % n;
-- call: p n = 0
-- raises: 22012
-- behaviour: what a READ ONLY transaction refuses a handler may note, and the next one takes
CREATE PROCEDURE p (OUT s CHAR(5), OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '25006' SET s = 'taken';
  START TRANSACTION READ ONLY;
  DELETE FROM tag WHERE code = 'aa';
  COMMIT;
  DELETE FROM tag WHERE code = 'bb';
  SELECT COUNT(*) INTO n FROM tag;
END;
-- call: p
-- out: s = 'taken', n = 2
-- data: SELECT code FROM tag ORDER BY code : ['aa'] ['cc']
-- behaviour: a BEFORE trigger supplies the key that the INSERT leaves out
CREATE TRIGGER numbered BEFORE INSERT ON parent REFERENCING NEW ROW AS n FOR EACH ROW
BEGIN ATOMIC
  IF n.id IS NULL THEN
    SET n.id = (SELECT MAX(id) FROM parent) + 1;
  END IF;
END;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO parent (note) VALUES ('three');
  INSERT INTO parent (id, note) VALUES (9, 'nine');
  INSERT INTO parent (note) VALUES ('ten');
END;
-- call: p
-- data: SELECT id, note FROM parent ORDER BY id : [1, 'one'] [2, 'two'] [3, 'three'] [9, 'nine'] [10, 'ten']
-- behaviour: AFTER row triggers see all of the statement's rows
CREATE TRIGGER sees AFTER UPDATE ON tag REFERENCING NEW ROW AS n FOR EACH ROW
INSERT INTO log (line) SELECT n.code || ' ' || COUNT(*) FROM tag WHERE price = 40;
CREATE PROCEDURE p () UPDATE tag SET price = 40 WHERE code <> 'bb';
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['aa 2'] ['cc 2']
-- behaviour: a constant that never fits is raised where it is reached, and only there
CREATE PROCEDURE p (IN go BOOLEAN, OUT s CHAR(5), OUT n SMALLINT)
BEGIN
  DECLARE v VARCHAR(3);
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET n = 1;
  IF go THEN SET n = 70000; END IF;
  IF NOT go THEN SET v = 'four'; END IF;
END;
-- call: p go = TRUE
-- out: s = '22003', n = 1
-- call: p go = FALSE
-- out: s = '22001', n = 1
-- call: p go = NULL
-- out: s = NULL, n = 1
-- behaviour: fields of an array's elements are read and set
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE a ROW(code VARCHAR(5), n INTEGER) ARRAY[4] DEFAULT ARRAY[];
  DECLARE one ROW(code VARCHAR(5), n INTEGER);
  DECLARE i INTEGER DEFAULT 1;
  SET one.code = 'x';
  SET one.n = 1;
  SET a[1] = one;
  SET a[2] = one;
  SET a[i + 1].n = a[i].n + 41;
  SET r = a[1].code || a[1].n || ' ' || a[2].n || ' ' || CARDINALITY(a);
END;
-- call: p
-- out: r = 'x1 42 2'
-- behaviour: MERGE that meets a row twice is 21000 and changes nothing
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  MERGE INTO parent AS t USING child AS c ON t.id = c.parent_id
    WHEN MATCHED THEN UPDATE SET note = c.note;
END;
-- call: p
-- out: s = '21000'
-- data: SELECT note FROM parent ORDER BY id : ['one'] ['two']
-- behaviour: the NULL that an aggregate leaves out is a warning, which a handler sees once
CREATE PROCEDURE p (OUT n INTEGER, OUT w INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING
  BEGIN
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
    SET w = COALESCE(w, 0) + 1;
  END;
  SELECT SUM(price) INTO n FROM tag;
  SELECT SUM(price) INTO n FROM tag WHERE price IS NOT NULL;
  SELECT COUNT(*) INTO n FROM tag;
END;
-- call: p
-- out: n = 3, w = 1, s = '01003'
-- behaviour: dynamic CALL hands its OUT parameters out
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER, INOUT c VARCHAR(9))
BEGIN
  SET b = a * 2;
  SET c = c || '!';
END;
CREATE PROCEDURE p (OUT b INTEGER, OUT c VARCHAR(9))
BEGIN
  PREPARE s FROM 'CALL q(?, ?, ?)';
  SET c = 'hey';
  EXECUTE s INTO b, c USING 4, c;
END;
-- call: p
-- out: b = 8, c = 'hey!'
-- behaviour: rows of a temporary table stay away after ROLLBACK
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE own (n INTEGER) ON COMMIT PRESERVE ROWS;
  INSERT INTO own VALUES (1);
  COMMIT;
  INSERT INTO own VALUES (2), (3);
  ROLLBACK;
  SELECT COUNT(*) INTO a FROM own;
  COMMIT;
  SELECT COUNT(*) INTO b FROM own;
END;
-- call: p
-- out: a = 1, b = 1
-- behaviour: an array and NULL together are NULL, and an array may be empty
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b INTEGER, OUT c INTEGER)
BEGIN
  DECLARE x INTEGER ARRAY[5] DEFAULT ARRAY[1, 2];
  DECLARE y INTEGER ARRAY[5];
  SET a = (x || y) IS NULL;
  SET y = ARRAY[];
  SET b = CARDINALITY(x || y);
  SET c = CARDINALITY(y);
END;
-- call: p
-- out: a = TRUE, b = 2, c = 0
-- behaviour: a failing assignment of two columns leaves both targets
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(5), OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET a = 5;
  SET b = 'old';
  SET (a, b) = (SELECT price, code FROM tag WHERE code <> 'bb');
END;
-- call: p
-- out: a = 5, b = 'old', s = '21000'
-- behaviour: CURRENT OF in a FOR over a named cursor deletes and changes its rows
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  FOR r AS c CURSOR FOR SELECT code, price FROM tag FOR UPDATE DO
    IF r.price IS NULL THEN
      DELETE FROM tag WHERE CURRENT OF c;
    ELSE
      UPDATE tag SET price = r.price + 1 WHERE CURRENT OF c;
    END IF;
    SET n = n + 1;
  END FOR;
END;
-- call: p
-- out: n = 3
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 2] ['cc', 4]
-- behaviour: texts with what ends a body, a comment or a statement stay texts
CREATE PROCEDURE p (OUT a VARCHAR(60), OUT b INTEGER)
BEGIN
  -- $body$; it's here
  SET a = '$body$ // */ -- ; ''END''';
  INSERT INTO log (line) VALUES ('/* ' || a); /* '$body_2$ */
  SELECT CHAR_LENGTH(line) INTO b FROM log;
END;
-- call: p
-- out: a = '$body$ // */ -- ; ''END''', b = 26
-- data: SELECT line FROM log : ['/* $body$ // */ -- ; ''END''']
-- behaviour: a cursor over a query with parameters of its block, opened twice with others
CREATE PROCEDURE p ()
BEGIN
  DECLARE low INTEGER DEFAULT 1;
  DECLARE k, q INTEGER;
  DECLARE total INTEGER DEFAULT 0;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT id, COALESCE(qty, low) FROM item WHERE id >= low ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  WHILE low < 4 DO
    SET done = FALSE;
    OPEN c;
    turns: LOOP
      FETCH c INTO k, q;
      IF done THEN LEAVE turns; END IF;
      IF q > 15 THEN ITERATE turns; END IF;
      SET total = total + q * low;
    END LOOP turns;
    CLOSE c;
    SET low = low + 1;
  END WHILE;
  REPORT total;
END;
-- call: p
-- says: 24
-- behaviour: conditions by name through two calls and a function
CREATE FUNCTION risky (n INTEGER) RETURNS INTEGER
BEGIN
  DECLARE bad CONDITION FOR SQLSTATE '45017';
  IF n > 2 THEN SIGNAL bad SET MESSAGE_TEXT = 'n is ' || n; END IF;
  RETURN 10 / (2 - n);
END;
CREATE PROCEDURE middle (IN n INTEGER, OUT r INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' BEGIN SET r = -1; REPORT 'div'; END;
  SET r = 0;
  SET r = risky(n) + risky(n - 1);
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE r INTEGER DEFAULT 77;
  DECLARE m VARCHAR(30);
  DECLARE st CHAR(5);
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < 5 DO
    BEGIN
      DECLARE EXIT HANDLER FOR SQLEXCEPTION
      BEGIN
        GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
        REPORT st, ' ', m, ' ', r;
      END;
      CALL middle(i, r);
      REPORT i, ': ', r;
    END;
    SET i = i + 1;
  END WHILE;
END;
-- call: p
-- says: 0: 8
-- says: 1: 15
-- says: div
-- says: 2: -1
-- says: 45017 n is 3 -1
-- says: 45017 n is 4 -1
-- behaviour: a recursive procedure with a cursor, a savepoint and an OUT at each depth
CREATE PROCEDURE down (IN n INTEGER, INOUT path VARCHAR(60), OUT deepest INTEGER)
BEGIN
  DECLARE k INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id > n ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET k = NULL;
  SET path = path || '(' || n;
  SET deepest = n;
  OPEN c;
  FETCH c INTO k;
  WHILE k IS NOT NULL DO
    IF n < 2 THEN CALL down(k, path, deepest); ELSE SET path = path || '.' || k; END IF;
    FETCH c INTO k;
  END WHILE;
  CLOSE c;
  SET path = path || ')';
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE path VARCHAR(60) DEFAULT '';
  DECLARE d INTEGER;
  CALL down(0, path, d);
  REPORT path, ' ', d;
END;
-- call: p
-- says: (0(1(2.3)(3))(2.3)(3)) 3
-- behaviour: dynamic statements with several markers, NULLs and texts with quotes
CREATE PROCEDURE p ()
BEGIN
  DECLARE s VARCHAR(200);
  DECLARE n INTEGER;
  DECLARE t VARCHAR(30);
  DECLARE tab VARCHAR(10) DEFAULT 'tag';
  SET s = 'UPDATE ' || tab || ' SET price = COALESCE(?, price) + ? WHERE code = ?';
  PREPARE u FROM s;
  EXECUTE u USING NULL, 5, 'aa';
  EXECUTE u USING 40, 2, 'bb';
  GET DIAGNOSTICS n = ROW_COUNT;
  EXECUTE u USING 1, 1, 'it''s';
  PREPARE i FROM 'INSERT INTO tag VALUES (?, ?)';
  EXECUTE i USING 'd''d', NULL;
  PREPARE q FROM 'SELECT code, price FROM tag WHERE price IS NULL AND code <> ?';
  EXECUTE q INTO t, n USING 'zz';
  REPORT t, ' ', COALESCE(n, -1);
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '42S02' REPORT 'no table';
    EXECUTE IMMEDIATE 'DELETE FROM ' || tab || 'gle';
  END;
  EXECUTE IMMEDIATE 'DELETE FROM tag WHERE code = ''d''''d''';
END;
-- call: p
-- says: d'd -1
-- says: no table
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 6] ['bb', 42] ['cc', 3]
-- behaviour: handlers around a loop that opens, fails and goes on
CREATE PROCEDURE p (OUT made INTEGER, OUT failed INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET made = 0; SET failed = 0;
  each: WHILE i < 6 DO
    SET i = i + 1;
    BEGIN ATOMIC
      DECLARE EXIT HANDLER FOR SQLSTATE '23505', SQLSTATE '23514', SQLSTATE '23502'
      BEGIN
        SET failed = failed + 1;
        IF i = 5 THEN LEAVE each; END IF;
      END;
      INSERT INTO log (line) VALUES ('try ' || i);
      INSERT INTO item (id, name, qty) VALUES (i, CASE WHEN i = 4 THEN NULL ELSE 'n' || i END, CASE i WHEN 5 THEN -5 ELSE i END);
      SET made = made + 1;
    END;
  END WHILE each;
END;
-- call: p
-- out: made = 0, failed = 5
-- data: SELECT COUNT(*) FROM item : [3]
-- behaviour: MERGE with conditions, expressions and NULLs
CREATE PROCEDURE p (IN add INTEGER)
BEGIN
  DECLARE n INTEGER;
  MERGE INTO tag AS t USING (SELECT name, qty FROM item UNION ALL SELECT 'aa', add FROM item WHERE id = 1) AS s ON t.code = s.name OR t.code = SUBSTRING(s.name FROM 1 FOR 1) || 'x'
    WHEN MATCHED AND s.qty > 5 THEN UPDATE SET price = COALESCE(t.price, 0) + s.qty / 2
    WHEN MATCHED THEN DELETE
    WHEN NOT MATCHED AND s.qty IS NOT NULL THEN INSERT (code, price) VALUES (SUBSTRING(s.name FROM 1 FOR 5), s.qty);
  GET DIAGNOSTICS n = ROW_COUNT;
  REPORT n;
END;
-- call: p add = 3
-- says: 3
-- data: SELECT code, price FROM tag ORDER BY code : ['bb', NULL] ['cc', 3] ['cork', 10] ['label', 20]
