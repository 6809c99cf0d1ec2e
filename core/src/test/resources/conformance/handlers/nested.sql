-- behaviour: after an EXIT handler of the routine's own block, OUT values set so far are handed out
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET b = -1;
  SET a = 7;
  SIGNAL SQLSTATE '45001';
  SET a = 8;
END;
-- call: p
-- out: a = 7, b = -1
-- behaviour: an UNDO handler takes back what a procedure called in its block has changed, and not what stood before
CREATE PROCEDURE adds (IN x VARCHAR(10)) INSERT INTO log (line) VALUES (x);
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  CALL adds('before');
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLSTATE '45001'
    BEGIN
      SET r = 'undone';
      CALL adds('in handler');
    END;
    CALL adds('inside');
    UPDATE item SET qty = 0;
    SIGNAL SQLSTATE '45001';
  END;
  CALL adds('after');
END;
-- call: p
-- out: r = 'undone'
-- data: SELECT line FROM log ORDER BY n : ['before'] ['in handler'] ['after']
-- data: SELECT SUM(qty) FROM item : [30]
-- behaviour: variables keep their values when UNDO takes the rows back
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 1;
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLEXCEPTION SET n = n + 100;
    SET n = 2;
    DELETE FROM log;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: n = 102
-- behaviour: an inner ATOMIC block that fails is undone, and the outer one goes on with its handler
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = 'outer';
  SET r = '';
  INSERT INTO log (line) VALUES ('kept');
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('first');
    BEGIN ATOMIC
      DECLARE UNDO HANDLER FOR SQLSTATE '45001' SET r = 'inner';
      INSERT INTO log (line) VALUES ('second');
      SIGNAL SQLSTATE '45001';
    END;
    INSERT INTO log (line) VALUES (r);
    SIGNAL SQLSTATE '45002';
  END;
END;
-- call: p
-- out: r = 'outer'
-- data: SELECT line FROM log ORDER BY n : ['kept']
-- behaviour: an ATOMIC body of a callee that fails is undone before the caller's CONTINUE handler goes on
CREATE PROCEDURE q ()
BEGIN ATOMIC
  UPDATE item SET qty = 99 WHERE id = 1;
  UPDATE item SET qty = -1 WHERE id = 2;
END;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  CALL q();
  UPDATE item SET price = 5 WHERE id = 3;
END;
-- call: p
-- out: s = '23514'
-- data: SELECT qty, price FROM item ORDER BY id : [10, 0.25] [20, 0.10] [NULL, 5.00]
-- behaviour: a body that is not ATOMIC keeps what it did before it failed
CREATE PROCEDURE q ()
BEGIN
  UPDATE item SET price = 99 WHERE id = 1;
  SIGNAL SQLSTATE '45003';
END;
CREATE PROCEDURE p (OUT s VARCHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET s = 'seen';
  CALL q();
END;
-- call: p
-- out: s = 'seen'
-- data: SELECT price FROM item WHERE id = 1 : [99.00]
-- behaviour: a failure in an argument of CALL is the CALL's, and the routine is not entered
CREATE PROCEDURE q (IN x INTEGER) INSERT INTO log (line) VALUES ('entered');
CREATE PROCEDURE p (OUT r VARCHAR(10))
BEGIN
  DECLARE zero INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = 'zero';
  CALL q(1 / zero);
  SET r = r || '!';
END;
-- call: p
-- out: r = 'zero!'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a FOR whose query fails at the start goes on after the loop
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE zero INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'h';
  SET r = 'a';
  FOR x AS SELECT id FROM item WHERE id > 1 / zero DO SET r = r || 'b'; END FOR;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'ahz'
-- behaviour: a handler inside a FOR's body keeps the loop going over every row
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  SET r = '';
  FOR x AS SELECT id, qty FROM item ORDER BY id DO
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = r || 'div ';
      DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET r = r || 'null ';
      IF x.qty IS NULL THEN SIGNAL SQLSTATE '45000'; END IF;
      SET r = r || CAST(100 / (x.qty - 10) AS VARCHAR(5)) || ' ';
    END;
  END FOR;
END;
-- call: p
-- out: r = 'div 10 null '
-- behaviour: the same condition is handled anew each time it is raised
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET n = n + i;
  SET n = 0;
  WHILE i < 5 DO
    SET i = i + 1;
    SIGNAL SQLSTATE '45001';
  END WHILE;
END;
-- call: p
-- out: n = 15
-- behaviour: a warning raised inside a handler is taken by a handler around it, and the first goes on
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING SET r = r || 'w';
  SET r = 'a';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001'
    BEGIN
      SIGNAL SQLSTATE '01H05';
      SET r = r || 'h';
    END;
    SIGNAL SQLSTATE '45001';
  END;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'awhz'
-- behaviour: an exception with no handler in the routine leaves it through all its blocks
CREATE PROCEDURE q (INOUT x INTEGER)
BEGIN
  SET x = 5;
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45009' SET x = 6;
    BEGIN
      DECLARE EXIT HANDLER FOR NOT FOUND SET x = 7;
      SIGNAL SQLSTATE '45008' SET MESSAGE_TEXT = 'out';
    END;
  END;
END;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE v INTEGER DEFAULT 1;
  DECLARE EXIT HANDLER FOR SQLSTATE '45008' SET r = 'v is ' || v;
  CALL q(v);
END;
-- call: p
-- out: r = 'v is 1'
-- behaviour: LEAVE out of two loops from inside a handler of the inner one
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE i, j INTEGER DEFAULT 0;
  SET r = '';
  outer_loop: WHILE i < 3 DO
    SET i = i + 1;
    SET j = 0;
    inner_loop: WHILE j < 3 DO
      BEGIN
        DECLARE EXIT HANDLER FOR SQLSTATE '45001' LEAVE outer_loop;
        DECLARE EXIT HANDLER FOR SQLSTATE '45002' LEAVE inner_loop;
        SET j = j + 1;
        SET r = r || i || j || ' ';
        IF i = 1 AND j = 2 THEN SIGNAL SQLSTATE '45002'; END IF;
        IF i = 2 AND j = 1 THEN SIGNAL SQLSTATE '45001'; END IF;
      END;
    END WHILE;
  END WHILE;
END;
-- call: p
-- out: r = '11 12 21 '
-- behaviour: a handler for NOT FOUND is not for exceptions, one for SQLEXCEPTION not for warnings
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = r || 'n';
  DECLARE CONTINUE HANDLER FOR SQLWARNING SET r = r || 'w';
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'x';
  SET r = '';
  SIGNAL SQLSTATE '02H00';
  SIGNAL SQLSTATE '01H00';
  SIGNAL SQLSTATE '45000';
  SIGNAL SQLSTATE '22012';
  SIGNAL SQLSTATE 'HW001';
END;
-- call: p
-- out: r = 'nwxxx'
-- behaviour: a handler calls a procedure that raises, and the exception goes on from the handler
CREATE PROCEDURE cleanup () SIGNAL SQLSTATE '45050' SET MESSAGE_TEXT = 'cleanup failed';
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45050' GET DIAGNOSTICS CONDITION 1 r = MESSAGE_TEXT;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' CALL cleanup();
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: r = 'cleanup failed'
-- behaviour: a function's own handler gives the value, and the expression goes on
CREATE FUNCTION safe_div (a INTEGER, b INTEGER) RETURNS INTEGER
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN NULL;
  RETURN a / b;
END;
CREATE PROCEDURE p (OUT r VARCHAR(30))
SET r = COALESCE(safe_div(6, 2), -1) || ' ' || COALESCE(safe_div(1, 0), -1);
-- call: p
-- out: r = '3 -1'
-- behaviour: a handler takes what a deep recursion raises, once
CREATE PROCEDURE down (IN n INTEGER)
BEGIN
  IF n = 0 THEN SIGNAL SQLSTATE '45001'; END IF;
  CALL down(n - 1);
END;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET n = n + 1;
  SET n = 0;
  CALL down(20);
END;
-- call: p
-- out: n = 1
-- behaviour: each level of a recursion has handlers and variables of its own
CREATE PROCEDURE down (IN n INTEGER, INOUT trail VARCHAR(40))
BEGIN
  DECLARE mine INTEGER DEFAULT n * 10;
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET trail = trail || mine || ' ';
  IF n < 3 THEN CALL down(n + 1, trail); END IF;
  SIGNAL SQLSTATE '45001';
END;
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  SET r = '';
  CALL down(1, r);
END;
-- call: p
-- out: r = '30 20 10 '
-- behaviour: an assignment of several targets that fails changes none of them
CREATE PROCEDURE p (IN big INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE a INTEGER DEFAULT 1;
  DECLARE b SMALLINT DEFAULT 2;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET r = 'h';
  SET (a, b) = (10, big);
  SET r = r || a || b;
END;
-- call: p big = 100000
-- out: r = 'h12'
-- behaviour: conditions of one SQLSTATE under two names in nested blocks
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE bad CONDITION FOR SQLSTATE '45001';
  DECLARE EXIT HANDLER FOR bad SET r = r || 'outer';
  SET r = '';
  BEGIN
    DECLARE bad CONDITION FOR SQLSTATE '45002';
    DECLARE EXIT HANDLER FOR bad SET r = r || 'inner ';
    SIGNAL bad;
  END;
  SIGNAL bad;
END;
-- call: p
-- out: r = 'inner outer'
-- behaviour: two handlers for one condition in a block are an error
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = 'a';
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = 'b';
  SET r = 'c';
END;
-- problem: duplicate-name
-- behaviour: an UNDO handler wants an ATOMIC block
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE UNDO HANDLER FOR SQLSTATE '45001' SET r = 'a';
  SET r = 'c';
END;
-- problem: wrong-declaration
-- behaviour: a handler for success, class 00, is an error
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '00000' SET r = 'a';
  SET r = 'c';
END;
-- problem: wrong-sqlstate
-- behaviour: an SQLSTATE of four characters is an error
CREATE PROCEDURE p () SIGNAL SQLSTATE '4500';
-- problem: syntax
-- behaviour: what an EXIT handler passes on to a CONTINUE handler outside comes back to its end, and its block is left
CREATE PROCEDURE p (IN what INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'C';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '23514' RESIGNAL;
    DECLARE EXIT HANDLER FOR SQLSTATE '23505' BEGIN SET r = r || 'H'; SIGNAL SQLSTATE '45002'; END;
    IF what = 1 THEN UPDATE item SET qty = -1 WHERE id = 2; END IF;
    IF what = 2 THEN INSERT INTO item (id, name) VALUES (1, 'twice'); END IF;
    SET r = r || 'a';
    INSERT INTO log (line) VALUES ('last');
  END;
  SET r = r || 'z';
END;
-- call: p what = 1
-- out: r = 'Cz'
-- call: p what = 2
-- out: r = 'HCz'
-- call: p what = 3
-- out: r = 'az'
-- data: SELECT COUNT(*) FROM log : [1]
