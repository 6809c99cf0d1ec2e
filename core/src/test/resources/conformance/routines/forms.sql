-- behaviour: characteristics in any order
CREATE PROCEDURE p (OUT r INTEGER) LANGUAGE SQL SPECIFIC p_one NOT DETERMINISTIC MODIFIES SQL DATA DYNAMIC RESULT SETS 0 OLD SAVEPOINT LEVEL SET r = f(1);
CREATE FUNCTION f (n INTEGER) RETURNS INTEGER CONTAINS SQL DETERMINISTIC CALLED ON NULL INPUT LANGUAGE SQL SPECIFIC f_one RETURN n + 1;
-- call: p
-- out: r = 2
-- behaviour: cursors with all their words
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE v INTEGER;
  DECLARE a INSENSITIVE CURSOR FOR SELECT id FROM item ORDER BY id;
  DECLARE b ASENSITIVE NO SCROLL CURSOR WITHOUT HOLD WITHOUT RETURN FOR SELECT id FROM item ORDER BY id DESC FOR READ ONLY;
  OPEN a; OPEN b;
  FETCH FROM a INTO v; SET r = CAST(v AS VARCHAR(5)); FETCH NEXT FROM b INTO v; SET r = r || v; FETCH b INTO v; SET r = r || v;
  CLOSE a; CLOSE b;
END;
-- call: p
-- out: r = '132'
-- behaviour: NOT ATOMIC and ATOMIC blocks with labels
CREATE PROCEDURE p (OUT r VARCHAR(20))
one: BEGIN NOT ATOMIC
  SET r = '';
  two: BEGIN ATOMIC
    DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'h';
    INSERT INTO log (line) VALUES ('x');
    SIGNAL SQLSTATE '45000';
  END two;
  LEAVE one;
END one;
-- call: p
-- out: r = 'h'
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: signals with more items, and diagnostics by their standard words
CREATE PROCEDURE p (OUT r VARCHAR(120))
BEGIN
  DECLARE a, b, c, d VARCHAR(60); DECLARE n, m INTEGER;
  DECLARE EXIT HANDLER FOR SQLSTATE VALUE '45077'
  BEGIN
    GET CURRENT DIAGNOSTICS n = NUMBER, m = ROW_COUNT;
    GET STACKED DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE, b = MESSAGE_TEXT, c = CLASS_ORIGIN, d = CONSTRAINT_NAME;
    SET r = a || ' ' || b || ' ' || d;
  END;
  SIGNAL SQLSTATE VALUE '45077' SET MESSAGE_TEXT = 'full', CONSTRAINT_NAME = 'made up';
END;
-- call: p
-- out: r = '45077 full made up'
-- behaviour: triggers with short words, and on views
CREATE TRIGGER t1 AFTER UPDATE ON item REFERENCING OLD AS o NEW AS n OLD TABLE AS os NEW TABLE AS ns FOR EACH ROW WHEN (o.qty <> n.qty)
  INSERT INTO log (line) VALUES (o.qty || '>' || n.qty || ' of ' || (SELECT COUNT(*) FROM ns));
CREATE TRIGGER t2 INSTEAD OF INSERT ON stock REFERENCING NEW ROW AS n FOR EACH ROW INSERT INTO item (id, name, qty) VALUES (n.id, UPPER(n.name), n.qty);
CREATE PROCEDURE p () BEGIN UPDATE item SET qty = qty + 1; INSERT INTO stock VALUES (8, 'new', 5); END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['10>11 of 3'] ['20>21 of 3']
-- data: SELECT name FROM item WHERE id = 8 : ['NEW']
-- behaviour: assignments of several, swaps and rows
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE a, b INTEGER DEFAULT 1; DECLARE c INTEGER;
  SET (a, b, c) = (2, a + 5, b);
  SET (a, b) = (b, a);
  SET (a, c) = (SELECT MAX(id), MIN(id) FROM item);
  SET r = a || ',' || b || ',' || c;
  IF (a, b) = (3, 2) AND (a, b) < (3, 4) AND (1, 2) <> (1, 3) THEN SET r = r || ' rows'; END IF;
END;
-- call: p
-- out: r = '3,2,1 rows'
-- behaviour: handlers for lists of conditions
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(40))
BEGIN
  DECLARE v INTEGER; DECLARE odd CONDITION FOR SQLSTATE '45001'; DECLARE even CONDITION;
  DECLARE CONTINUE HANDLER FOR SQLWARNING, NOT FOUND, odd, SQLSTATE '45002' SET r = r || 'h';
  DECLARE EXIT HANDLER FOR even SET r = r || 'e';
  SET r = '';
  IF k = 1 THEN SELECT id INTO v FROM item WHERE id = 0; ELSEIF k = 2 THEN SIGNAL odd; ELSEIF k = 3 THEN SIGNAL SQLSTATE '45002'; ELSEIF k = 4 THEN SIGNAL even; ELSE SIGNAL SQLSTATE '01777'; END IF;
  SET r = r || k;
END;
-- call: p k = 1
-- out: r = 'h1'
-- call: p k = 2
-- out: r = 'h2'
-- call: p k = 3
-- out: r = 'h3'
-- call: p k = 4
-- out: r = 'e'
-- call: p k = 5
-- out: r = 'h5'
-- behaviour: savepoints of a level of their own are refused
CREATE PROCEDURE p () NEW SAVEPOINT LEVEL SAVEPOINT a;
-- problem: syntax
-- behaviour: a procedure said twice there is the same both times
CREATE PROCEDURE q (IN d DECIMAL(6, 2), IN t VARCHAR(5), OUT r VARCHAR(60))
BEGIN
  SET r = COALESCE(d, 0) || CASE WHEN t BETWEEN 'A' AND 'c' THEN ' in' ELSE ' out' END;
  INSERT INTO log (line) VALUES (r);
  IF d IS NULL THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = r; END IF;
END;
CREATE PROCEDURE p (OUT r VARCHAR(99))
BEGIN
  DECLARE a, m VARCHAR(60);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' BEGIN GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT; SET r = r || '!' || m; END;
  SET r = '';
  CALL q(1.5, 'b', a); SET r = r || a;
  CALL q(NULL, 'Z', a);
  CALL q(NULL, 'é', a);
END;
-- call: p
-- out: r = '1.50 in!0.00 in!0.00 out'
-- data: SELECT line FROM log ORDER BY n : ['1.50 in'] ['0.00 in'] ['0.00 out']
-- call: q d = NULL, t = 'a'
-- raises: 45000 0.00 in
-- behaviour: comments between a label and its word, and in ATOMIC
CREATE PROCEDURE p (OUT r VARCHAR(20))
one /* it's */ : /* one */ BEGIN /* NOT */ NOT /* x */ ATOMIC
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  "tw o" -- two's
  : BEGIN -- ATOMIC
   ATOMIC
    DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'h';
    INSERT INTO log (line) VALUES ('x');
    SIGNAL SQLSTATE '45000';
  END "tw o";
  three/*;*/:/*REPEAT*/REPEAT SET i = i + 1; IF i = 2 THEN ITERATE three; END IF; SET r = r || i; UNTIL/* i > 9 */i >= 3 END REPEAT three;
  four : -- it's
  LOOP LEAVE four; END LOOP four;
  five:/**/WHILE i < 5 DO SET i = i + 1; ITERATE five; END WHILE;
  six : /* for */ FOR k IN 1..2 DO SET r = r || k; END FOR six;
  seven/**/: FOR x AS SELECT id FROM item ORDER BY id DO IF x.id = 2 THEN LEAVE seven; END IF; SET r = r || x.id; END FOR seven;
  LEAVE one;
END one;
-- call: p
-- out: r = 'h13121'
-- data: SELECT COUNT(*) FROM log : [1]
