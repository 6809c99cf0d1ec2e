-- behaviour: a handler for the first state of a class takes no other of that class
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'all';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET r = r || 'never';
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: r = 'all'
-- behaviour: nor without another handler
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22000' SET r = r || 'never';
  SET r = '';
  SET r = CAST(1 / CHAR_LENGTH(r) AS VARCHAR(5));
END;
-- call: p
-- raises: 22012
-- behaviour: a CONTINUE handler outside goes on in the ATOMIC block, whose changes stay
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'h';
  SET r = '';
  INSERT INTO log (line) VALUES ('a');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('b');
    SIGNAL SQLSTATE '45000';
    INSERT INTO item (id, name) VALUES (1, 'twice');
    INSERT INTO log (line) VALUES ('c');
  END;
  INSERT INTO log (line) VALUES ('d');
END;
-- call: p
-- out: r = 'hh'
-- data: SELECT line FROM log ORDER BY n : ['a'] ['b'] ['c'] ['d']
-- behaviour: beside it an EXIT handler takes another state, and all of the block falls
CREATE PROCEDURE p (IN id INTEGER, OUT r VARCHAR(40))
BEGIN
  SET r = '';
  INSERT INTO log (line) VALUES ('a');
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = r || 'left ';
    DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'went on ';
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('b');
      SIGNAL SQLSTATE '45000';
      INSERT INTO log (line) VALUES ('c');
      INSERT INTO item (id, name) VALUES (p.id, 'maybe');
      INSERT INTO log (line) VALUES ('d');
    END;
    SET r = r || 'end ';
  END;
  SET r = r || 'after';
END;
-- call: p id = 1
-- out: r = 'went on left after'
-- data: SELECT line FROM log ORDER BY n : ['a']
-- call: p id = 50
-- out: r = 'went on end after'
-- data: SELECT line FROM log ORDER BY n : ['a'] ['a'] ['b'] ['c'] ['d']
-- behaviour: the CONTINUE handler stands nearer than the EXIT handler for everything
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'out';
  SET r = '';
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45000', SQLSTATE '22012' SET r = r || 'on ';
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('b');
      IF 10 / a > 2 THEN
        SET r = r || 'big ';
      END IF;
      SIGNAL SQLSTATE '45000';
      INSERT INTO log (line) VALUES ('c');
      IF a = 1 THEN
        SIGNAL SQLSTATE '45001';
      END IF;
    END;
    SET r = r || 'end';
  END;
END;
-- call: p a = 1
-- out: r = 'big on out'
-- data: SELECT COUNT(*) FROM log : [0]
-- call: p a = 0
-- out: r = 'on on end'
-- data: SELECT line FROM log ORDER BY n : ['b'] ['c']
-- behaviour: what the CONTINUE handler raises goes beyond the EXIT handler beside it
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'outermost';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = r || 'never ';
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' INSERT INTO item (id, name) VALUES (1, 'twice');
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('b');
      SIGNAL SQLSTATE '45000';
      SET r = r || 'never ';
    END;
    SET r = r || 'never ';
  END;
END;
-- call: p
-- out: r = 'outermost'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: an ATOMIC block in an ATOMIC block under a CONTINUE handler
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET r = r || 'on ';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = r || 'left ';
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('1');
      BEGIN ATOMIC
        INSERT INTO log (line) VALUES ('2');
        SIGNAL SQLSTATE '45000';
        INSERT INTO log (line) VALUES (CAST(6 / a AS VARCHAR(3)));
      END;
      SIGNAL SQLSTATE '45000';
      INSERT INTO log (line) VALUES ('4');
    END;
  END;
  INSERT INTO log (line) VALUES ('5');
END;
-- call: p a = 2
-- out: r = 'on on '
-- data: SELECT line FROM log ORDER BY n : ['1'] ['2'] ['3'] ['4'] ['5']
-- call: p a = 0
-- out: r = 'on left '
-- data: SELECT line FROM log ORDER BY n : ['1'] ['2'] ['3'] ['4'] ['5'] ['5']
-- behaviour: a handler of the ATOMIC block itself comes first
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'outside ';
  SET r = '';
  BEGIN ATOMIC
    DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET r = r || 'inside ';
    INSERT INTO log (line) VALUES ('b');
    SIGNAL SQLSTATE '45001';
    INSERT INTO log (line) VALUES ('c');
    SIGNAL SQLSTATE '45000';
    INSERT INTO log (line) VALUES ('never');
  END;
  SET r = r || 'end';
END;
-- call: p
-- out: r = 'outside inside end'
-- data: SELECT line FROM log ORDER BY n : ['b'] ['c']
-- behaviour: an UNDO handler beside an EXIT and a CONTINUE handler, and another outside
CREATE PROCEDURE p (IN what INTEGER, OUT r VARCHAR(60))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45004' SET r = r || 'outside ';
  SET r = '';
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLSTATE '45001' SET r = r || 'undone ';
    DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = r || 'left ';
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45003' SET r = r || 'on ';
    INSERT INTO log (line) VALUES ('b' || what);
    CASE what
      WHEN 1 THEN SIGNAL SQLSTATE '45001';
      WHEN 2 THEN SIGNAL SQLSTATE '45002';
      WHEN 3 THEN SIGNAL SQLSTATE '45003';
      ELSE SIGNAL SQLSTATE '45004';
    END CASE;
    INSERT INTO log (line) VALUES ('c' || what);
  END;
  SET r = r || 'end';
END;
-- call: p what = 1
-- out: r = 'undone end'
-- data: SELECT COUNT(*) FROM log : [0]
-- call: p what = 2
-- out: r = 'left end'
-- data: SELECT line FROM log ORDER BY n : ['b2']
-- call: p what = 3
-- out: r = 'on end'
-- data: SELECT line FROM log ORDER BY n : ['b2'] ['b3'] ['c3']
-- call: p what = 4
-- out: r = 'outside end'
-- data: SELECT line FROM log ORDER BY n : ['b2'] ['b3'] ['c3'] ['b4'] ['c4']
-- behaviour: what an EXIT handler beside an UNDO handler raises goes beyond both
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'beyond';
  SET r = '';
  INSERT INTO log (line) VALUES ('a');
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLSTATE '45001' SET r = r || 'never ';
    DECLARE EXIT HANDLER FOR SQLSTATE '45002' SIGNAL SQLSTATE '45001';
    INSERT INTO log (line) VALUES ('b');
    SIGNAL SQLSTATE '45002';
  END;
END;
-- call: p
-- out: r = 'beyond'
-- data: SELECT line FROM log ORDER BY n : ['a']
-- behaviour: rows that are tried one by one in an ATOMIC block, and counted where they fail
CREATE PROCEDURE p (OUT good INTEGER, OUT bad INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' SET bad = bad + 1;
  SET good = 0, bad = 0;
  FOR r AS SELECT id FROM item ORDER BY id DO
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('try');
      INSERT INTO item (id, name) VALUES (r.id * 2, 'double');
      SET good = good + 1;
    END;
  END FOR;
END;
-- call: p
-- out: good = 3, bad = 1
-- data: SELECT COUNT(*) FROM log : [3]
-- behaviour: a function and a trigger with an ATOMIC block under a CONTINUE handler
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER MODIFIES SQL DATA
BEGIN
  DECLARE r INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r + 100;
  BEGIN ATOMIC
    SET r = r + 1;
    INSERT INTO log (line) VALUES ('f');
    SET r = r + 10 / a;
    INSERT INTO log (line) VALUES ('g');
  END;
  RETURN r;
END;
CREATE PROCEDURE p (IN a INTEGER, OUT r INTEGER) SET r = f(a);
-- call: p a = 0
-- out: r = 101
-- data: SELECT line FROM log ORDER BY n : ['f'] ['g']
-- call: p a = 5
-- out: r = 3
-- data: SELECT COUNT(*) FROM log : [4]
-- behaviour: LEAVE out of an ATOMIC block keeps its changes, under both kinds of handlers
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = r || 'exit';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET r = r || 'on ';
  SET r = '';
  turns: LOOP
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('a');
      SIGNAL SQLSTATE '45000';
      LEAVE turns;
    END;
  END LOOP;
  SET r = r || 'left ';
  INSERT INTO item (id, name) VALUES (1, 'twice');
END;
-- call: p
-- out: r = 'on left exit'
-- data: SELECT line FROM log : ['a']
-- behaviour: an ATOMIC block that was left by LEAVE is not undone by what comes later
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = r || 'exit';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET r = r || 'on ';
  SET r = '';
  turns: FOR i IN 1..3 DO
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('t' || i);
      IF i = 2 THEN ITERATE turns; END IF;
      SIGNAL SQLSTATE '45000';
      one: BEGIN ATOMIC
        INSERT INTO log (line) VALUES ('u' || i);
        IF i = 3 THEN LEAVE turns; END IF;
        LEAVE one;
      END;
      INSERT INTO log (line) VALUES ('v' || i);
    END;
  END FOR;
  INSERT INTO item (id, name) VALUES (1, 'twice');
END;
-- call: p
-- out: r = 'on on exit'
-- data: SELECT line FROM log ORDER BY n : ['t1'] ['u1'] ['v1'] ['t2'] ['t3'] ['u3']
-- behaviour: the caller's handler goes on, and the callee's ATOMIC block has been undone
CREATE PROCEDURE q (IN a INTEGER)
BEGIN ATOMIC
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' INSERT INTO log (line) VALUES ('on');
  INSERT INTO log (line) VALUES ('q1');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('q2');
    SIGNAL SQLSTATE '45000';
    INSERT INTO log (line) VALUES (CAST(6 / a AS VARCHAR(3)));
  END;
END;
CREATE PROCEDURE p (IN a INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO log (line) VALUES ('p');
  CALL q(a);
  INSERT INTO log (line) VALUES ('end');
END;
-- call: p a = 2
-- out: s = NULL
-- data: SELECT line FROM log ORDER BY n : ['p'] ['q1'] ['q2'] ['on'] ['3'] ['end']
-- call: p a = 0
-- out: s = '22012'
-- data: SELECT line FROM log ORDER BY n : ['p'] ['q1'] ['q2'] ['on'] ['3'] ['end'] ['p'] ['end']
-- behaviour: an EXIT handler that asks for its condition, with the ATOMIC block undone
CREATE PROCEDURE p (OUT s CHAR(5), OUT m VARCHAR(40), OUT k INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET k = 1;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION
    BEGIN
      GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
      SELECT COUNT(*) INTO k FROM log;
    END;
    INSERT INTO log (line) VALUES ('stays');
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('falls');
      SIGNAL SQLSTATE '45678' SET MESSAGE_TEXT = 'enough';
    END;
  END;
END;
-- call: p
-- out: s = '45678', m = 'enough', k = 1
-- data: SELECT line FROM log : ['stays']
-- behaviour: RESIGNAL from an EXIT handler outside, to another that goes on
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45009' SET r = r || 'on';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' BEGIN SET r = r || 'exit '; RESIGNAL SQLSTATE '45009'; END;
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('falls');
      SIGNAL SQLSTATE '45001';
    END;
  END;
  INSERT INTO log (line) VALUES ('end');
END;
-- call: p
-- out: r = 'exit on'
-- data: SELECT line FROM log : ['end']
-- behaviour: an exception that nothing takes leaves both blocks and the routine
CREATE PROCEDURE p ()
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' BEGIN END;
  INSERT INTO log (line) VALUES ('a');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('b');
    SIGNAL SQLSTATE '45001';
    SIGNAL SQLSTATE '45002';
  END;
END;
-- call: p
-- raises: 45002
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: RETURN out of an ATOMIC block under a CONTINUE handler keeps its changes
CREATE PROCEDURE q ()
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' INSERT INTO log (line) VALUES ('h');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('b');
    SIGNAL SQLSTATE '45001';
    RETURN;
  END;
END;
CREATE PROCEDURE p ()
BEGIN
  CALL q();
  INSERT INTO log (line) VALUES ('p');
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['b'] ['h'] ['p']
-- behaviour: what an outer CONTINUE handler's own block raises leaves the ATOMIC block it came from
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = r || 'out';
  SET r = '';
  INSERT INTO log (line) VALUES ('a');
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45001'
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = r || 'inner ' || CAST(1 / CHAR_LENGTH('') AS VARCHAR(3));
      SET r = r || 'h ';
      SIGNAL SQLSTATE '45002';
    END;
    BEGIN ATOMIC
      INSERT INTO log (line) VALUES ('b');
      SIGNAL SQLSTATE '45001';
    END;
  END;
END;
-- call: p
-- out: r = 'h out'
-- data: SELECT line FROM log : ['a']
