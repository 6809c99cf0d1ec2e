-- behaviour: a completion condition without a handler lets the routine go on
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  UPDATE item SET qty = 1 WHERE id = 99;
  SIGNAL SQLSTATE '01H01';
  SIGNAL SQLSTATE '02H01';
  SET r = 'on';
END;
-- call: p
-- out: r = 'on'
-- behaviour: UPDATE, DELETE and INSERT … SELECT of no row are NOT FOUND
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET n = n + 1;
  SET n = 0;
  UPDATE item SET qty = 1 WHERE id = 99;
  DELETE FROM item WHERE id = 99;
  INSERT INTO log (line) SELECT name FROM item WHERE id = 99;
  UPDATE item SET qty = 1 WHERE id = 1;
END;
-- call: p
-- out: n = 3
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 1, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50]
-- behaviour: SELECT INTO without a row is NOT FOUND and leaves its targets alone
CREATE PROCEDURE p (OUT r VARCHAR(20), OUT found VARCHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET found = 'no';
  SET r = 'kept';
  SET found = 'yes';
  SELECT name INTO r FROM item WHERE id = 99;
END;
-- call: p
-- out: r = 'kept', found = 'no'
-- behaviour: SELECT INTO of two rows is 21000
CREATE PROCEDURE p (OUT r VARCHAR(20)) SELECT name INTO r FROM item;
-- call: p
-- raises: 21000
-- behaviour: SQLSTATE '02000' is the same as NOT FOUND, and more special
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR NOT FOUND SET r = 'general';
  DECLARE EXIT HANDLER FOR SQLSTATE '02000' SET r = 'special';
  DELETE FROM item WHERE id = 99;
END;
-- call: p
-- out: r = 'special'
-- behaviour: SQLEXCEPTION does not take NOT FOUND or a warning
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 'exception';
  DELETE FROM item WHERE id = 99;
  SIGNAL SQLSTATE '01H01';
  SET r = 'on';
END;
-- call: p
-- out: r = 'on'
-- behaviour: SQLWARNING takes class 01
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING SET r = 'warned';
  SIGNAL SQLSTATE '01H01' SET MESSAGE_TEXT = 'careful';
END;
-- call: p
-- out: r = 'warned'
-- behaviour: a callee's NOT FOUND does not reach its caller
CREATE PROCEDURE callee () DELETE FROM item WHERE id = 99;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'reached';
  SET r = 'quiet';
  CALL callee();
END;
-- call: p
-- out: r = 'quiet'
-- behaviour: a warning passes handlers for NOT FOUND by, and NOT FOUND those for warnings
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id = 1;
  SET r = '';
  BEGIN
    DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = r || 'N';
    SIGNAL SQLSTATE '01H01';
    SET r = r || 'a';
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLWARNING SET r = r || 'W';
    DELETE FROM item WHERE id = 99;
    SELECT id INTO n FROM item WHERE id = 99;
    OPEN c;
    FETCH c INTO n;
    FETCH c INTO n;
    CLOSE c;
    SIGNAL SQLSTATE '02H01';
    SET r = r || 'b';
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '02H05' SET r = r || 'S';
    DELETE FROM item WHERE id = 99;
    SET r = r || 'c';
    SIGNAL SQLSTATE '02H05';
    SET r = r || 'never';
  END;
END;
-- call: p
-- out: r = 'abcS'
-- behaviour: what an inner block's handlers are not for goes to those outside
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING SET r = r || 'W';
  SET r = '';
  BEGIN
    DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = r || 'N';
    SIGNAL SQLSTATE '01H01';
    UPDATE item SET qty = 1 WHERE id = 99;
    SET r = r || 'a';
  END;
END;
-- call: p
-- out: r = 'WNa'
-- behaviour: SELECT INTO that fails leaves its targets alone
CREATE FUNCTION boom (x INTEGER) RETURNS INTEGER
BEGIN
  IF x = 2 THEN SIGNAL SQLSTATE '45001'; END IF;
  RETURN x;
END;
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  DECLARE n INTEGER DEFAULT 3;
  DECLARE t VARCHAR(10) DEFAULT 'kept';
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'X';
  SET r = '';
  SELECT id, name INTO n, t FROM item;
  SELECT boom(i.id), i.name INTO n, t FROM item i WHERE i.id = 2;
  SET r = r || n || t;
END;
-- call: p
-- out: r = 'XX3kept'
