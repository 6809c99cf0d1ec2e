-- behaviour: || binds less than sums and products, in statements and in routines
CREATE PROCEDURE p (IN a INTEGER, OUT v VARCHAR(20), OUT w VARCHAR(20), OUT x VARCHAR(20), OUT y VARCHAR(20))
BEGIN
  SET v = 'x' || 4 / (3 - a) || a * 2 || 'y';
  SET w = (a + 1) / (a) || '-' || (a) * (a + 3);
  SELECT '1' || 4 / a, price || '' || a * 1 INTO x, y FROM tag WHERE code = 'cc';
END;
-- call: p a = 2
-- out: v = 'x44y', w = '1-10', x = '12', y = '32'
-- behaviour: || beside sums in every place of a statement
CREATE PROCEDURE p (IN a INTEGER, OUT v VARCHAR(20))
BEGIN
  INSERT INTO log (line) VALUES ('i' || a + 1 || 'j'), (a * 3 || '');
  INSERT INTO log (line) SELECT 's' || id - 1 || CASE WHEN id > 1 THEN id * 10 ELSE id + 1 END || '.' FROM item WHERE 'k' || id + a = 'k3' ORDER BY '' || -id;
  UPDATE log SET line = line || '/' || n * 0 + a WHERE line LIKE 'i' || a + 1 || '%';
  SELECT MAX(t.line || t.k + 1) INTO v FROM (SELECT line, 2 * 2 AS k FROM log) AS t WHERE t.line IN ('i' || a + 1 || 'j/' || a, 'zz' || 1 / 1);
END;
-- call: p a = 2
-- out: v = 'i3j/25'
-- data: SELECT line FROM log ORDER BY n : ['i3j/2'] ['6'] ['s02.']
-- behaviour: || beside comments and text that hold its own words
CREATE PROCEDURE p (IN a INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('a || 1 + 2' /* || 3 * 4 */ || a -- || 5 / 1
    + 1 || '*');
  INSERT INTO log (line) SELECT COUNT(*) || ':' || SUM(id) * 2 || MOD(MAX(id), 2) + 1 FROM item;
END;
-- call: p a = 4
-- data: SELECT line FROM log ORDER BY n : ['a || 1 + 25*'] ['3:122']
-- behaviour: arithmetic of decimals in a chain, and what is shown of it
CREATE PROCEDURE p (IN a DECIMAL(7, 2), IN b INTEGER, OUT r VARCHAR(200), OUT n DECIMAL(12, 3))
BEGIN
  DECLARE c DECIMAL(5, 3) DEFAULT 0.125; DECLARE d DECIMAL(10) DEFAULT 7.5; DECLARE e NUMERIC(4, 4) DEFAULT 0.5;
  SET r = a * b || ' ' || a + c || ' ' || (a - c) * 2 || ' ' || d || ' ' || e || ' ' || -a || ' ' || a * a || ' ' || (a + b) * (c - 1);
  SET n = a * c; SET r = r || ' ' || n || ' ' || CAST(a AS INTEGER) || ' ' || CAST(c AS DECIMAL(3, 1)) || ' ' || 1.10 || ' ' || .5 || ' ' || 1.;
END;
-- call: p a = 12.34, b = 3
-- out: r = '37.02 12.465 24.430 8 0.5000 -12.34 152.2756 -13.42250 1.543 12 0.1 1.10 0.5 1', n = 1.543
-- behaviour: GET DIAGNOSTICS after each kind of statement
CREATE PROCEDURE p (OUT r VARCHAR(100))
BEGIN
  DECLARE n INTEGER; DECLARE s VARCHAR(5); DECLARE m VARCHAR(999);
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT; SET r = r || s || ' '; END;
  SET r = '';
  UPDATE item SET qty = 0 WHERE id > 1; GET DIAGNOSTICS n = ROW_COUNT; SET r = r || n || ' ';
  DELETE FROM child WHERE id = 999; GET DIAGNOSTICS n = ROW_COUNT; SET r = r || n || ' ';
  INSERT INTO log (line) SELECT name FROM item; GET DIAGNOSTICS n = ROW_COUNT; SET r = r || n || ' ';
  INSERT INTO item (id, name) VALUES (1, 'dup');
  UPDATE item SET qty = -1 WHERE id = 1;
  INSERT INTO child VALUES (99, 77, 'x');
  INSERT INTO item (id) VALUES (50);
  INSERT INTO tag VALUES ('toolong', 1);
  SIGNAL SQLSTATE '45123' SET MESSAGE_TEXT = 'mine'; SET r = r || m;
END;
-- call: p
-- out: r = '2 0 3 23505 23514 23503 23502 22001 45123 mine'
-- data: SELECT qty FROM item ORDER BY id : [10] [0] [0]
-- data: SELECT COUNT(*) FROM log : [3]
-- behaviour: comments and blanks in strange places
CREATE PROCEDURE p(OUT r VARCHAR(50)/* ; */)-- BEGIN
BEGIN/**/DECLARE/* 'x */v/**/INTEGER/* " */DEFAULT--
1;SET r='';/* IF */IF/**/v=1--'
THEN/* END IF; */SET r=r||'a'/* || 'b' */||'c--d'||'/*e*/';END/**/IF;
WHILE(v)<3 DO SET v=v+1;SET r=r||v;END WHILE;
SELECT/* INTO x */r||MAX(name)/* FROM */INTO r FROM item/* WHERE 1 = 0 */WHERE/**/id=1;-- ;
END;
-- call: p
-- out: r = 'ac--d/*e*/23cork'
-- behaviour: what a handler changes is seen after the statement that failed, in an UPDATE's SET list too
CREATE FUNCTION f (n INTEGER) RETURNS INTEGER BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN -1; RETURN 10 / n; END;
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  UPDATE item SET qty = f(qty - 10) + 5 WHERE qty IS NOT NULL;
  SET r = f(0) || ' ' || f(5) || ' ' || COALESCE(f(NULL), 99);
END;
-- call: p
-- out: r = '-1 2 99'
-- data: SELECT qty FROM item ORDER BY id : [4] [6] [NULL]
-- behaviour: EXIT handlers leave their own block, whatever loops and blocks are within
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  a: BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = r || 'A';
    DECLARE EXIT HANDLER FOR SQLSTATE '45002' BEGIN SET r = r || 'B'; LEAVE a; END;
    FOR i IN 1..3 DO
      BEGIN
        DECLARE EXIT HANDLER FOR SQLSTATE '45003' SET r = r || 'C';
        IF i = 1 THEN SIGNAL SQLSTATE '45003'; END IF;
        IF i = 2 THEN SIGNAL SQLSTATE '45001'; END IF;
      END;
      SET r = r || i;
    END FOR;
    SET r = r || 'no';
  END;
  SET r = r || 'end';
END;
-- call: p
-- out: r = 'C1Aend'
-- behaviour: || binds less than sums and products, in every place
CREATE PROCEDURE p (IN a INTEGER, IN d DECIMAL(5, 2), OUT r VARCHAR(200), OUT s VARCHAR(99))
BEGIN
  DECLARE b INTEGER DEFAULT 2;
  SET r = 'x' || a + b || a * b || '-' || a - b || ' ' || -a + 1 || d * 2 || a + b * 3;
  IF 'k' || a + b = 'k' || b + a AND a + 1 || '' LIKE '4%' THEN SET r = r || ' yes'; END IF;
  SET r = r || CASE WHEN '' || a - 1 IN ('2', '9') THEN ' in' ELSE ' out' END;
  SELECT 'q' || i.id + a || ',' || i.qty * b - 1 || COALESCE('c' || a / b, '') INTO s FROM item i WHERE 'i' || i.id + 1 = 'i' || a - 1;
  INSERT INTO log (line) VALUES ('n' || a + b), (d + 1 || 'm');
END;
-- call: p a = 3, d = 1.50
-- out: r = 'x56-1 -23.009 yes in', s = 'q4,19c1'
-- data: SELECT line FROM log ORDER BY n : ['n5'] ['2.50m']
