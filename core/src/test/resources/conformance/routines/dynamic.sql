-- behaviour: a dynamic CALL gives values of several types, in the order of the parameters
CREATE PROCEDURE q (OUT a DECIMAL(10, 2), IN b INTEGER, INOUT c VARCHAR(9), OUT d DATE, OUT e BOOLEAN)
BEGIN
  SET a = b / 4.00;
  SET c = UPPER(c);
  SET d = DATE '2024-02-29';
  SET e = b > 3;
END;
CREATE PROCEDURE p (OUT v DECIMAL(8, 1), OUT w VARCHAR(9), OUT x DATE, OUT y BOOLEAN)
BEGIN
  PREPARE s FROM 'CALL q(?, 2 + 3, ?, ?, ?)';
  EXECUTE s INTO v, w, x, y USING 'it''s';
END;
-- call: p
-- out: v = 1.3, w = 'IT''S', x = DATE '2024-02-29', y = TRUE
-- behaviour: a dynamic CALL that gives NULL, twice, and once its own result
CREATE PROCEDURE q (INOUT a INTEGER, OUT b INTEGER)
BEGIN
  SET b = a + 1;
  IF a > 3 THEN SET a = NULL; END IF;
END;
CREATE PROCEDURE p (OUT v INTEGER, OUT w INTEGER)
BEGIN
  SET v = 3;
  PREPARE s FROM 'call q ( ? , ? )';
  EXECUTE s INTO v, w USING v;
  EXECUTE s INTO v, w USING w;
END;
-- call: p
-- out: v = NULL, w = 5
-- behaviour: what a dynamic CALL raises goes to the handler, and its targets keep what they had
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER)
BEGIN
  SET b = 100;
  SET b = b / a;
END;
CREATE PROCEDURE p (IN a INTEGER, OUT v INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET v = 7;
  PREPARE s FROM 'CALL q(?, ?)';
  EXECUTE s INTO v USING a;
END;
-- call: p a = 0
-- out: v = 7, s = '22012'
-- call: p a = 5
-- out: v = 20, s = NULL
-- behaviour: what a dynamic CALL gives must fit its target
CREATE PROCEDURE q (OUT b VARCHAR(9)) SET b = 'too long';
CREATE PROCEDURE p (OUT v VARCHAR(4), OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' SET s = '22001';
  SET v = 'was';
  PREPARE s FROM 'CALL q(?)';
  EXECUTE s INTO v;
END;
-- call: p
-- out: v = 'was', s = '22001'
-- behaviour: what a procedure did before its dynamic CALL failed
CREATE PROCEDURE q (OUT b INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('q');
  SIGNAL SQLSTATE '45000';
END;
CREATE PROCEDURE p (OUT v INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET s = '45000';
  PREPARE s FROM 'CALL q(?)';
  EXECUTE s INTO v;
  INSERT INTO log (line) VALUES ('p');
END;
-- call: p
-- out: v = NULL, s = '45000'
-- data: SELECT line FROM log ORDER BY n : ['q'] ['p']
-- behaviour: a dynamic text that is put together, and calls nothing that fails half-way
CREATE PROCEDURE q (IN a INTEGER)
BEGIN ATOMIC
  INSERT INTO log (line) VALUES ('q');
  SET a = 1 / a;
END;
CREATE PROCEDURE p (IN a INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  DECLARE kind VARCHAR(20) DEFAULT 'q(';
  EXECUTE IMMEDIATE 'CALL ' || kind || a || ')';
  EXECUTE IMMEDIATE 'INSERT INTO ' || 'log' || ' (line) VALUES (''p'')';
END;
-- call: p a = 0
-- out: s = '22012'
-- data: SELECT line FROM log ORDER BY n : ['p']
-- call: p a = 1
-- out: s = NULL
-- data: SELECT line FROM log ORDER BY n : ['p'] ['q'] ['p']
-- behaviour: the same without a value
CREATE PROCEDURE q ()
BEGIN
  INSERT INTO log (line) VALUES ('q');
  SIGNAL SQLSTATE '45000';
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET s = '45000';
  EXECUTE IMMEDIATE 'CALL q()';
  INSERT INTO log (line) VALUES ('p');
END;
-- call: p
-- out: s = '45000'
-- data: SELECT line FROM log ORDER BY n : ['q'] ['p']
-- behaviour: a row that does not fit its variables leaves them as they were
CREATE PROCEDURE p (OUT v VARCHAR(4), OUT w INTEGER, OUT x VARCHAR(4), OUT y SMALLINT, OUT k INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT 'too long', 5 FROM tag WHERE code = 'aa';
  DECLARE d CURSOR FOR SELECT 5, price * 40000 FROM tag WHERE code = 'aa';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22001', SQLSTATE '22003' SET k = k + 1;
  SET v = 'was', w = 1, x = 'was', y = 2, k = 0;
  OPEN c;
  FETCH c INTO v, w;
  CLOSE c;
  OPEN d;
  FETCH d INTO w, y;
  CLOSE d;
  PREPARE s FROM 'SELECT ''too long'', 7 FROM tag WHERE code = ?';
  EXECUTE s INTO x, w USING 'aa';
  SELECT 8, 'too long' INTO w, x FROM tag WHERE code = 'aa';
END;
-- call: p
-- out: v = 'was', w = 1, x = 'was', y = 2, k = 4
