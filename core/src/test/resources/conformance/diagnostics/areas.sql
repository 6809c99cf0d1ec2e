-- behaviour: ROW_COUNT is the number of rows of the last statement
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  UPDATE item SET price = 1 WHERE id < 3;
  GET DIAGNOSTICS a = ROW_COUNT;
  DELETE FROM child WHERE parent_id = 1;
  GET DIAGNOSTICS b = ROW_COUNT;
END;
-- call: p
-- out: a = 2, b = 2
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.50]
-- data: SELECT * FROM child ORDER BY 1 : [21, 2, 'c']
-- behaviour: GET DIAGNOSTICS leaves the area as it is
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  UPDATE item SET price = 1 WHERE id < 3;
  GET DIAGNOSTICS a = ROW_COUNT;
  GET DIAGNOSTICS b = ROW_COUNT;
END;
-- call: p
-- out: a = 2, b = 2
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.50]
-- behaviour: another statement empties the area
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE x INTEGER;
  UPDATE item SET price = 1 WHERE id < 3;
  SET x = 1;
  GET DIAGNOSTICS a = ROW_COUNT;
END;
-- call: p
-- out: a = 0
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.50]
-- behaviour: a handler reads its condition from the current area
CREATE PROCEDURE p (OUT s CHAR(5), OUT m VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
  SIGNAL SQLSTATE '45012' SET MESSAGE_TEXT = 'so it is';
END;
-- call: p
-- out: s = '45012', m = 'so it is'
-- behaviour: STACKED reads the handler's condition after other statements too
CREATE PROCEDURE p (OUT s CHAR(5), OUT n INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    UPDATE item SET price = 1 WHERE id = 1;
    GET STACKED DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
    UPDATE item SET price = 1 WHERE id < 3;
    GET CURRENT DIAGNOSTICS n = ROW_COUNT;
  END;
  SIGNAL SQLSTATE '45012';
END;
-- call: p
-- out: s = '45012', n = 2
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.50]
-- behaviour: STACKED outside a handler is 0Z002
CREATE PROCEDURE p (OUT s CHAR(5))
  GET STACKED DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
-- call: p
-- raises: 0Z002
-- behaviour: the items of SIGNAL can be read again
CREATE PROCEDURE p (OUT t VARCHAR(20), OUT c VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 t = TABLE_NAME, c = COLUMN_NAME;
  SIGNAL SQLSTATE '45012' SET TABLE_NAME = 'item', COLUMN_NAME = 'qty';
END;
-- call: p
-- out: t = 'item', c = 'qty'
-- behaviour: a violated constraint is named
CREATE PROCEDURE p (OUT c VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23514'
    GET DIAGNOSTICS CONDITION 1 c = CONSTRAINT_NAME;
  UPDATE item SET qty = -1 WHERE id = 1;
END;
-- call: p
-- out: c = 'qty_not_below'
-- behaviour: RESIGNAL alone passes the condition on unchanged
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL;
  SIGNAL SQLSTATE '45012' SET MESSAGE_TEXT = 'as it was';
END;
-- call: p
-- raises: 45012 as it was
-- behaviour: RESIGNAL may change the message alone
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL SET MESSAGE_TEXT = 'changed';
  SIGNAL SQLSTATE '45012' SET MESSAGE_TEXT = 'as it was';
END;
-- call: p
-- raises: 45012 changed
-- behaviour: RESIGNAL may change the SQLSTATE
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL SQLSTATE '45099';
  SIGNAL SQLSTATE '45012' SET MESSAGE_TEXT = 'as it was';
END;
-- call: p
-- raises: 45099 as it was
-- behaviour: RESIGNAL outside a handler is 0K000
CREATE PROCEDURE p () RESIGNAL;
-- call: p
-- raises: 0K000
-- behaviour: RESIGNAL in a routine that a handler calls passes the handler's condition on
CREATE PROCEDURE again () RESIGNAL SET MESSAGE_TEXT = 'from again';
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL again();
  SIGNAL SQLSTATE '45012';
END;
-- call: p
-- raises: 45012 from again
-- behaviour: in nested handlers STACKED is the innermost one's condition
CREATE PROCEDURE p (OUT a CHAR(5), OUT b CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001'
  BEGIN
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45002'
        GET STACKED DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE;
      SIGNAL SQLSTATE '45002';
    END;
    GET STACKED DIAGNOSTICS CONDITION 1 b = RETURNED_SQLSTATE;
  END;
  SIGNAL SQLSTATE '45001';
END;
-- call: p
-- out: a = '45002', b = '45001'
-- behaviour: a message of SIGNAL that is NULL is 22004
CREATE PROCEDURE p (IN m VARCHAR(20)) SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = m;
-- call: p m = null
-- raises: 22004
-- behaviour: there is only condition 1
CREATE PROCEDURE p (OUT s CHAR(5)) GET DIAGNOSTICS CONDITION 2 s = RETURNED_SQLSTATE;
-- call: p
-- raises: 35000

-- behaviour: what a handler changes is not what the statement before it came to
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND INSERT INTO log (line) VALUES ('none'), ('at all');
  DELETE FROM item WHERE id = 99;
  GET DIAGNOSTICS n = ROW_COUNT;
  UPDATE item SET qty = 1 WHERE id < 3;
  GET DIAGNOSTICS m = ROW_COUNT;
END;
-- call: p
-- out: n = 0, m = 2
-- data: SELECT COUNT(*) FROM log : [2]

-- behaviour: an UPDATE that leaves rows as they are has found them
CREATE PROCEDURE p (OUT n INTEGER, OUT r VARCHAR(10))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'none';
  SET r = 'some';
  UPDATE item SET qty = qty WHERE id < 3;
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 2, r = 'some'
-- behaviour: COMMAND_FUNCTION says which statement it was, also of one that failed
CREATE PROCEDURE p (OUT r VARCHAR(300))
BEGIN
  DECLARE what VARCHAR(30);
  DECLARE n INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION
  BEGIN
    GET STACKED DIAGNOSTICS what = COMMAND_FUNCTION;
    SET r = r || '!' || what || ' ';
  END;
  SET r = '';
  SET n = 1;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  UPDATE item SET qty = 5 WHERE id = 1;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  DELETE FROM log;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  INSERT INTO log (line) VALUES ('x');
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  SELECT id INTO n FROM item WHERE id = 1;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  OPEN c;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  FETCH c INTO n;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  CLOSE c;
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ',';
  EXECUTE IMMEDIATE 'DELETE FROM log';
  GET DIAGNOSTICS what = COMMAND_FUNCTION; SET r = r || what || ' ';
  UPDATE item SET qty = -1 WHERE id = 1;
  INSERT INTO item (id, name) VALUES (1, 'twice');
  SET n = 1 / 0;
  FETCH c INTO n;
  SIGNAL SQLSTATE '45000';
  IF 1 / 0 = 1 THEN SET n = 1; END IF;
END;
-- call: p
-- out: r = 'ASSIGNMENT,UPDATE WHERE,DELETE WHERE,INSERT,SELECT,OPEN,FETCH,CLOSE CURSOR,EXECUTE IMMEDIATE !UPDATE WHERE !INSERT !ASSIGNMENT !FETCH !SIGNAL !IF '
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 5, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50]
-- behaviour: the command of a condition that a callee did not handle is the CALL
CREATE PROCEDURE q () BEGIN DECLARE n INTEGER; SET n = 1 / 0; END;
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET STACKED DIAGNOSTICS r = COMMAND_FUNCTION;
  CALL q();
END;
-- call: p
-- out: r = 'CALL'
-- behaviour: a statement that failed and was handled has changed no row, whatever was counted before
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' INSERT INTO log (line) VALUES ('a'), ('b');
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23514' BEGIN END;
  UPDATE item SET price = 1 WHERE id < 3;
  UPDATE item SET qty = -1 WHERE id < 3;
  GET DIAGNOSTICS n = ROW_COUNT;
  INSERT INTO item (id, name) VALUES (1, 'twice');
  GET DIAGNOSTICS m = ROW_COUNT;
END;
-- call: p
-- out: n = 0, m = 0
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.50]
-- data: SELECT * FROM log ORDER BY 1 : [1, 'a'] [2, 'b']
-- behaviour: ROW_COUNT of no row is 0 though the handler of NOT FOUND, and an exception's, may add some
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET n = 73;
  DECLARE CONTINUE HANDLER FOR NOT FOUND
  BEGIN
    SET m = 17;
    INSERT INTO log (line) VALUES ('handled');
  END;
  UPDATE item SET price = price + 1 WHERE id < 1;
  GET DIAGNOSTICS n = ROW_COUNT;
  UPDATE item SET price = price + 1 WHERE id < 3;
  GET DIAGNOSTICS m = ROW_COUNT;
END;
-- call: p
-- out: n = 0, m = 2
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.25] [2, 'label', 20, 1.10] [3, 'bottle', NULL, 1.50]
-- data: SELECT * FROM log ORDER BY 1 : [1, 'handled']
