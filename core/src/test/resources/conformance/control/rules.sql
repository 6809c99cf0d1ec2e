-- behaviour: a function that gives a table, joined, filtered and in a loop
CREATE FUNCTION stocked (least INTEGER) RETURNS TABLE (id INTEGER, label VARCHAR(30), worth DECIMAL(10, 2))
  RETURN TABLE (SELECT i.id, 'no ' || i.name, i.qty * i.price FROM item i WHERE i.qty >= least);
CREATE PROCEDURE p (OUT r VARCHAR(99), OUT n DECIMAL(10, 2))
BEGIN
  DECLARE k INTEGER DEFAULT 5;
  SET r = '';
  FOR x AS SELECT s.label, c.note FROM TABLE (stocked(k * 2)) AS s LEFT JOIN child c ON c.parent_id = s.id ORDER BY s.id, c.id DO
    SET r = r || x.label || COALESCE(x.note, '-') || ' ';
  END FOR;
  SELECT SUM(worth) INTO n FROM TABLE (stocked(0)) AS t WHERE t.label LIKE 'no %';
END;
-- call: p
-- out: r = 'no corka no corkb no labelc ', n = 4.50
-- behaviour: positioned changes in a loop over a named cursor
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  FOR x AS c CURSOR FOR SELECT id, qty FROM item ORDER BY id FOR UPDATE DO
    IF x.qty IS NULL THEN DELETE FROM item WHERE CURRENT OF c;
    ELSE UPDATE item SET qty = qty + x.id WHERE CURRENT OF c; END IF;
    SET r = r || x.id;
  END FOR;
END;
-- call: p
-- out: r = '123'
-- data: SELECT id, qty FROM item ORDER BY id : [1, 11] [2, 22]
-- behaviour: nested CASE, REPEAT and labels of one name one after the other
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(60))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  again: REPEAT
    SET i = i + 1;
    CASE
      WHEN i = k THEN CASE i WHEN 1 THEN SET r = r || 'one'; WHEN 3 THEN SET r = r || 'few'; ELSE SET r = r || 'many'; END CASE;
      WHEN i > k + 1 THEN LEAVE again;
      ELSE SET r = r || '.';
    END CASE;
  UNTIL i >= 5 END REPEAT again;
  again: LOOP SET i = i - 1; IF i < 2 THEN LEAVE again; END IF; IF MOD(i, 2) = 0 THEN ITERATE again; END IF; SET r = r || i; END LOOP again;
END;
-- call: p k = 1
-- out: r = 'one.'
-- call: p k = 3
-- out: r = '..few.3'
-- call: p k = 5
-- out: r = '....many3'
-- behaviour: defaults that are worked out where they stand, with what stands before them
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(60))
BEGIN
  DECLARE b INTEGER DEFAULT a * 2; DECLARE c, d INTEGER DEFAULT b + 1; DECLARE e VARCHAR(9) DEFAULT CASE WHEN c > 5 THEN 'big' END;
  DECLARE n INTEGER DEFAULT (SELECT COUNT(*) FROM item WHERE id < a);
  SET r = b || ',' || c || ',' || d || ',' || COALESCE(e, 'null') || ',' || n;
  BEGIN
    DECLARE a INTEGER DEFAULT b + n; DECLARE b INTEGER DEFAULT a * 10;
    SET r = r || ',' || a || ',' || b || ',' || p.a;
  END;
END;
-- call: p a = 3
-- out: r = '6,7,7,big,2,8,80,3'
-- behaviour: an array of texts, sorted by hand
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE a VARCHAR(9) ARRAY[6] DEFAULT ARRAY['pear', 'fig', 'apple', 'kiwi']; DECLARE i, j INTEGER; DECLARE t VARCHAR(9);
  SET i = 1;
  WHILE i < CARDINALITY(a) DO
    SET j = i + 1;
    WHILE j <= CARDINALITY(a) DO
      IF a[j] < a[i] THEN SET t = a[i]; SET a[i] = a[j]; SET a[j] = t; END IF;
      SET j = j + 1;
    END WHILE;
    SET i = i + 1;
  END WHILE;
  SET a = a || ARRAY['zest']; SET a[6] = 'zz';
  SET r = a[1] || a[2] || a[3] || a[4] || a[5] || CARDINALITY(a) || a[CARDINALITY(a)];
END;
-- call: p
-- out: r = 'applefigkiwipearzest6zz'
-- behaviour: a module with a variable, private and public routines
CREATE MODULE counter
  DECLARE total INTEGER DEFAULT 10;
  PRIVATE PROCEDURE bump (IN n INTEGER) SET total = total + n;
  PROCEDURE add (IN n INTEGER) BEGIN CALL bump(n); CALL counter.bump(1); END;
  FUNCTION seen () RETURNS INTEGER RETURN total;
END MODULE;
CREATE PROCEDURE p (OUT r VARCHAR(30)) BEGIN SET r = CAST(counter.seen() AS VARCHAR(30)); END;
CREATE PROCEDURE q (OUT a INTEGER, OUT b INTEGER) BEGIN CALL counter.add(5); SET a = counter.seen(); CALL counter.add(-2); SET b = counter.seen() * 2; END;
-- call: q
-- out: a = 16, b = 30
-- behaviour: NOT FOUND in every statement that can say so
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE v INTEGER DEFAULT 7; DECLARE c CURSOR FOR SELECT id FROM item WHERE 1 = 0;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = r || 'n';
  SET r = '';
  SELECT id INTO v FROM item WHERE id = 0; SET r = r || v;
  UPDATE item SET qty = 1 WHERE id = 0; SET r = r || '2';
  DELETE FROM item WHERE id = 0; SET r = r || '3';
  INSERT INTO log (line) SELECT name FROM item WHERE id = 0; SET r = r || '4';
  OPEN c; FETCH c INTO v; SET r = r || v; CLOSE c;
  SET v = (SELECT id FROM item WHERE id = 0); SET r = r || COALESCE(v, 5);
  FOR x AS SELECT id FROM item WHERE id = 0 DO SET r = r || 'never'; END FOR; SET r = r || '6';
END;
-- call: p
-- out: r = 'n7n2n3n4n756'
-- behaviour: rows returned into a row variable, and its fields in a query
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE w ROW (id INTEGER, name VARCHAR(20), qty INTEGER);
  SELECT id, name, qty INTO w FROM item WHERE id = 2;
  SET r = w.id || w.name || w.qty;
  UPDATE item SET qty = w.qty + item.qty, name = w.name || '!' WHERE id = w.id - 1;
  FOR x AS SELECT name, qty FROM item i WHERE i.id <= w.id ORDER BY id DO SET r = r || ' ' || x.name || x.qty; END FOR;
END;
-- call: p
-- out: r = '2label20 label!30 label20'
-- data: SELECT name FROM item WHERE id = 1 : ['label!']
-- behaviour: a branch of CASE may name several values
CREATE FUNCTION two () RETURNS INTEGER BEGIN INSERT INTO log (line) VALUES ('two'); RETURN 2; END;
CREATE PROCEDURE p (IN k INTEGER, IN c CHAR(4), OUT r VARCHAR(60))
BEGIN
  DECLARE n INTEGER DEFAULT 3;
  CASE k WHEN 1 THEN SET r = 'one'; WHEN 2, n, n + 1 THEN SET r = 'few'; WHEN NULL, 9 THEN SET r = 'nine'; ELSE SET r = 'else'; END CASE;
  CASE c WHEN 'a', 'b' THEN SET r = r || ' ab'; WHEN 'c', 'dd  ' THEN SET r = r || ' cd'; ELSE SET r = r || ' none'; END CASE;
  CASE k + 1 WHEN 10, 2 THEN SET r = r || '!'; ELSE BEGIN END; END CASE;
END;
CREATE PROCEDURE q (OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n = -1;
  CASE two() WHEN 1 / 0, 2 THEN SET n = 5; WHEN 3 THEN SET n = 6; ELSE SET n = 7; END CASE;
END;
-- call: p k = 4, c = 'b'
-- out: r = 'few ab'
-- call: p k = 9, c = 'dd'
-- out: r = 'nine cd!'
-- call: p k = NULL, c = NULL
-- out: r = 'else none'
-- call: p k = 1, c = 'x'
-- out: r = 'one none!'
-- call: q
-- out: n = -1
-- data: SELECT line FROM log : ['two']
