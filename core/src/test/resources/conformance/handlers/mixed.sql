-- behaviour: a batch that logs its failures and goes on
CREATE PROCEDURE load_one (IN k INTEGER, IN t VARCHAR(30), IN q INTEGER)
MODIFIES SQL DATA
INSERT INTO item (id, name, qty) VALUES (k, t, q);
CREATE PROCEDURE p (OUT good INTEGER, OUT bad INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET good = 0;
  SET bad = 0;
  WHILE i < 5 DO
    SET i = i + 1;
    BEGIN
      DECLARE state CHAR(5);
      DECLARE EXIT HANDLER FOR SQLEXCEPTION
      BEGIN
        GET DIAGNOSTICS CONDITION 1 state = RETURNED_SQLSTATE;
        SET bad = bad + 1;
        INSERT INTO log (line) VALUES (i || ' ' || state);
      END;
      CALL load_one(i + 1, CASE WHEN i = 4 THEN NULL ELSE 'n' || i END, 3 - i);
      SET good = good + 1;
    END;
  END WHILE;
END;
-- call: p
-- out: good = 1, bad = 4
-- data: SELECT line FROM log ORDER BY n : ['1 23505'] ['2 23505'] ['4 23502'] ['5 23514']
-- behaviour: an error is cleaned up after, and passed on with more words
CREATE PROCEDURE p ()
MODIFIES SQL DATA
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    DECLARE m VARCHAR(100);
    GET STACKED DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
    RESIGNAL SET MESSAGE_TEXT = 'p failed: ' || m;
  END;
  SIGNAL SQLSTATE '45017' SET MESSAGE_TEXT = 'no grapes';
END;
CREATE PROCEDURE q (OUT s CHAR(5), OUT m VARCHAR(100))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45017'
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
  CALL p();
END;
-- call: p
-- raises: 45017 p failed: no grapes
-- call: q
-- out: s = '45017', m = 'p failed: no grapes'
-- behaviour: an insert that finds its key taken becomes an update
CREATE PROCEDURE put (IN k INTEGER, IN t VARCHAR(20))
MODIFIES SQL DATA
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' UPDATE parent SET note = t WHERE id = k;
  INSERT INTO parent VALUES (k, t);
END;
-- call: put k = 2, t = 'changed'
-- data: SELECT id, note FROM parent ORDER BY id : [1, 'one'] [2, 'changed']
-- call: put k = 3, t = 'new'
-- data: SELECT id, note FROM parent ORDER BY id : [1, 'one'] [2, 'changed'] [3, 'new']
-- behaviour: an update that finds no row becomes an insert
CREATE PROCEDURE put (IN k INTEGER, IN t VARCHAR(20))
MODIFIES SQL DATA
BEGIN
  DECLARE EXIT HANDLER FOR NOT FOUND INSERT INTO parent VALUES (k, t);
  UPDATE parent SET note = t WHERE id = k;
END;
-- call: put k = 2, t = 'changed'
-- call: put k = 3, t = 'new'
-- data: SELECT id, note FROM parent ORDER BY id : [1, 'one'] [2, 'changed'] [3, 'new']
-- behaviour: a transfer is all or nothing, and says why not
CREATE PROCEDURE move (IN a INTEGER, IN b INTEGER, IN n INTEGER, OUT r VARCHAR(30))
MODIFIES SQL DATA
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23514' BEGIN ROLLBACK; SET r = 'too little'; END;
  DECLARE EXIT HANDLER FOR NOT FOUND BEGIN ROLLBACK; SET r = 'not there'; END;
  UPDATE item SET qty = qty + n WHERE id = b;
  UPDATE item SET qty = qty - n WHERE id = a;
  COMMIT;
  SET r = 'moved';
END;
-- call: move a = 1, b = 2, n = 4
-- out: r = 'moved'
-- call: move a = 1, b = 2, n = 40
-- out: r = 'too little'
-- call: move a = 1, b = 77, n = 1
-- out: r = 'not there'
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [6] [24]
-- behaviour: tries again until it goes well
CREATE PROCEDURE p (OUT tries INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE k INTEGER DEFAULT 1;
  DECLARE done BOOLEAN DEFAULT FALSE;
  SET tries = 0;
  WHILE NOT done DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR SQLSTATE '23505'
      BEGIN
        SET done = FALSE;
        SET k = k + 1;
      END;
      SET tries = tries + 1;
      SET done = TRUE;
      INSERT INTO item (id, name) VALUES (k, 'new');
    END;
  END WHILE;
END;
-- call: p
-- out: tries = 4
-- data: SELECT MAX(id) FROM item : [4]
-- behaviour: a condition of a user is told from the database's own of the same class
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(30))
MODIFIES SQL DATA
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = 'database';
  DECLARE EXIT HANDLER FOR SQLSTATE '23U01' SET r = 'user';
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 'other';
  IF k = 0 THEN SIGNAL SQLSTATE '23U01'; END IF;
  INSERT INTO item (id, name) VALUES (k, NULLIF('x', CASE k WHEN 9 THEN 'x' ELSE 'y' END));
  SET r = 'fine';
END;
-- call: p k = 0
-- out: r = 'user'
-- call: p k = 1
-- out: r = 'database'
-- call: p k = 9
-- out: r = 'other'
-- call: p k = 10
-- out: r = 'fine'
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50] [10, 'x', NULL, NULL]
-- behaviour: a function's failure inside a data statement is handled like any other
CREATE FUNCTION strict (x INTEGER) RETURNS INTEGER
BEGIN
  IF x IS NULL THEN SIGNAL SQLSTATE '45018' SET MESSAGE_TEXT = 'null'; END IF;
  RETURN x;
END;
CREATE PROCEDURE p (OUT n INTEGER, OUT m VARCHAR(10))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45018' GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
  SELECT SUM(strict(i.qty)) INTO n FROM item i;
  SELECT SUM(strict(i.id)) INTO n FROM item i;
END;
-- call: p
-- out: n = 6, m = 'null'
-- behaviour: handlers at three levels, each for its own
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(30))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || ' outer';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = r || ' middle';
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = r || ' inner';
      CASE k
        WHEN 1 THEN SIGNAL SQLSTATE '45001';
        WHEN 2 THEN SIGNAL SQLSTATE '45002';
        WHEN 3 THEN SIGNAL SQLSTATE '45003';
        ELSE SET r = r || ' none';
      END CASE;
      SET r = r || ' a';
    END;
    SET r = r || ' b';
  END;
  SET r = r || ' c';
END;
-- call: p k = 1
-- out: r = ' inner b c'
-- call: p k = 2
-- out: r = ' middle c'
-- call: p k = 3
-- out: r = ' outer'
-- call: p k = 4
-- out: r = ' none a b c'
-- behaviour: a NOT FOUND handler sees the last row's end, and the loop's count is right
CREATE PROCEDURE p (OUT total INTEGER, OUT rounds INTEGER)
READS SQL DATA
BEGIN
  DECLARE v INTEGER;
  DECLARE at_end BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT qty FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET at_end = TRUE;
  SET total = 0;
  SET rounds = 0;
  OPEN c;
  reading: LOOP
    FETCH c INTO v;
    IF at_end THEN LEAVE reading; END IF;
    SET total = total + COALESCE(v, 0);
    SET rounds = rounds + 1;
  END LOOP reading;
  CLOSE c;
END;
-- call: p
-- out: total = 30, rounds = 3
-- behaviour: nested cursors with a handler each
CREATE PROCEDURE p (OUT r VARCHAR(60))
READS SQL DATA
BEGIN
  DECLARE pid INTEGER;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE parents CURSOR FOR SELECT id FROM parent ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '';
  OPEN parents;
  FETCH parents INTO pid;
  WHILE NOT done DO
    BEGIN
      DECLARE word VARCHAR(20);
      DECLARE inner_done BOOLEAN DEFAULT FALSE;
      DECLARE children CURSOR FOR SELECT note FROM child WHERE parent_id = pid ORDER BY id;
      DECLARE CONTINUE HANDLER FOR NOT FOUND SET inner_done = TRUE;
      OPEN children;
      FETCH children INTO word;
      WHILE NOT inner_done DO
        SET r = r || pid || word || ' ';
        FETCH children INTO word;
      END WHILE;
      CLOSE children;
    END;
    FETCH parents INTO pid;
  END WHILE;
  CLOSE parents;
END;
-- call: p
-- out: r = '1a 1b 2c '
-- behaviour: a SELECT INTO of no row leaves what its handler wrote into the targets
CREATE PROCEDURE p (INOUT n INTEGER, OUT found INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET n = 83;
  SET found = 7;
  SELECT id, id INTO n, found FROM parent WHERE id = COALESCE(n, 5) + 1000;
END;
-- call: p n = 3
-- out: n = 83, found = 7
