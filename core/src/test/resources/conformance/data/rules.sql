-- behaviour: an UPDATE works all values out before it sets any
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET id = id + 100, qty = id, price = qty WHERE id < 3;
END;
-- call: p
-- data: SELECT id, qty, price FROM item ORDER BY id : [3, NULL, 1.50] [101, 1, 10.00] [102, 2, 20.00]
-- behaviour: the order of rows with NULL among their keys
CREATE PROCEDURE p (OUT r VARCHAR(40), OUT s VARCHAR(40))
BEGIN
  SET r = '', s = '';
  FOR t AS SELECT code FROM tag ORDER BY price, code DO SET r = r || t.code || ' '; END FOR;
  FOR t AS SELECT code FROM tag ORDER BY price DESC, code DO SET s = s || t.code || ' '; END FOR;
END;
-- call: p
-- out: r = 'bb aa cc ', s = 'cc aa bb '
-- behaviour: NULLS FIRST and NULLS LAST are said
CREATE PROCEDURE p (OUT r VARCHAR(40), OUT s VARCHAR(40))
BEGIN
  SET r = '', s = '';
  FOR t AS SELECT code FROM tag ORDER BY price NULLS LAST, code DO SET r = r || t.code || ' '; END FOR;
  FOR t AS SELECT code FROM tag ORDER BY price DESC NULLS FIRST DO SET s = s || t.code || ' '; END FOR;
END;
-- call: p
-- out: r = 'aa cc bb ', s = 'bb cc aa '
-- behaviour: the mean of whole numbers
CREATE PROCEDURE p (OUT a DECIMAL(8, 2), OUT b DECIMAL(8, 2))
BEGIN
  SELECT AVG(price) INTO a FROM tag;
  SELECT AVG(id * 1.0) INTO b FROM item WHERE id < 3;
END;
-- call: p
-- out: a = 2.00, b = 1.50
-- behaviour: a long message reaches the caller whole
CREATE PROCEDURE p (OUT n INTEGER, OUT m VARCHAR(300))
BEGIN
  DECLARE t VARCHAR(200) DEFAULT '';
  DECLARE EXIT HANDLER FOR SQLSTATE '45000'
  BEGIN
    GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
    SET n = CHAR_LENGTH(m);
    SET m = SUBSTRING(m FROM 120 FOR 12);
  END;
  FOR i IN 1..20 DO SET t = t || '123456789 '; END FOR;
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = t;
END;
-- call: p
-- out: n = 200, m = ' 123456789 1'
-- behaviour: names that are alike in their first sixty-four letters
CREATE FUNCTION abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_one () RETURNS INTEGER RETURN 1;
CREATE FUNCTION abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_two () RETURNS INTEGER RETURN 2;
CREATE PROCEDURE p (OUT v INTEGER, OUT w INTEGER)
BEGIN
  SET v = abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_one();
  SET w = abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_two();
END;
-- call: p
-- out: v = 1, w = 2
-- behaviour: variables that are alike in their first sixty-four letters
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_one INTEGER DEFAULT 1;
  DECLARE abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_two INTEGER DEFAULT 2;
  SET abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_one = 10;
  SET v = abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_one + abcdefghijklmnopqrstuvwxyz_abcdefghijklmnopqrstuvwxyz_abcdefghij_two;
END;
-- call: p
-- out: v = 12
-- behaviour: variables with the names of what the server has of its own
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE sqlerrm, tg_op, version, row_count, warnings VARCHAR(9) DEFAULT 'x';
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = sqlerrm || tg_op || version || row_count || warnings;
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- out: r = 'xxxxx'
-- behaviour: a derived table with names for its columns
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SELECT SUM(t.b) INTO n FROM (SELECT code, price FROM tag) AS t (a, b) WHERE t.a <> 'cc';
END;
-- call: p
-- out: n = 1
-- behaviour: quantified comparisons, and EXISTS
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c BOOLEAN)
BEGIN
  SELECT COUNT(*) INTO a FROM item WHERE id > ALL (SELECT price FROM tag WHERE price < 3);
  SELECT COUNT(*) INTO b FROM item WHERE id = ANY (SELECT price FROM tag);
  SET c = EXISTS (SELECT 1 FROM tag WHERE price IS NULL) AND NOT EXISTS (SELECT 1 FROM log);
END;
-- call: p
-- out: a = 2, b = 2, c = TRUE
-- behaviour: rows that a subquery of the same table decides about
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DELETE FROM tag WHERE price = (SELECT MAX(price) FROM tag);
  UPDATE tag SET price = (SELECT COUNT(*) FROM tag) WHERE price IS NULL;
  INSERT INTO tag SELECT code || 'x', price FROM tag;
  SELECT COUNT(*) INTO n FROM tag;
END;
-- call: p
-- out: n = 4
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 1] ['aax', 1] ['bb', 2] ['bbx', 2]
-- behaviour: a row of all columns, with an identity and a default
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('one'), (DEFAULT), (NULL);
  SELECT COUNT(*), COUNT(line) INTO a, b FROM log;
END;
-- call: p
-- out: a = 3, b = 1
-- data: SELECT n FROM log ORDER BY n : [1] [2] [3]
-- behaviour: text with quotes, backslashes and percent signs
CREATE PROCEDURE p (IN t VARCHAR(20), OUT r VARCHAR(60))
BEGIN
  INSERT INTO log (line) VALUES ('it''s \n %s $1 ? :x' || t);
  SELECT line INTO r FROM log WHERE line LIKE '%\n%';
  SET r = r || '\' || '''' || '{}';
END;
-- call: p t = 'é€'
-- out: r = 'it''s \n %s $1 ? :xé€\''{}'
-- data: SELECT CHAR_LENGTH(line) FROM log : [20]
-- behaviour: GROUP BY with HAVING, in a loop over its rows
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  FOR g AS SELECT parent_id AS k, COUNT(*) AS n, MIN(note) AS least FROM child GROUP BY parent_id HAVING COUNT(*) > 0 ORDER BY 2 DESC DO
    SET r = r || g.k || g.n || g.least || ' ';
  END FOR;
END;
-- call: p
-- out: r = '12a 21c '
-- behaviour: a recursive query
CREATE PROCEDURE p (IN n INTEGER, OUT s INTEGER)
BEGIN
  WITH RECURSIVE t (k) AS (SELECT 1 FROM parent WHERE id = 1 UNION ALL SELECT k + 1 FROM t WHERE k < n)
  SELECT SUM(k) INTO s FROM t;
END;
-- call: p n = 4
-- out: s = 10
-- behaviour: the order of NULL in every place of a statement
CREATE PROCEDURE p (OUT r VARCHAR(60), OUT n INTEGER, OUT c VARCHAR(5), OUT d VARCHAR(5))
BEGIN
  DECLARE k VARCHAR(5);
  DECLARE q CURSOR FOR SELECT code FROM tag ORDER BY /* price DESC, */ price -- , code
    , CASE WHEN code > 'b' THEN 1 ELSE 2 END DESC;
  SET r = '';
  FOR t AS SELECT code AS x FROM (SELECT code, price FROM tag ORDER BY price FETCH FIRST 2 ROWS ONLY) AS s ORDER BY (price), x DO
    SET r = r || t.x || ' ';
  END FOR;
  OPEN q;
  FETCH q INTO k;
  CLOSE q;
  SET r = r || k;
  SELECT MAX(f) INTO n FROM (SELECT ROW_NUMBER() OVER (PARTITION BY 1 ORDER BY price DESC) AS f, code FROM tag) AS w WHERE w.code = 'bb';
  SET c = (SELECT code FROM tag ORDER BY price DESC FETCH FIRST 1 ROW ONLY);
  EXECUTE IMMEDIATE 'INSERT INTO log (line) SELECT code FROM tag ORDER BY price';
  SELECT line INTO d FROM log ORDER BY n FETCH FIRST 1 ROW ONLY;
END;
-- call: p
-- out: r = 'bb aa bb', n = 3, c = 'cc', d = 'bb'
-- data: SELECT COUNT(*) FROM log : [3]
-- behaviour: GREATEST and LEAST of NULL in a query that is a value
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c BOOLEAN)
BEGIN
  SET a = (SELECT GREATEST(price, 5) FROM tag WHERE code = 'bb');
  SET b = (SELECT COUNT(LEAST(price, 2)) FROM tag) + 10;
  SET c = EXISTS (SELECT 1 FROM tag WHERE GREATEST(price, 1) = 1 AND code = 'bb');
END;
-- call: p
-- out: a = NULL, b = 12, c = FALSE
