-- behaviour: CAST in a query of a text that is no number
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER DEFAULT -1;
  DECLARE d DECIMAL(10, 3);
  DECLARE what VARCHAR(10) DEFAULT 'B';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22018' REPORT 'no number';
  SELECT CAST(what AS INTEGER) INTO n FROM item WHERE id = 1;
  REPORT n;
  SELECT COUNT(*) INTO n FROM item WHERE cast ( what as DECIMAL (10 , 2)) = 0;
  REPORT n;
  UPDATE item SET qty = CAST(what AS SMALLINT) WHERE id = 1;
  SET what = ' 12 ';
  SELECT CAST(what AS INTEGER), CAST('5' || TRIM(what) AS DECIMAL(9, 2)) INTO n, d FROM item WHERE id = CAST('1' AS BIGINT);
  REPORT n, ' ', d;
  SET n = (SELECT CAST('x' || what AS DOUBLE PRECISION) FROM item WHERE id = 1);
END;
-- call: p
-- says: no number
-- says: -1
-- says: no number
-- says: -1
-- says: no number
-- says: 12 512.000
-- says: no number
-- behaviour: CAST in a query of a number that does not fit
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER DEFAULT -1;
  DECLARE big BIGINT DEFAULT 3000000000;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' REPORT 'does not fit';
  SELECT COUNT(*) INTO n FROM item WHERE CAST(40000 + id AS SMALLINT) > 0;
  SELECT COUNT(*) INTO n FROM item WHERE CAST(big AS INTEGER) > 0;
  SELECT COUNT(*) INTO n FROM item WHERE CAST(-big AS INTEGER) > 0;
  SELECT COUNT(*) INTO n FROM item WHERE CAST(1000 * id AS DECIMAL(5, 2)) > 0;
  REPORT n;
  SELECT COUNT(*) INTO n FROM item WHERE CAST(CAST(32766 + id AS SMALLINT) AS INTEGER) = 32767 AND id = 1 AND CAST(-2147483648 AS INTEGER) < 0 AND CAST(2.5 AS INTEGER) = 3;
  REPORT n;
END;
-- call: p
-- says: does not fit
-- says: does not fit
-- says: does not fit
-- says: does not fit
-- says: -1
-- says: 1
-- behaviour: a loop over texts cast to numbers that are none
CREATE PROCEDURE p ()
BEGIN
  DECLARE what VARCHAR(10) DEFAULT 'B';
  DECLARE EXIT HANDLER FOR SQLSTATE '22018' REPORT 'no number';
  FOR r AS SELECT CAST(UPPER(what) AS BIGINT) AS x FROM item DO REPORT 'row'; END FOR;
END;
-- call: p
-- says: no number
-- behaviour: bytes written in a data statement, and TRUNCATE there
CREATE PROCEDURE p ()
BEGIN
  DECLARE bits VARBINARY DEFAULT X'FF00';
  DECLARE n INTEGER;
  DECLARE d DECIMAL(6, 2);
  SELECT COUNT(*) INTO n FROM item WHERE bits = x'ff00' AND bits || X'41' = X'FF0041' AND 'X''41''' <> '';
  SELECT TRUNCATE(price * 10, 1) INTO d FROM item WHERE id = 1;
  REPORT n, ' ', d;
END;
-- call: p
-- says: 3 2.50
-- behaviour: casts and divisions together
CREATE FUNCTION same_small (a SMALLINT) RETURNS SMALLINT RETURN a;
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DECIMAL(12, 4);
  DECLARE s VARCHAR(10);
  DECLARE x DOUBLE PRECISION DEFAULT 2.5;
  DECLARE neg INTEGER DEFAULT -4;
  DECLARE day DATE DEFAULT DATE '2028-02-29';
  DECLARE t TIME(0);
  DECLARE r SMALLINT;
  SELECT CAST(price / -2 AS DECIMAL(12, 4)) INTO d FROM item WHERE id = 1;
  REPORT d;
  SELECT CAST(price / +0.5 AS DECIMAL(12, 4)) INTO d FROM item WHERE id = 1;
  REPORT d;
  SELECT CAST(name || 'abcdef' AS VARCHAR(3)) INTO s FROM item WHERE id = 1;
  REPORT s;
  SELECT CASE WHEN id = 2 THEN t ELSE CAST(CAST(day AS TIMESTAMP(0)) AS TIME(0)) END INTO t FROM item WHERE id = 1;
  REPORT t;
  SELECT CAST(CAST(day AS TIMESTAMP(0)) AS TIME(0)) INTO t FROM item WHERE id = 1;
  REPORT t;
  SET r = same_small(CEILING(CAST(x AS SMALLINT)));
  REPORT r;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '2201F' REPORT 'no root';
    SET d = CAST(POWER(neg, 0.5) AS DECIMAL(9, 2));
    REPORT d;
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '2201F' REPORT 'no root';
    SET d = ROUND(POWER(0, neg), 2);
    REPORT d;
  END;
  REPORT CAST(POWER(neg, 3) AS DECIMAL(9, 2)), ' ', ROUND(CAST(POWER(neg, -1) AS DECIMAL(9, 2)), 1), ' ', CAST(POWER(0, 0) AS INTEGER), COALESCE(CAST(POWER(neg, NULL) AS DECIMAL(9, 1)), 7);
END;
-- call: p
-- says: -0.1250
-- says: 0.5000
-- says: cor
-- says: 00:00:00
-- says: 00:00:00
-- says: 3
-- says: no root
-- says: no root
-- says: -64.00 -0.3 17.0
-- behaviour: divisions in a query, whatever is divided
CREATE FUNCTION seven () RETURNS INTEGER RETURN 7;
CREATE FUNCTION rate () RETURNS DECIMAL(5, 2) RETURN 7;
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DECIMAL(12, 4);
  DECLARE e DECIMAL(12, 4);
  DECLARE neg INTEGER DEFAULT -2;
  SELECT CHAR_LENGTH(name) / 3 INTO d FROM item WHERE id = 2; REPORT d;
  SELECT CASE WHEN name = 'cork' AND price / 2 > 0 THEN 7 ELSE 9 END / 2 INTO d FROM item WHERE id = 2; REPORT d;
  SELECT qty / -3 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT qty / + neg / - (1 + 1) INTO d FROM item WHERE id = 1; REPORT d;
  SELECT SUM(qty) OVER (ORDER BY price / 3) / 3 INTO d FROM item WHERE id = 1; REPORT d;
  SELECT COUNT(*) / 2 INTO d FROM item; REPORT d;
  SELECT price/1E1 INTO d FROM item WHERE id = 3; REPORT d;
  SELECT qty / seven() INTO d FROM item WHERE id = 2; REPORT d;
  SELECT qty / rate() INTO d FROM item WHERE id = 2; REPORT d;
  SELECT EXTRACT(YEAR FROM DATE '2031-01-01') / 2 INTO d FROM item WHERE id = 2; REPORT d;
  SELECT POSITION('e' IN name)/2, AVG(qty) / 2 INTO d, e FROM (SELECT name, qty FROM item WHERE id = 2) AS x GROUP BY name; REPORT d, ' ', e;
END;
-- call: p
-- says: 1.0000
-- says: 4.0000
-- says: -3.0000
-- says: 2.0000
-- says: 3.0000
-- says: 1.0000
-- says: 0.1500
-- says: 2.0000
-- says: 2.8571
-- says: 1015.0000
-- says: 2.0000 10.0000
-- behaviour: the least number, twice
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER DEFAULT -2147483648;
  REPORT n + n;
  REPORT EXTRACT(MINUTE FROM TIME '12:30:01') * (-2147483648 + n);
END;
-- call: p
-- says: -4294967296
-- says: -128849018880
-- behaviour: a text in a query that is no moment
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER DEFAULT -1;
  DECLARE d DATE;
  DECLARE what VARCHAR(20) DEFAULT 'soon';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22007' REPORT 'no moment';
  SELECT COUNT(*) INTO n FROM item WHERE CAST(what AS DATE) = DATE '2031-01-02';
  SELECT COUNT(*) INTO n FROM item WHERE CAST(name || '!' AS TIMESTAMP) > TIMESTAMP '2031-01-02 00:00:00';
  SELECT COUNT(*) INTO n FROM item WHERE CAST('x' AS TIME(0)) = TIME '10:00:00';
  SELECT CAST(name AS DATE) INTO d FROM item WHERE id = 1;
  REPORT n, ' ', d;
  SET what = '2031-01-02';
  SELECT COUNT(*), MAX(CAST(what AS DATE)) INTO n, d FROM item WHERE CAST(what AS DATE) = DATE '2031-01-02' AND CAST('10:00:00' AS TIME(0)) < TIME '11:00:00' AND CAST(TIMESTAMP '2031-01-02 10:00:00' AS DATE) = CAST(what AS DATE);
  REPORT n, ' ', d;
END;
-- call: p
-- says: no moment
-- says: no moment
-- says: no moment
-- says: no moment
-- says: -1 NULL
-- says: 3 2031-01-02
-- behaviour: a CHAR variable's blanks in a data statement
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CHAR(5) DEFAULT 'ab';
  DECLARE one CHAR(1) DEFAULT ' ';
  DECLARE n INTEGER;
  DECLARE m INTEGER;
  DECLARE s VARCHAR(20);
  SELECT CHAR_LENGTH(c), OCTET_LENGTH(one), '<' || c || '>' INTO n, m, s FROM item WHERE id = 1;
  REPORT n, ' ', m, ' ', s;
  SELECT COUNT(*), POSITION(one IN 'a b') INTO n, m FROM item WHERE one LIKE '_' AND c LIKE 'ab%' AND c LIKE '_____';
  REPORT n, ' ', m;
  SELECT REPLACE('a b', one, '-'), COUNT(*) INTO s, n FROM item WHERE c LIKE 'ab   ' AND 'ab   ' LIKE c;
  REPORT s, ' ', n;
  INSERT INTO log (line) VALUES (SUBSTRING(c FROM 2) || '!');
  SELECT line, CHAR_LENGTH(line) INTO s, n FROM log;
  REPORT s, ' ', n;
  INSERT INTO pad VALUES (7, c);
  SELECT COUNT(*) INTO n FROM pad WHERE c = pad.c AND id = 7;
  REPORT n;
END;
-- call: p
-- says: 5 1 <ab   >
-- says: 3 2
-- says: a-b 3
-- says: b   ! 5
-- says: 1
-- data: SELECT line FROM log : ['b   !']
-- data: SELECT id FROM pad WHERE id > 2 : [7]
-- behaviour: the rest of a division by zero in a query
CREATE PROCEDURE p ()
BEGIN
  DECLARE z INTEGER DEFAULT 0;
  DECLARE k INTEGER;
  DECLARE d DECIMAL(8, 3);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' REPORT 'by zero';
  SELECT COUNT(*) INTO k FROM item WHERE MOD(qty, z) = 1;
  SELECT COUNT(*) INTO k FROM item WHERE qty % (z * id) = 1;
  SELECT MOD(MOD(qty, 7), z - 0) INTO k FROM item WHERE id = 1;
  SELECT MOD(price, 0.15), MOD(MOD(qty, 7), id + 1), qty % - 3 INTO d, k, z FROM item WHERE id = 1;
  REPORT d, ' ', k, ' ', z;
  UPDATE item SET qty = MOD(qty, z - 1) WHERE id = 1;
END;
-- call: p
-- says: by zero
-- says: by zero
-- says: by zero
-- says: 0.100 1 1
-- says: by zero
-- behaviour: a CAST to a shorter text in a change, and in a query
CREATE PROCEDURE p ()
BEGIN
  DECLARE s VARCHAR(5);
  DECLARE w VARCHAR(20) DEFAULT 'bottles';
  UPDATE item SET name = CAST(name || w AS VARCHAR(6)) WHERE id = 1;
  SELECT CAST(w AS CHAR(3)) || CAST(CAST(w AS VARCHAR(4)) AS CHARACTER VARYING (1)), CAST(id AS VARCHAR(5)) INTO w, s FROM item WHERE name = CAST('corkbottles' AS VARCHAR(6));
  REPORT w, ' ', s;
  INSERT INTO log (line) VALUES (CAST('abcdefgh' AS varchar(2)));
END;
-- call: p
-- says: botb 1
-- data: SELECT name FROM item WHERE id = 1 : ['corkbo']
-- data: SELECT line FROM log : ['ab']
-- behaviour: REPLACE of nothing by nothing known
CREATE PROCEDURE p ()
BEGIN
  DECLARE n VARCHAR(5);
  DECLARE e VARCHAR(5) DEFAULT '';
  DECLARE s VARCHAR(9) DEFAULT 'abc';
  REPORT REPLACE(s, e, n), ' ', REPLACE(s, 'x', n), ' ', REPLACE(s, e, 'x'), ' ', REPLACE(s, 'b', e), ' ', REPLACE(n, e, e);
END;
-- call: p
-- says: NULL NULL abc ac NULL
-- behaviour: blanks of what is cast to CHAR, where they count
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  DECLARE s VARCHAR(30);
  SELECT CAST(id AS CHAR(4)) || '!' || CAST(name AS CHAR(6)) || '.', CHAR_LENGTH(CAST(name AS CHAR(7))) INTO s, n FROM item WHERE id = 1;
  REPORT s, ' ', n;
  SELECT COUNT(*), MAX(REPLACE(CAST('a' AS CHARACTER(3)), ' ', '-')) INTO n, s FROM item WHERE CAST(name AS CHAR(5)) = 'cork' AND CAST(name AS CHAR(5)) LIKE '_____';
  REPORT n, ' ', s;
END;
-- call: p
-- says: 1   !cork  . 7
-- says: 1 a--
-- behaviour: REPLACE by NULL in a query
CREATE PROCEDURE p ()
BEGIN
  DECLARE s VARCHAR(30) DEFAULT 'none';
  SELECT REPLACE(name, 'x', CAST(NULLIF(qty, 10) AS VARCHAR(5))) INTO s FROM item WHERE id = 1;
  REPORT s;
  SELECT REPLACE(REPLACE(name, 'l', name), 'a', CAST(qty AS VARCHAR(5))) INTO s FROM item WHERE id = 2;
  REPORT s;
END;
-- call: p
-- says: NULL
-- says: l20bel20bel20bel
-- behaviour: texts in a query that end in noughts
CREATE PROCEDURE p ()
BEGIN
  DECLARE l VARCHAR(40) DEFAULT '-3.50';
  DECLARE r VARCHAR(40);
  DECLARE n INTEGER DEFAULT 21;
  DECLARE d DOUBLE PRECISION DEFAULT 7.5;
  SET r = (SELECT TRIM(TRAILING 'a' FROM '12' || TIME '00:00:00' || name || l) FROM item WHERE id = 1);
  REPORT r;
  SET r = (SELECT '12' || TIME '00:00:00' || l FROM item WHERE id = 1);
  REPORT r;
  SET r = (SELECT TIME '00:00:00' || '' || l FROM item WHERE id = 1);
  REPORT r;
  REPORT (n + NULLIF(n, d)) / -4, ' ', NULLIF(n, d) / 2, ' ', NULLIF(n, 0.5) / 2;
END;
-- call: p
-- says: 1200:00:00cork-3.50
-- says: 1200:00:00-3.50
-- says: 00:00:00-3.50
-- says: -10 10 10
-- behaviour: what a query makes of a variable keeps its length and its digits
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DECIMAL(9, 5) DEFAULT 1.23456;
  DECLARE r DECIMAL(20, 10);
  DECLARE l VARCHAR(40) DEFAULT 'a long text that goes on';
  SET r = (SELECT price * d FROM item WHERE id = 3);
  REPORT r;
  SET r = (SELECT COALESCE(NULL, d) FROM item WHERE id = 3) * 2;
  REPORT r;
  REPORT (SELECT d + price FROM item WHERE id = 3), ' ', (SELECT d FROM item WHERE id = 3), ' ', (SELECT UPPER(l) || '.' FROM item WHERE id = 3);
  REPORT (SELECT CASE WHEN id = 3 THEN l ELSE 'x' END FROM item WHERE id = 3), (SELECT REPLACE('xyx', 'x', l) FROM item WHERE id = 3);
  IF (SELECT l || name FROM item WHERE id = 1) = l || 'cork' THEN REPORT 'same'; END IF;
END;
-- call: p
-- says: 1.8518400000
-- says: 2.4691200000
-- says: 2.73456 1.23456 A LONG TEXT THAT GOES ON.
-- says: a long text that goes ona long text that goes onya long text that goes on
-- says: same
-- behaviour: comments and blanks inside what is said otherwise
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  DECLARE z INTEGER DEFAULT 0;
  DECLARE what VARCHAR(20) DEFAULT 'B';
  DECLARE s VARCHAR(60);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22018' REPORT 'no number';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' REPORT 'by zero';
  SELECT cast /* AS ( */ ( what -- it's AS
    as /* ) */ Integer ) INTO n FROM item WHERE id = 1;
  SELECT MoD ( qty /* , 0 */ , z ) INTO n FROM item WHERE id = 1;
  SELECT qty /* / 0 */ / -- '
    - 4, Sign /* ( */ ( qty ), 'CAST(''x'' AS INTEGER) MOD(1, 0) CASE 1 WHEN 2' INTO n, z, s FROM item WHERE id = 1;
  REPORT n, z, s;
  SELECT case /* WHEN */ qty when /* THEN */ NULLIF(qty, qty) then 'null' WHEN 10 then 'CASE END' end, EXTRACT /* YEAR */ ( YEAR FROM DATE '2031-01-01' ) / 2 INTO s, n FROM item WHERE id = 1;
  REPORT s, n;
  SELECT CASE WHEN x'4142' || X'43' /* X'44' */ = x'414243' THEN 'yes' END, ITEM.qty INTO s, n FROM item WHERE id = 2;
  REPORT s, n;
END;
-- call: p
-- says: no number
-- says: by zero
-- says: -21CAST('x' AS INTEGER) MOD(1, 0) CASE 1 WHEN 2
-- says: CASE END1015
-- says: yes20
-- behaviour: a trigger and a function with what is said otherwise in their data statements
CREATE TRIGGER guard BEFORE UPDATE ON item REFERENCING NEW ROW AS now OLD ROW AS was FOR EACH ROW
BEGIN
  DECLARE c CHAR(4) DEFAULT 'ab';
  DECLARE n INTEGER;
  SELECT CAST(c || '1' AS VARCHAR(4)) INTO now.name FROM tag WHERE code = 'aa';
  SELECT MOD(was.qty, 7) + CAST('3' AS INTEGER) INTO n FROM tag WHERE code = 'aa';
  SET now.qty = n + CASE was.name WHEN NULLIF(was.name, was.name) THEN 100 WHEN 'cork' THEN 1 ELSE 2 END;
END;
CREATE FUNCTION half (n INTEGER) RETURNS DECIMAL(6, 2)
BEGIN
  DECLARE r DECIMAL(6, 2);
  SELECT n / 2 + CHAR_LENGTH(CAST(code AS CHAR(4))) / 3 INTO r FROM tag WHERE code = 'cc';
  RETURN r;
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE s VARCHAR(20);
  DECLARE k DECIMAL(8, 2);
  UPDATE item SET price = price WHERE id = 1;
  SELECT name, qty + half(5) INTO s, k FROM item WHERE id = 1;
  REPORT '<', s, '> ', k;
END;
-- call: p
-- says: <ab  > 10.00
-- data: SELECT name, qty FROM item WHERE id = 1 : ['ab  ', 7]
-- behaviour: a CHAR variable compared, and stored, in a data statement
CREATE PROCEDURE p ()
BEGIN
  DECLARE f CHAR(5) DEFAULT 'cork';
  DECLARE g CHAR(3) DEFAULT 'x';
  DECLARE n INTEGER;
  DECLARE s VARCHAR(20);
  UPDATE item SET name = g, qty = CASE WHEN g = 'x' THEN 5 ELSE 6 END WHERE id = 2;
  SELECT name || '|', qty INTO s, n FROM item WHERE id = 2;
  REPORT s, n;
  INSERT INTO log (line) VALUES (g);
  SELECT COUNT(*), MAX(line) || '|' INTO n, s FROM log WHERE CHAR_LENGTH(line) = 3;
  REPORT s, n;
  UPDATE item SET name = f, price = 1 WHERE name = 'cork';
  SELECT g, CASE WHEN 'x' = g AND g <> 'y' AND g BETWEEN 'w' AND 'z' THEN 'yes' ELSE 'no' END INTO s, f FROM item WHERE id = 1;
  REPORT s, '|', f, '|';
END;
-- call: p
-- says: x  |5
-- says: x  |1
-- says: x  |yes  |
-- data: SELECT name FROM item WHERE id < 3 ORDER BY id : ['cork '] ['x  ']
-- data: SELECT line FROM log : ['x  ']
-- data: SELECT qty FROM item WHERE id = 2 : [5]
-- data: SELECT price FROM item WHERE id = 1 : [1.00]
-- behaviour: CHAR through loops over rows, cursors, parameters and functions in data statements
CREATE FUNCTION tail (c CHAR(4)) RETURNS VARCHAR(10) RETURN c || '.';
CREATE PROCEDURE q (IN c CHAR(3), OUT v VARCHAR(10), INOUT w CHAR(5))
BEGIN
  INSERT INTO log (line) VALUES (c || '/' || w || '/');
  SELECT MAX(line) INTO v FROM log WHERE line LIKE c || '%';
  SET w = tail(w);
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE v VARCHAR(10);
  DECLARE w CHAR(5) DEFAULT 'k';
  DECLARE f CHAR(5);
  DECLARE c CURSOR FOR SELECT c FROM pad WHERE c IS NOT NULL;
  FOR r AS SELECT id, c FROM pad ORDER BY id DO
    INSERT INTO log (line) VALUES (COALESCE(r.c || r.id, 'none'));
    REPORT '[', r.c, ']', COALESCE(CHAR_LENGTH(r.c), 0), CASE WHEN r.c = 'ab' THEN 'ab' ELSE 'no' END;
  END FOR;
  OPEN c; FETCH c INTO f; CLOSE c;
  REPORT '[', f, ']', f || '!', CHAR_LENGTH(f);
  CALL q('xy', v, w);
  REPORT v, '|', w, '|', CHAR_LENGTH(w);
  SELECT tail(c) || tail('z'), COUNT(*) INTO v, f FROM pad WHERE c = 'ab' GROUP BY c;
  REPORT v, f, '.';
  UPDATE pad SET c = CASE WHEN f = '1' THEN TRIM(c) || '-' ELSE 'bad' END WHERE id = 1;
  SELECT c INTO f FROM pad WHERE id = 1;
  REPORT f, '.';
END;
-- call: p
-- says: [ab   ]5ab
-- says: [NULL]0no
-- says: [ab   ]ab   !5
-- says: xy /k    /|k   .|5
-- says: ab  .z   .1    .
-- says: ab-  .
-- data: SELECT line FROM log ORDER BY n : ['ab   1'] ['none'] ['xy /k    /']
-- data: SELECT c FROM pad WHERE id = 1 : ['ab-  ']
-- behaviour: a function that gives a row, and one that gives a table, with texts and numbers
CREATE FUNCTION both (a INTEGER) RETURNS ROW (x DECIMAL(5, 1), y CHAR(3))
BEGIN
  DECLARE r ROW (x DECIMAL(5, 1), y CHAR(3));
  SET r.x = a / 3.0; SET r.y = CAST(a AS VARCHAR(3));
  RETURN r;
END;
CREATE PROCEDURE p ()
BEGIN
  DECLARE r ROW (x DECIMAL(5, 1), y CHAR(3));
  SET r = both(10);
  REPORT r.x, '<', r.y, '>';
  SET r = both(-1);
  REPORT r.x, '<', r.y || '>', CASE WHEN r IS NULL THEN 'null' ELSE 'row' END;
END;
-- call: p
-- says: 3.3<10 >
-- says: -0.3<-1 >row
-- behaviour: TRIM of a CHAR variable in a query
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CHAR(4) DEFAULT 'aab';
  DECLARE s VARCHAR(9);
  SELECT TRIM(LEADING 'a' FROM c) INTO s FROM item WHERE id = 1;
  REPORT '[', s, ']';
  SELECT CAST(CHAR_LENGTH(TRIM(BOTH 'a' FROM c)) AS VARCHAR(3)) || LTRIM(c) INTO s FROM item WHERE id = 1;
  REPORT '[', s, ']';
END;
-- call: p
-- says: [b ]
-- says: [2aab ]
-- behaviour: a CASE that compares texts, divided in a query
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DECIMAL(8, 3);
  SELECT CASE name WHEN 'cork' THEN 7 WHEN '' THEN 8 ELSE 9 END / 2 INTO d FROM item WHERE id = 1;
  REPORT d;
  SELECT qty / CASE '' WHEN name THEN 3 ELSE 4 END INTO d FROM item WHERE id = 1;
  REPORT d;
END;
-- call: p
-- says: 3.000
-- says: 2.000
