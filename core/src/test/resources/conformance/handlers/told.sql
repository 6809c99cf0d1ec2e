-- behaviour: what a procedure did before it failed stays, through two calls and a handler in each
CREATE PROCEDURE r (IN a INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('r1');
  INSERT INTO log (line) VALUES (CAST(6 / a AS VARCHAR(5)));
  INSERT INTO log (line) VALUES ('r2');
END;
CREATE PROCEDURE q (IN a INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000' INSERT INTO log (line) VALUES ('never');
  INSERT INTO log (line) VALUES ('q1');
  CALL r(a);
  INSERT INTO log (line) VALUES ('q2');
END;
CREATE PROCEDURE p (IN a INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO log (line) VALUES ('p1');
  CALL q(a);
  INSERT INTO log (line) VALUES ('p2');
END;
-- call: p a = 0
-- out: s = '22012'
-- data: SELECT line FROM log ORDER BY n : ['p1'] ['q1'] ['r1'] ['p2']
-- call: p a = 3
-- out: s = NULL
-- data: SELECT line FROM log ORDER BY n : ['p1'] ['q1'] ['r1'] ['p2'] ['p1'] ['q1'] ['r1'] ['2'] ['r2'] ['q2'] ['p2']
-- behaviour: OUT and INOUT values of a call that fails are not given
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER, INOUT c VARCHAR(9))
BEGIN
  SET b = 77;
  SET c = c || '!';
  INSERT INTO log (line) VALUES (c);
  IF a = 0 THEN SIGNAL SQLSTATE '45000'; END IF;
END;
CREATE PROCEDURE p (IN a INTEGER, OUT v INTEGER, OUT w VARCHAR(9))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET w = w || '?';
  SET v = 1, w = 'x';
  CALL q(a, v, w);
END;
-- call: p a = 0
-- out: v = 1, w = 'x?'
-- data: SELECT line FROM log : ['x!']
-- call: p a = 1
-- out: v = 77, w = 'x!'
-- behaviour: what a call gives does not fit, and what it did stays
CREATE PROCEDURE q (OUT t VARCHAR(20))
BEGIN
  INSERT INTO log (line) VALUES ('q');
  SET t = 'much too long';
END;
CREATE PROCEDURE qa (OUT t VARCHAR(20))
BEGIN ATOMIC
  INSERT INTO log (line) VALUES ('qa');
  SET t = 'much too long';
END;
CREATE PROCEDURE p (OUT v VARCHAR(4), OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET v = 'was';
  CALL q(v);
  CALL qa(v);
END;
-- call: p
-- out: v = 'was', s = '22001'
-- data: SELECT line FROM log ORDER BY n : ['q'] ['qa']
-- behaviour: an argument that fails calls nothing
CREATE PROCEDURE q (IN a INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('q');
  INSERT INTO log (line) VALUES ('q');
END;
CREATE PROCEDURE p (IN a INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  CALL q(1 / a);
END;
-- call: p a = 0
-- out: s = '22012'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: the message and the items of what a callee raised reach the handler
CREATE PROCEDURE q ()
BEGIN
  INSERT INTO log (line) VALUES ('q');
  SIGNAL SQLSTATE '45123' SET MESSAGE_TEXT = 'it''s enough', TABLE_NAME = 'wine';
END;
CREATE PROCEDURE p (OUT s CHAR(5), OUT m VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
  CALL q();
END;
-- call: p
-- out: s = '45123', m = 'it''s enough'
-- data: SELECT line FROM log : ['q']
-- behaviour: a procedure that calls itself and fails at the bottom
CREATE PROCEDURE q (IN n INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('n' || n);
  IF n = 0 THEN SIGNAL SQLSTATE '45000'; END IF;
  CALL q(n - 1);
  INSERT INTO log (line) VALUES ('never');
END;
CREATE PROCEDURE p (OUT r VARCHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET r = 'h';
  CALL q(2);
END;
-- call: p
-- out: r = 'h'
-- data: SELECT line FROM log ORDER BY n : ['n2'] ['n1'] ['n0']
-- behaviour: an ATOMIC block in a callee is undone, what stands before it stays
CREATE PROCEDURE q ()
BEGIN
  INSERT INTO log (line) VALUES ('before');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('inside');
    SIGNAL SQLSTATE '45000';
  END;
END;
CREATE PROCEDURE p (OUT r VARCHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = 'h';
  CALL q();
END;
-- call: p
-- out: r = 'h'
-- data: SELECT line FROM log : ['before']
-- behaviour: a handler of the callee raises something else
CREATE PROCEDURE q ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    INSERT INTO log (line) VALUES ('handler');
    RESIGNAL SQLSTATE '45999';
  END;
  INSERT INTO log (line) VALUES ('q');
  INSERT INTO item (id, name) VALUES (1, 'twice');
END;
CREATE PROCEDURE p (OUT r VARCHAR(9))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' SET r = 'never';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45999' SET r = 'right';
  CALL q();
END;
-- call: p
-- out: r = 'right'
-- data: SELECT line FROM log ORDER BY n : ['q'] ['handler']
-- behaviour: rows that are gone through by a callee, with a failure in the middle
CREATE PROCEDURE q ()
BEGIN
  DECLARE i INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id;
  OPEN c;
  FETCH c INTO i;
  WHILE i < 3 DO
    INSERT INTO log (line) VALUES ('c' || i);
    FETCH c INTO i;
  END WHILE;
  FOR r AS SELECT id FROM item ORDER BY id DO
    INSERT INTO log (line) VALUES ('f' || r.id || ' ' || 4 / (2 - r.id));
  END FOR;
  CLOSE c;
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET s = '22012';
  CALL q();
  CALL q();
END;
-- call: p
-- out: s = '22012'
-- data: SELECT line FROM log ORDER BY n : ['c1'] ['c2'] ['f1 4'] ['c1'] ['c2'] ['f1 4']
-- behaviour: a trigger's handler stands around a call that fails half-way
CREATE PROCEDURE q (IN a INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('q' || a);
  IF a > 1 THEN SIGNAL SQLSTATE '45000'; END IF;
  INSERT INTO log (line) VALUES ('r' || a);
END;
CREATE TRIGGER g AFTER UPDATE ON item FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' INSERT INTO log (line) VALUES ('h');
  CALL q(NEW.id);
END;
CREATE PROCEDURE p () UPDATE item SET qty = 9 WHERE id IN (1, 2);
-- call: p
-- data: SELECT COUNT(*) FROM log : [4]
-- behaviour: delimited names, and a procedure with the name that a copy would have
CREATE PROCEDURE "My Proc" (IN "A b" INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('my');
  INSERT INTO log (line) VALUES (CAST(1 / "A b" AS VARCHAR(5)));
END;
CREATE PROCEDURE q () BEGIN INSERT INTO log (line) VALUES ('q'); SIGNAL SQLSTATE '45000'; END;
CREATE PROCEDURE q_telling () INSERT INTO log (line) VALUES ('own');
CREATE PROCEDURE p (OUT k INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET k = k + 1;
  SET k = 0;
  CALL "My Proc"(0);
  CALL q();
  CALL q_telling();
END;
-- call: p
-- out: k = 2
-- data: SELECT line FROM log ORDER BY n : ['my'] ['q'] ['own']
-- behaviour: a call with a handler around, in a loop, with a default left out
CREATE PROCEDURE q (IN a INTEGER, IN b VARCHAR(5) DEFAULT 'dflt')
BEGIN
  INSERT INTO log (line) VALUES (b || a);
  IF MOD(a, 2) = 1 THEN SIGNAL SQLSTATE '45000'; END IF;
  INSERT INTO log (line) VALUES ('even');
END;
CREATE PROCEDURE p (OUT k INTEGER)
BEGIN
  SET k = 0;
  FOR i IN 1..3 DO
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET k = k + 1;
      CALL q(i);
      SET k = k + 10;
    END;
  END FOR;
END;
-- call: p
-- out: k = 12
-- data: SELECT line FROM log ORDER BY n : ['dflt1'] ['dflt2'] ['even'] ['dflt3']
