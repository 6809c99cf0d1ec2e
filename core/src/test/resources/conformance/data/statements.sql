-- behaviour: a column wins over a variable of its name, a qualified name is the variable
CREATE PROCEDURE p (IN id INTEGER, OUT n INTEGER, OUT m INTEGER)
BEGIN
  SELECT COUNT(*) INTO n FROM item WHERE id = id;
  SELECT COUNT(*) INTO m FROM item i WHERE i.id = p.id;
END;
-- call: p id = 2
-- out: n = 3, m = 1
-- behaviour: variables in every part of a query
CREATE PROCEDURE p (IN low INTEGER, IN add_on INTEGER, IN least INTEGER)
SELECT i.id + add_on AS x, COUNT(*) AS c
  FROM item i JOIN (SELECT id FROM item WHERE id >= low) j ON j.id = i.id + low - low
 WHERE i.id > low - 1
 GROUP BY i.id
HAVING COUNT(*) >= least
 ORDER BY i.id DESC
 FETCH FIRST 2 ROWS ONLY;
-- call: p low = 1, add_on = 10, least = 1
-- rows: [13, 1] [12, 1]
-- behaviour: the number of rows of FETCH FIRST may be a variable
CREATE PROCEDURE p (IN n INTEGER) SELECT id FROM item ORDER BY id FETCH FIRST n ROWS ONLY;
-- call: p n = 2
-- rows: [1] [2]
-- behaviour: a common table expression with a variable
CREATE PROCEDURE p (IN least INTEGER, OUT total INTEGER)
WITH big AS (SELECT qty FROM item WHERE qty >= least)
SELECT SUM(qty) INTO total FROM big;
-- call: p least = 15
-- out: total = 20
-- behaviour: UNION, INTERSECT and EXCEPT
CREATE PROCEDURE p (IN k INTEGER)
BEGIN
  SELECT id FROM item WHERE id <= k UNION SELECT id + 1 FROM item WHERE id <= k ORDER BY 1;
  SELECT id FROM item INTERSECT SELECT id FROM parent ORDER BY 1;
  SELECT id FROM item EXCEPT SELECT id FROM parent ORDER BY 1;
END;
-- call: p k = 2
-- rows: [1] [2] [3]
-- rows: [1] [2]
-- rows: [3]
-- behaviour: a correlated subquery in SET of an UPDATE
CREATE PROCEDURE p (IN plus INTEGER)
UPDATE parent SET note = (SELECT MAX(c.note) FROM child c WHERE c.parent_id = parent.id) || plus;
-- call: p plus = 7
-- data: SELECT note FROM parent ORDER BY id : ['b7'] ['c7']
-- behaviour: several columns of an UPDATE see the row as it was
CREATE PROCEDURE p () UPDATE item SET qty = id, id = id + 10 WHERE id = 1;
-- call: p
-- data: SELECT id, qty FROM item WHERE name = 'cork' : [11, 1]
-- behaviour: SELECT INTO with an aggregate always has its row
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER, OUT r VARCHAR(10))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'none';
  SELECT COUNT(*), MAX(qty) INTO n, m FROM item WHERE id > 90;
END;
-- call: p
-- out: n = 0, m = NULL, r = NULL
-- behaviour: aggregates leave NULL out
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER)
SELECT COUNT(*), COUNT(qty), SUM(qty), MIN(qty) INTO a, b, c, d FROM item;
-- call: p
-- out: a = 3, b = 2, c = 30, d = 10
-- behaviour: INSERT of several rows with variables, defaults and NULL
CREATE PROCEDURE p (IN a INTEGER, IN t VARCHAR(10))
INSERT INTO item (id, name, qty, price) VALUES (a, t, NULL, 1), (a + 1, t || '!', DEFAULT, 2.5);
-- call: p a = 7, t = 'x'
-- data: SELECT id, name, qty, price FROM item WHERE id > 3 ORDER BY id : [7, 'x', NULL, 1.00] [8, 'x!', NULL, 2.50]
-- behaviour: a bare name in VALUES is the variable, also where a column is called so
CREATE PROCEDURE p (IN id INTEGER, IN name VARCHAR(10)) INSERT INTO item (id, name) VALUES (id, name);
-- call: p id = 7, name = 'x'
-- data: SELECT name FROM item WHERE id = 7 : ['x']
-- behaviour: DELETE with a subquery and an EXISTS
CREATE PROCEDURE p (IN t VARCHAR(5))
BEGIN
  DELETE FROM child WHERE parent_id IN (SELECT id FROM parent WHERE note = t);
  DELETE FROM parent WHERE NOT EXISTS (SELECT 1 FROM child c WHERE c.parent_id = parent.id);
END;
-- call: p t = 'two'
-- data: SELECT id FROM parent : [1]
-- behaviour: each violation has its SQLSTATE
CREATE PROCEDURE p (IN what INTEGER)
BEGIN
  CASE what
    WHEN 1 THEN INSERT INTO item (id, name) VALUES (1, 'twice');
    WHEN 2 THEN INSERT INTO item (id, name) VALUES (9, NULL);
    WHEN 3 THEN INSERT INTO child VALUES (99, 77, 'orphan');
    WHEN 4 THEN UPDATE item SET qty = -1 WHERE id = 1;
    WHEN 5 THEN UPDATE item SET name = 'a name that is far too long' WHERE id = 1;
    WHEN 6 THEN UPDATE item SET price = 12345678 WHERE id = 1;
    WHEN 7 THEN UPDATE item SET qty = 1 / (id - id) WHERE id = 1;
    WHEN 8 THEN UPDATE item SET id = NULL WHERE id = 1;
  END CASE;
END;
-- call: p what = 1
-- raises: 23505
-- call: p what = 2
-- raises: 23502
-- call: p what = 3
-- raises: 23503
-- call: p what = 4
-- raises: 23514
-- call: p what = 5
-- raises: 22001
-- call: p what = 6
-- raises: 22003
-- call: p what = 7
-- raises: 22012
-- call: p what = 8
-- raises: 23502
-- behaviour: a NULL variable in a comparison finds no row
CREATE PROCEDURE p (IN a INTEGER, OUT n INTEGER)
SELECT COUNT(*) INTO n FROM item WHERE qty = a OR qty <> a;
-- call: p a = null
-- out: n = 0
-- call: p a = 10
-- out: n = 2
-- behaviour: optional filters by NULL
CREATE PROCEDURE p (IN n VARCHAR(20), IN least INTEGER)
SELECT i.name FROM item i
 WHERE (p.n IS NULL OR i.name = p.n) AND (p.least IS NULL OR i.qty >= p.least) ORDER BY i.id;
-- call: p n = null, least = null
-- rows: ['cork'] ['label'] ['bottle']
-- call: p n = 'cork', least = null
-- rows: ['cork']
-- call: p n = null, least = 15
-- rows: ['label']
-- behaviour: LIKE with a pattern from a variable, ESCAPE too
CREATE PROCEDURE p (IN pattern VARCHAR(20), OUT n INTEGER)
SELECT COUNT(*) INTO n FROM item WHERE name LIKE pattern ESCAPE '#';
-- call: p pattern = '%o%'
-- out: n = 2
-- call: p pattern = '#%%'
-- out: n = 0
-- behaviour: a text of a column compares by code point
CREATE PROCEDURE p (IN t VARCHAR(10), OUT n INTEGER) SELECT COUNT(*) INTO n FROM item WHERE name = t;
-- call: p t = 'CORK'
-- out: n = 0
-- call: p t = 'cork '
-- out: n = 0
-- call: p t = 'cork'
-- out: n = 1
-- behaviour: ORDER BY of texts goes by code point
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO item (id, name) VALUES (7, 'Zinc'), (8, 'élan');
  SELECT name FROM item ORDER BY name;
END;
-- call: p
-- rows: ['Zinc'] ['bottle'] ['cork'] ['label'] ['élan']
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50] [7, 'Zinc', NULL, NULL] [8, 'élan', NULL, NULL]
-- behaviour: INTEGER / INTEGER is cut in a data statement too
CREATE PROCEDURE p (IN a INTEGER, OUT x INTEGER, OUT y INTEGER)
SELECT qty / a, -qty / a INTO x, y FROM item WHERE id = 1;
-- call: p a = 4
-- out: x = 2, y = -2
-- behaviour: a window function passes through
CREATE PROCEDURE p ()
SELECT name, ROW_NUMBER() OVER (ORDER BY id DESC) AS nr FROM item ORDER BY id;
-- call: p
-- rows: ['cork', 3] ['label', 2] ['bottle', 1]
-- behaviour: CASE, COALESCE and NULLIF in a data statement
CREATE PROCEDURE p (IN k INTEGER)
SELECT CASE WHEN id = k THEN 'this' ELSE name END AS a, COALESCE(qty, k) AS b, NULLIF(id, k) AS c FROM item ORDER BY id;
-- call: p k = 2
-- rows: ['cork', 10, 1] ['this', 20, NULL] ['bottle', 2, 3]
-- behaviour: SELECT INTO of a row that has NULL stores NULL
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(20))
BEGIN
  SET a = 5;
  SELECT qty, name INTO a, b FROM item WHERE id = 3;
END;
-- call: p
-- out: a = NULL, b = 'bottle'
-- behaviour: an unknown table, column or function is an error at its place
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  SELECT qty INTO a FROM items;
  SELECT quantity INTO a FROM item WHERE id = 1;
  SET a = no_such_function(1);
END;
-- problem: unknown-name
-- problem: unknown-name
-- problem: unknown-name
-- behaviour: a query that gives more values than there are targets is an error
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  SELECT id, qty INTO a FROM item WHERE id = 1;
END;
-- problem: wrong-arguments
-- behaviour: a text that is too long by blanks alone is stored without them
CREATE PROCEDURE p (IN t VARCHAR(30))
MODIFIES SQL DATA
BEGIN
  INSERT INTO item (id, name) VALUES (7, t);
  UPDATE parent SET note = t WHERE id = 1;
END;
-- call: p t = 'twenty letters as it                '
-- data: SELECT name FROM item WHERE id = 7 : ['twenty letters as it']
-- data: SELECT note FROM parent WHERE id = 1 : ['twenty letters as it']
-- call: p t = 'twenty letters as it has  '
-- raises: 22001
