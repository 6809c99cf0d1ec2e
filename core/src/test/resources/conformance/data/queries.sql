-- behaviour: a query in DEFAULT, in IF, in WHILE and in RETURN
CREATE FUNCTION f (low INTEGER) RETURNS VARCHAR(40)
READS SQL DATA
BEGIN
  DECLARE n INTEGER DEFAULT (SELECT COUNT(*) FROM item WHERE id >= low);
  DECLARE r VARCHAR(20) DEFAULT '';
  IF (SELECT MAX(qty) FROM item) > 15 THEN SET r = 'big '; END IF;
  WHILE n < (SELECT COUNT(*) FROM item) DO
    SET n = n + 1;
    SET r = r || n;
  END WHILE;
  RETURN r || ' ' || (SELECT name FROM item WHERE id = low);
END;
-- call: f low = 2
-- returns: 'big 3 label'
-- call: f low = 3
-- returns: 'big 23 bottle'
-- behaviour: EXISTS and IN of a query decide an IF
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(20))
READS SQL DATA
BEGIN
  IF EXISTS (SELECT 1 FROM child WHERE parent_id = k) THEN SET r = 'has'; ELSE SET r = 'has not'; END IF;
  IF k NOT IN (SELECT id FROM parent) THEN SET r = r || ', no parent'; END IF;
END;
-- call: p k = 1
-- out: r = 'has'
-- call: p k = 9
-- out: r = 'has not, no parent'
-- behaviour: CASE over a query, and a query in a branch
CREATE FUNCTION f (k INTEGER) RETURNS VARCHAR(20)
READS SQL DATA
RETURN CASE (SELECT qty FROM item WHERE id = k)
         WHEN 10 THEN 'ten'
         WHEN 20 THEN (SELECT name FROM item WHERE id = k)
         ELSE 'other'
       END;
-- call: f k = 1
-- returns: 'ten'
-- call: f k = 2
-- returns: 'label'
-- call: f k = 3
-- returns: 'other'
-- behaviour: a FOR changes the rows that its cursor stands on
CREATE PROCEDURE p (OUT n INTEGER)
MODIFIES SQL DATA
BEGIN
  SET n = 0;
  FOR x AS c CURSOR FOR SELECT id, qty FROM item FOR UPDATE DO
    IF x.qty IS NULL THEN
      DELETE FROM item WHERE CURRENT OF c;
    ELSE
      UPDATE item SET qty = x.qty + 1 WHERE CURRENT OF c;
    END IF;
    SET n = n + 1;
  END FOR;
END;
-- call: p
-- out: n = 3
-- data: SELECT id, qty FROM item ORDER BY id : [1, 11] [2, 21]
-- behaviour: a query with DISTINCT, GROUP BY and an expression into variables
CREATE PROCEDURE p (OUT n INTEGER, OUT t VARCHAR(20))
READS SQL DATA
BEGIN
  SELECT COUNT(DISTINCT parent_id) INTO n FROM child;
  SELECT MIN(note) || MAX(note) INTO t FROM child WHERE parent_id = 1 GROUP BY parent_id;
END;
-- call: p
-- out: n = 2, t = 'ab'
-- behaviour: LEFT JOIN keeps what has no partner
CREATE PROCEDURE p ()
SELECT p.id, COUNT(c.id) AS children
  FROM parent p LEFT JOIN child c ON c.parent_id = p.id AND c.note <> 'c'
 GROUP BY p.id ORDER BY p.id;
-- call: p
-- rows: [1, 2] [2, 0]
-- behaviour: a quantified comparison in a data statement
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
READS SQL DATA
BEGIN
  SELECT COUNT(*) INTO n FROM item WHERE id >= ALL (SELECT id FROM item);
  SELECT COUNT(*) INTO m FROM item WHERE id > ANY (SELECT parent_id FROM child);
END;
-- call: p
-- out: n = 1, m = 2
-- behaviour: texts with quotes, line breaks and signs go to the database and come back as they are
CREATE PROCEDURE p (IN t VARCHAR(40), OUT r VARCHAR(40), OUT same BOOLEAN)
MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES (t);
  SELECT line INTO r FROM log;
  SET same = r = t;
END;
-- call: p t = 'it''s "so" \ and ? or %s'
-- out: r = 'it''s "so" \ and ? or %s', same = TRUE
-- call: p t = '-- no comment /* nor this */'
-- raises: 21000
-- data: SELECT * FROM log ORDER BY 1 : [1, 'it''s "so" \ and ? or %s']
-- behaviour: a literal in a data statement may hold what looks like a marker or a comment
CREATE PROCEDURE p (IN k INTEGER)
UPDATE parent SET note = '? -- ''x'' /* ' || k WHERE id = k;
-- call: p k = 1
-- data: SELECT note FROM parent WHERE id = 1 : ['? -- ''x'' /* 1']
-- behaviour: comments in a data statement, nested ones too
CREATE PROCEDURE p (OUT n INTEGER)
SELECT /* all of /* them */ */ COUNT(*) -- and no more
  INTO n
  FROM item /* here */ WHERE /* k */ id > 0;
-- call: p
-- out: n = 3
-- behaviour: an alias hides its table's name, and a derived table has columns of its own
CREATE PROCEDURE p (IN name VARCHAR(20), OUT n INTEGER)
READS SQL DATA
SELECT COUNT(*) INTO n
  FROM (SELECT i.id AS k, UPPER(i.name) AS loud FROM item i) AS x (num, shout)
 WHERE x.shout = UPPER(name) AND x.num > 0;
-- call: p name = 'cork'
-- out: n = 1
-- behaviour: a variable in LIMIT's place, in LIKE, BETWEEN and IN at once
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, IN t VARCHAR(10), IN most INTEGER)
SELECT id FROM item
 WHERE id BETWEEN a AND b AND name LIKE t AND id IN (a, b, a + 1)
 ORDER BY id OFFSET 0 ROWS FETCH NEXT most ROWS ONLY;
-- call: p a = 1, b = 3, t = '%', most = 2
-- rows: [1] [2]
-- behaviour: INSERT … SELECT with a variable, and an UPDATE from a subquery with one
CREATE PROCEDURE p (IN plus INTEGER)
MODIFIES SQL DATA
BEGIN
  INSERT INTO item (id, name, qty) SELECT id + plus, name || plus, qty FROM item WHERE qty > plus;
  UPDATE item SET price = (SELECT COUNT(*) FROM child WHERE parent_id = item.id) + plus WHERE id < 3;
END;
-- call: p plus = 15
-- data: SELECT id, name, qty FROM item WHERE id > 3 : [17, 'label15', 20]
-- data: SELECT price FROM item WHERE id < 3 ORDER BY id : [17.00] [16.00]
-- behaviour: a change inside a function that SQL calls is seen
CREATE FUNCTION noted (x INTEGER) RETURNS INTEGER
MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES ('saw ' || x);
  RETURN x;
END;
CREATE PROCEDURE p ()
MODIFIES SQL DATA
BEGIN
  DECLARE v INTEGER;
  SET v = noted(1) + noted(2);
  IF v = 3 THEN SET v = noted(3); END IF;
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['saw 1'] ['saw 2'] ['saw 3']
-- behaviour: NULL in every kind of parameter of a statement
CREATE PROCEDURE p (IN a INTEGER, IN b VARCHAR(10), IN c DECIMAL(8, 2), IN d DATE)
MODIFIES SQL DATA
BEGIN
  INSERT INTO item (id, name, qty, price) VALUES (9, 'n', a, c);
  INSERT INTO log (line) VALUES (b), (CAST(d AS VARCHAR(10)));
END;
-- call: p a = null, b = null, c = null, d = null
-- data: SELECT qty, price FROM item WHERE id = 9 : [NULL, NULL]
-- data: SELECT COUNT(*) FROM log WHERE line IS NULL : [2]
-- behaviour: a row that is deleted in a loop over it is not visited again
CREATE PROCEDURE p (OUT r VARCHAR(20))
MODIFIES SQL DATA
BEGIN
  SET r = '';
  FOR x AS SELECT id FROM child ORDER BY id DO
    DELETE FROM child WHERE id > x.id;
    SET r = r || x.id || ' ';
  END FOR;
END;
-- call: p
-- out: r = '11 12 21 '
-- data: SELECT COUNT(*) FROM child : [1]
-- behaviour: GREATEST and LEAST in a data statement are NULL where a value is
CREATE PROCEDURE p (IN a INTEGER, OUT x INTEGER, OUT y INTEGER, OUT n INTEGER)
MODIFIES SQL DATA
BEGIN
  SELECT GREATEST(i.id, a), LEAST(i.id, a, 2) INTO x, y FROM item i WHERE i.id = 3;
  SELECT GREATEST(COUNT(*), 5) INTO n FROM item;
  UPDATE item SET qty = GREATEST(qty - 15, 0);
END;
-- call: p a = 7
-- out: x = 7, y = 2, n = 5
-- call: p a = null
-- out: x = NULL, y = NULL, n = 5
-- data: SELECT qty FROM item ORDER BY id : [0] [0] [NULL]
-- behaviour: IS DISTINCT FROM a variable in a data statement
CREATE PROCEDURE p (IN a INTEGER, OUT n INTEGER, OUT m INTEGER, OUT b BOOLEAN)
READS SQL DATA
BEGIN
  SELECT COUNT(*) INTO n FROM item i WHERE i.qty IS DISTINCT FROM a AND i.id > 0;
  SELECT COUNT(*) INTO m FROM item i WHERE i.qty IS NOT DISTINCT FROM a;
  SELECT i.qty IS DISTINCT FROM a INTO b FROM item i WHERE i.id = 1;
END;
-- call: p a = 10
-- out: n = 2, m = 1, b = FALSE
-- call: p a = null
-- out: n = 2, m = 1, b = TRUE
-- behaviour: a query whose sums are too large leaves all its variables alone
CREATE PROCEDURE p (OUT a INTEGER, OUT b BIGINT)
BEGIN
  DECLARE big BIGINT DEFAULT 9223372036854775807;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' BEGIN END;
  SET a = 5;
  SET b = 6;
  SELECT id, big + qty INTO a, b FROM item WHERE id = 1;
END;
-- call: p
-- out: a = 5, b = 6
