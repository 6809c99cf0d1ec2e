-- behaviour: a column wins over a variable of its name
CREATE PROCEDURE p (IN id INTEGER, OUT n INTEGER) SELECT COUNT(*) INTO n FROM item i WHERE i.id = id;
-- call: p id = 2
-- out: n = 3
-- behaviour: the routine's name says which is meant
CREATE PROCEDURE p (IN id INTEGER, OUT n INTEGER) SELECT COUNT(*) INTO n FROM item i WHERE i.id = p.id;
-- call: p id = 2
-- out: n = 1
-- behaviour: in VALUES a bare name is the variable
CREATE PROCEDURE p (IN id INTEGER, IN name VARCHAR(20)) INSERT INTO item (id, name) VALUES (id, name);
-- call: p id = 9, name = 'nine'
-- data: SELECT name FROM item WHERE id = 9 : ['nine']
-- behaviour: variables in subqueries, common table expressions and joins
CREATE PROCEDURE p (IN low INTEGER, OUT n INTEGER)
  WITH big AS (SELECT id AS big_id FROM item WHERE id >= low)
  SELECT COUNT(*) INTO n FROM big b JOIN item i ON i.id = b.big_id AND i.id < low + 5
   WHERE EXISTS (SELECT 1 FROM parent q WHERE q.id <= low);
-- call: p low = 2
-- out: n = 2
-- behaviour: an output name in ORDER BY is not a variable
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE rank INTEGER DEFAULT 1;
  SET r = '';
  FOR one AS SELECT i.id, 10 - i.id AS rank FROM item i ORDER BY rank DO SET r = r || one.id; END FOR;
END;
-- call: p
-- out: r = '321'
-- behaviour: variables in MERGE
CREATE PROCEDURE p (IN wanted INTEGER, IN much INTEGER)
  MERGE INTO item t USING (SELECT id FROM parent WHERE id = wanted) s ON t.id = s.id
  WHEN MATCHED THEN UPDATE SET qty = much;
-- call: p wanted = 2, much = 5
-- data: SELECT qty FROM item WHERE id = 2 : [5]
-- behaviour: variables in CASE, IN, BETWEEN and functions of the database
CREATE PROCEDURE p (IN x INTEGER, OUT n INTEGER)
  SELECT COUNT(*) INTO n FROM item i
   WHERE CASE WHEN i.id = x THEN 1 ELSE 0 END = 1 OR i.id IN (x + 1, 99) OR i.id BETWEEN x AND x
      OR ABS(x) = 77;
-- call: p x = 2
-- out: n = 2
-- behaviour: a function that only the database knows is asked from it
CREATE FUNCTION f (x VARCHAR(20)) RETURNS VARCHAR(20) RETURN REVERSE(x) || SPACE(2) || '.';
CREATE FUNCTION reverse (x VARCHAR(20)) RETURNS VARCHAR(20) RETURN CASE WHEN x = '' THEN '' ELSE reverse(SUBSTRING(x FROM 2)) || SUBSTRING(x FROM 1 FOR 1) END;
-- call: f x = 'abc'
-- returns: 'cba  .'
-- behaviour: a scalar query without a row is NULL
CREATE PROCEDURE p (OUT n INTEGER) SET n = (SELECT id FROM item WHERE id = 99);
-- call: p
-- out: n = NULL
-- behaviour: a scalar query of two rows is 21000
CREATE PROCEDURE p (OUT n INTEGER) SET n = (SELECT id FROM item);
-- call: p
-- raises: 21000
-- behaviour: the fields of a row stand in a data statement
CREATE PROCEDURE p ()
BEGIN
  DECLARE one LIKE item;
  SELECT * INTO one FROM item WHERE id = 1;
  SET one.id = 50;
  SET one.name = 'copy';
  INSERT INTO item VALUES (one.*);
  UPDATE item SET qty = one.qty + 1 WHERE id = one.id;
END;
-- call: p
-- data: SELECT name, qty, price FROM item WHERE id = 50 : ['copy', 11, 0.25]
-- behaviour: a variable keeps its type in a statement
CREATE PROCEDURE p (IN d DECIMAL(8, 2), OUT r DECIMAL(12, 4)) SELECT i.qty * d INTO r FROM item i WHERE i.id = 1;
-- call: p d = 2.55
-- out: r = 25.5000
-- behaviour: EXTRACT in a statement takes its field, not a variable of that name
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE year INTEGER DEFAULT 7;
  SELECT EXTRACT(YEAR FROM DATE '2031-01-01') + year INTO r;
END;
-- call: p
-- out: r = 2038
-- behaviour: delimited names are exact, for tables, columns, variables and parameters
CREATE PROCEDURE p (IN "p q" INTEGER, OUT n INTEGER)
BEGIN
  DECLARE "my var" INTEGER DEFAULT 5;
  SELECT COUNT(*) + "my var" INTO n FROM item AS "the items" WHERE "the items".id <= "p q";
END;
-- call: p p q = 2
-- out: n = 7
-- behaviour: a value of every kind of type goes to the database and comes back
CREATE PROCEDURE p (OUT r VARCHAR(200))
BEGIN
  DECLARE a TIMESTAMP WITH TIME ZONE DEFAULT TIMESTAMP '2031-10-04 09:00:00+02:00';
  DECLARE b TIME DEFAULT TIME '10:30:00';
  DECLARE c VARBINARY(4) DEFAULT X'0AFF';
  DECLARE d DOUBLE PRECISION DEFAULT 2.5E0;
  DECLARE e UUID DEFAULT CAST('11111111-2222-3333-4444-555555555555' AS UUID);
  DECLARE f INTEGER ARRAY DEFAULT ARRAY[1, 2];
  DECLARE g BOOLEAN DEFAULT TRUE;
  DECLARE h CLOB DEFAULT 'long';
  SELECT a, b, c, d, e, f, NOT g, h || 'er' INTO a, b, c, d, e, f, g, h;
  SET r = CAST(a AS VARCHAR(40)) || ' ' || b || ' ' || CAST(c AS VARCHAR(8)) || ' ' || d || ' ' || f[2] || ' ' || g || ' ' || h;
END;
-- call: p
-- out: r = '2031-10-04 09:00:00+02:00 10:30:00 0AFF 2.5 2 FALSE longer'
-- behaviour: a routine may make the table that it then uses
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  CREATE TABLE made (x INTEGER);
  INSERT INTO made VALUES (4), (5);
  SELECT SUM(x) INTO n FROM made;
  DROP TABLE made;
END;
-- call: p
-- out: n = 9
-- behaviour: a value that can't be evaluated in a statement is a condition of the run
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = 'by zero';
  UPDATE item SET qty = 1 / 0;
END;
-- call: p
-- out: r = 'by zero'
-- behaviour: a variable may have the name of a word that SQL uses elsewhere
CREATE PROCEDURE p (IN no INTEGER, IN first VARCHAR(10), OUT r VARCHAR(40))
BEGIN
  DECLARE next INTEGER DEFAULT 7;
  INSERT INTO item (id, name, price) VALUES (no, first, next + no);
  SELECT name || ' ' || price INTO r FROM item WHERE id = no AND price >= next FETCH FIRST ROW ONLY;
END;
-- call: p no = 50, first = 'x'
-- out: r = 'x 57.00'
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50] [50, 'x', NULL, 57.00]
-- behaviour: a variable stands before the FROM of SUBSTRING inside a data statement, and of TRIM behind it
CREATE PROCEDURE p (IN s VARCHAR(10), OUT a VARCHAR(10), OUT b VARCHAR(10), OUT c INTEGER)
BEGIN
  UPDATE item SET name = SUBSTRING(s FROM 2 FOR 3) WHERE id = 1;
  SELECT i.name, TRIM(BOTH 'x' FROM s), EXTRACT(YEAR FROM DATE '2031-10-04') INTO a, b, c FROM item i WHERE i.id = 1;
END;
-- call: p s = 'xabcx'
-- out: a = 'abc', b = 'abc', c = 2031
-- data: SELECT * FROM item ORDER BY 1 : [1, 'abc', 10, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50]
-- behaviour: whole numbers are cut where a data statement divides them, others are not
CREATE PROCEDURE p (IN parts INTEGER, OUT a INTEGER, OUT b DECIMAL(8, 3), OUT c INTEGER)
BEGIN
  SELECT i.id / 2, i.price / 3, i.id / parts INTO a, b, c FROM item i WHERE i.id = 3;
  UPDATE item SET qty = qty / parts WHERE id = 1;
END;
-- call: p parts = 4
-- out: a = 1, b = 0.500, c = 0
-- data: SELECT qty FROM item WHERE id = 1 : [2]
-- call: p parts = 0
-- raises: 22012

-- behaviour: a delimited variable is not a delimited column of another case
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE "Qty" INTEGER DEFAULT 7;
  DECLARE "naïve" VARCHAR(5) DEFAULT 'é';
  SET r = "Qty" || "naïve" || (SELECT MAX(qty) FROM item);
  SET "Qty" = "Qty" + 1;
  SET r = r || "Qty";
END;
-- call: p
-- out: r = '7é208'

-- behaviour: an UPDATE works all its values out before it sets any
CREATE PROCEDURE p ()
UPDATE item SET qty = id, price = qty, name = name || qty WHERE id < 3;
-- call: p
-- data: SELECT name, qty, price FROM item WHERE id < 3 ORDER BY id : ['cork10', 1, 10.00] ['label20', 2, 20.00]

-- behaviour: an UPDATE may pass keys on from row to row
CREATE PROCEDURE p ()
UPDATE must SET id = id + 1;
CREATE PROCEDURE fill ()
INSERT INTO must VALUES (1, 'a', 'x'), (2, 'b', 'x'), (3, 'c', 'x');
-- call: fill
-- call: p
-- data: SELECT id, code FROM must ORDER BY id : [2, 'a'] [3, 'b'] [4, 'c']
-- behaviour: a variable stands right behind an operator that is a word
CREATE PROCEDURE p (IN a VARCHAR(9), OUT n INTEGER, OUT m INTEGER)
BEGIN
  SELECT COUNT(*) INTO n FROM tag WHERE code LIKE a AND code NOT LIKE a || 'x' ESCAPE '!';
  SELECT COUNT(*) INTO m FROM tag t WHERE t.code BETWEEN a AND a OR code IN (a, a);
END;
-- call: p a = 'aa'
-- out: n = 1, m = 1
-- behaviour: functions with the names of keywords are called in SQL, by place and by name
CREATE FUNCTION share (amount INTEGER, part INTEGER DEFAULT 2) RETURNS INTEGER RETURN amount / part;
CREATE FUNCTION percent (n INTEGER) RETURNS INTEGER RETURN n * 100;
CREATE FUNCTION wait (n INTEGER, more INTEGER DEFAULT 1) RETURNS INTEGER RETURN n + more;
CREATE FUNCTION skip (n INTEGER) RETURNS INTEGER RETURN n - 1;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER)
BEGIN
  SELECT share(part => 5, amount => qty), percent(id) + wait(id) INTO a, b FROM item WHERE skip(id) = 0;
  UPDATE item SET qty = share(amount => qty, part => 2) WHERE id = wait(more => 0, n => 1) AND percent (id) > 1;
  SELECT qty, (SELECT MAX(wait(n => share(i.id * 4))) FROM item i WHERE i.id IN (skip(2), skip(3))) INTO c, d
    FROM item WHERE id = 1 ORDER BY skip(id), wait(id) FETCH FIRST 1 ROW ONLY;
END;
-- call: p
-- out: a = 2, b = 102, c = 5, d = 5
-- data: SELECT qty FROM item WHERE id = 1 : [5]
