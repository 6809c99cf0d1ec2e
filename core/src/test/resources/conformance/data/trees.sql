-- behaviour: what is divided in a query is seen whole
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DECIMAL(12, 4);
  DECLARE two INTEGER DEFAULT 2;
  DECLARE half DECIMAL(3, 1) DEFAULT 0.5;
  SELECT price * qty / 3 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT qty * 2 / 8 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT qty * 0.5 / 2 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT qty * half / two INTO d FROM item WHERE id = 1; REPORT d;
  SELECT CASE WHEN id = 1 THEN qty ELSE 0 END / 4 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT CASE WHEN id = 1 THEN price ELSE 0 END / 4 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT (SELECT COUNT(*) FROM item) / 2 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT (SELECT MAX(price) FROM item) / 4 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT ABS(qty - 25) / 10 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT COALESCE(price, 0) / 4 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT qty / 3 * price INTO d FROM item WHERE id = 1; REPORT d;
  SELECT price * (qty / 3) INTO d FROM item WHERE id = 1; REPORT d;
  SELECT -qty / 3 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT qty /* of it / */ / 4 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT SUM(qty) / 4 INTO d FROM item; REPORT d;
  SELECT MAX(price) / 4 INTO d FROM item; REPORT d;
END;
-- call: p
-- says: 0.8333
-- says: 2.0000
-- says: 2.5000
-- says: 2.5000
-- says: 2.0000
-- says: 0.0625
-- says: 1.0000
-- says: 0.3750
-- says: 1.0000
-- says: 0.0625
-- says: 0.7500
-- says: 0.7500
-- says: -3.0000
-- says: 2.0000
-- says: 7.0000
-- says: 0.3750
-- behaviour: divisions inside windows, sort keys, groups and joins
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DECIMAL(12, 4);
  DECLARE zero INTEGER DEFAULT 0;
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' REPORT 'by zero';
  SELECT MAX(n) INTO d FROM (SELECT ROW_NUMBER() OVER (PARTITION BY id / 2 ORDER BY id / 2, id) AS n FROM item) AS w; REPORT d;
  SELECT COUNT(*) INTO d FROM (SELECT id / 2 AS k FROM item GROUP BY id / 2) AS g; REPORT d;
  SELECT COUNT(*) INTO d FROM item AS a JOIN item AS b ON a.id / 2 = b.id / 2; REPORT d;
  SELECT id INTO d FROM item ORDER BY id / 2 DESC, id DESC FETCH FIRST ROW ONLY; REPORT d;
  SELECT id INTO d FROM item ORDER BY id / zero FETCH FIRST ROW ONLY; REPORT 'not here';
END;
-- call: p
-- says: 2.0000
-- says: 2.0000
-- says: 5.0000
-- says: 3.0000
-- says: by zero
-- behaviour: a value for a key by another of its kind finds one row
CREATE PROCEDURE p (IN w VARCHAR(5), IN c CHAR(5))
BEGIN
  DECLARE v INTEGER DEFAULT -1;
  DECLARE CONTINUE HANDLER FOR NOT FOUND REPORT 'none';
  DECLARE EXIT HANDLER FOR SQLEXCEPTION REPORT 'other';
  SELECT price INTO v FROM tag WHERE (code = w); REPORT v;
  SELECT price INTO v FROM tag WHERE NOT NOT code = 'cc'; REPORT v;
  SELECT price INTO v FROM tag AS x WHERE 'zz' = x.code AND price IS NOT NULL; REPORT v;
  SELECT COALESCE(MAX(price), 0) + 1 INTO v FROM tag WHERE code = 'zz'; REPORT v;
  SELECT COUNT(*) INTO v FROM tag GROUP   BY price HAVING COUNT(*) > 5; REPORT v;
  UPDATE tag SET price = 7 WHERE (code = w) AND price < 5; REPORT 'done';
  UPDATE tag SET price = 7 WHERE code = w AND price < 5; REPORT 'done';
  DELETE FROM tag WHERE code = 'zz' OR code = 'yy'; REPORT 'done';
END;
-- call: p w = 'aa', c = 'aa'
-- says: 1
-- says: 3
-- says: none
-- says: 3
-- says: 1
-- says: none
-- says: 1
-- says: done
-- says: none
-- says: done
-- says: none
-- says: done
-- data: SELECT price FROM tag ORDER BY code : [7] [NULL] [3]
-- behaviour: a table as a query
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  SELECT COUNT(*) INTO n FROM (TABLE item) AS t; REPORT n;
  IF EXISTS (TABLE tag) THEN REPORT 'some'; END IF;
  INSERT INTO log (n, line) SELECT id, note FROM (SELECT * FROM parent UNION TABLE parent) AS both_of_them;
  REPORT (SELECT COUNT(*) FROM log);
END;
-- call: p
-- says: 3
-- says: some
-- says: 2
-- data: SELECT line FROM log ORDER BY n : ['one'] ['two']
-- behaviour: queries in brackets, put together and sorted
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  DECLARE c CURSOR FOR (SELECT id FROM item WHERE id < 3) UNION ALL (SELECT id FROM parent WHERE id = 2) ORDER BY id DESC;
  DECLARE EXIT HANDLER FOR NOT FOUND REPORT 'end';
  SELECT COUNT(*) INTO n FROM ((SELECT id FROM item) EXCEPT (SELECT id FROM parent)) AS t; REPORT n;
  OPEN c;
  LOOP
    FETCH c INTO n;
    REPORT n;
  END LOOP;
END;
-- call: p
-- says: 1
-- says: 2
-- says: 2
-- says: 1
-- says: end
-- behaviour: TRUNCATE empties a table
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO log (line) VALUES ('a'), ('b');
  TRUNCATE TABLE log;
  REPORT (SELECT COUNT(*) FROM log);
END;
-- call: p
-- says: 0
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: joins in brackets
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  SELECT COUNT(*) INTO n FROM (item AS a JOIN parent AS b ON a.id = b.id) LEFT JOIN child AS c ON c.parent_id = b.id; REPORT n;
  SELECT COUNT(c.id) INTO n FROM item AS a LEFT JOIN (parent AS b JOIN child AS c ON c.parent_id = b.id) ON a.id = b.id; REPORT n;
END;
-- call: p
-- says: 3
-- says: 3
