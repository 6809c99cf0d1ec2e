-- behaviour: RESIGNAL with another SQLSTATE puts its condition before the one that was
CREATE PROCEDURE p (OUT n INTEGER, OUT a CHAR(5), OUT b CHAR(5), OUT m VARCHAR(30))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45002'
  BEGIN
    GET STACKED DIAGNOSTICS n = NUMBER;
    GET STACKED DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE;
    GET STACKED DIAGNOSTICS CONDITION 2 b = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' RESIGNAL SQLSTATE '45002';
    SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'the first';
  END;
END;
-- call: p
-- out: n = 2, a = '45002', b = '45001', m = 'the first'
-- behaviour: a condition that RESIGNAL passes on unchanged is the only one
CREATE PROCEDURE p (OUT n INTEGER, OUT a CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001'
    GET STACKED DIAGNOSTICS n = NUMBER;
  SET a = 'x';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' RESIGNAL;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: n = 1, a = 'x    '
-- behaviour: NUMBER is 0 or 1 after a statement that went well, and MORE is N
CREATE PROCEDURE p (OUT more CHAR(1), OUT ok BOOLEAN)
BEGIN
  DECLARE n INTEGER;
  UPDATE item SET price = 1 WHERE id = 1;
  GET DIAGNOSTICS n = NUMBER, more = MORE;
  SET ok = n IN (0, 1);
END;
-- call: p
-- out: more = 'N', ok = TRUE
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 1.00] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50]
-- behaviour: after a handler has gone on, the statement behind it begins an area of its own
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' UPDATE item SET price = 1;
  SIGNAL SQLSTATE '45001';
  UPDATE item SET price = 2 WHERE id = 1;
  GET DIAGNOSTICS a = ROW_COUNT;
END;
-- call: p
-- out: a = 1
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 2.00] [2, 'label', 20, 1.00] [3, 'bottle', NULL, 1.00]
-- behaviour: ROW_COUNT of MERGE and of INSERT from a query
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  INSERT INTO log (line) SELECT name FROM item;
  GET DIAGNOSTICS a = ROW_COUNT;
  MERGE INTO item t USING (SELECT id + 1 AS id, name FROM item) s ON t.id = s.id
    WHEN MATCHED THEN UPDATE SET price = 9
    WHEN NOT MATCHED THEN INSERT (id, name) VALUES (s.id, s.name);
  GET DIAGNOSTICS b = ROW_COUNT;
END;
-- call: p
-- out: a = 3, b = 3
-- data: SELECT id, price FROM item ORDER BY id : [1, 0.25] [2, 9.00] [3, 9.00] [4, NULL]
-- behaviour: the number of a condition may be a variable
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE one INTEGER DEFAULT 1;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION one s = RETURNED_SQLSTATE;
  SIGNAL SQLSTATE '45011';
END;
-- call: p
-- out: s = '45011'
-- behaviour: the classes of a condition of the standard and of one's own
CREATE PROCEDURE p (IN which INTEGER, OUT c VARCHAR(20), OUT s VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 c = CLASS_ORIGIN, s = SUBCLASS_ORIGIN;
  IF which = 1 THEN SIGNAL SQLSTATE '22012'; END IF;
  SIGNAL SQLSTATE '45000' SET CLASS_ORIGIN = 'cellar', SUBCLASS_ORIGIN = 'press';
END;
-- call: p which = 1
-- out: c = 'ISO 9075', s = 'ISO 9075'
-- call: p which = 2
-- out: c = 'cellar', s = 'press'
-- behaviour: the items of SIGNAL may be variables and parameters
CREATE PROCEDURE p (IN what VARCHAR(10), OUT m VARCHAR(40), OUT t VARCHAR(20))
BEGIN
  DECLARE words VARCHAR(30) DEFAULT 'no ' || what;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT, t = TABLE_NAME;
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = words, TABLE_NAME = what;
END;
-- call: p what = 'cork'
-- out: m = 'no cork', t = 'cork'
-- behaviour: MESSAGE_LENGTH and MESSAGE_OCTET_LENGTH measure the message
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 a = MESSAGE_LENGTH, b = MESSAGE_OCTET_LENGTH;
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'süß';
END;
-- call: p
-- out: a = 3, b = 5
-- behaviour: a condition inside a called routine names the routine
CREATE PROCEDURE q () SIGNAL SQLSTATE '45000' SET ROUTINE_NAME = 'press';
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 r = ROUTINE_NAME;
  CALL q();
END;
-- call: p
-- out: r = 'press'
-- behaviour: a handler that ends leaves the stacked area of the handler around it
CREATE PROCEDURE p (OUT a CHAR(5), OUT b CHAR(5), OUT c CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001'
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45002'
      GET STACKED DIAGNOSTICS CONDITION 1 b = RETURNED_SQLSTATE;
    GET STACKED DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE;
    SIGNAL SQLSTATE '45002';
    GET STACKED DIAGNOSTICS CONDITION 1 c = RETURNED_SQLSTATE;
  END;
  SIGNAL SQLSTATE '45001';
END;
-- call: p
-- out: a = '45001', b = '45002', c = '45001'
-- behaviour: in a routine that a handler calls STACKED reads the handler's condition
CREATE PROCEDURE tell (OUT s CHAR(5)) GET STACKED DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
CREATE PROCEDURE p (OUT r CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL tell(r);
  SIGNAL SQLSTATE '45031';
END;
-- call: p
-- out: r = '45031'
-- behaviour: a longer message is kept whole
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' GET DIAGNOSTICS CONDITION 1 r = MESSAGE_TEXT;
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a longer message';
END;
-- call: p
-- out: r = 'a longer message'
-- behaviour: RESIGNAL changes the items that it names and keeps the others
CREATE PROCEDURE p (OUT m VARCHAR(20), OUT t VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT, t = TABLE_NAME;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL SET TABLE_NAME = 'lot';
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'words', TABLE_NAME = 'item';
  END;
END;
-- call: p
-- out: m = 'words', t = 'lot'
-- behaviour: a warning's own handler reads it
CREATE PROCEDURE p (OUT s CHAR(5), OUT m VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
  SIGNAL SQLSTATE '01H01' SET MESSAGE_TEXT = 'low level';
END;
-- call: p
-- out: s = '01H01', m = 'low level'
-- behaviour: the condition of NOT FOUND is 02000
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE x INTEGER;
  DECLARE CONTINUE HANDLER FOR NOT FOUND GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SELECT id INTO x FROM item WHERE id = 50;
END;
-- call: p
-- out: s = '02000'
-- behaviour: an unknown item of a condition is an error
CREATE PROCEDURE p (OUT s CHAR(5)) GET DIAGNOSTICS CONDITION 1 s = COLOUR;
-- problem: unknown-name
-- behaviour: GET DIAGNOSTICS into a constant is an error
CREATE PROCEDURE p ()
BEGIN
  DECLARE n CONSTANT INTEGER DEFAULT 1;
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- problem: not-assignable
