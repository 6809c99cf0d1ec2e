-- behaviour: a handler of a block runs for what its own nested block passes on, once
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45020' SET r = r || ' outer';
  SET r = 'start';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45020'
    BEGIN
      SET r = r || ' inner';
      RESIGNAL;
    END;
    SIGNAL SQLSTATE '45020';
  END;
  SET r = r || ' never';
END;
-- call: p
-- out: r = 'start inner outer'
-- behaviour: what a handler raises itself goes to the block outside, not to its neighbour
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45022' SET r = r || ' far';
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45022' SET r = r || ' near';
    DECLARE EXIT HANDLER FOR SQLSTATE '45021'
    BEGIN
      SET r = r || ' first';
      SIGNAL SQLSTATE '45022';
    END;
    SIGNAL SQLSTATE '45021';
  END;
END;
-- call: p
-- out: r = ' first far'
-- behaviour: the special handler wins over the general one of the same block, not over an inner one
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = 'state outside';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 'class inside';
    DECLARE EXIT HANDLER FOR SQLSTATE '45023' SET r = 'state inside';
    IF k = 0 THEN SIGNAL SQLSTATE '45023'; END IF;
    SET k = 1 / (k - k);
  END;
END;
-- call: p k = 0
-- out: r = 'state inside'
-- call: p k = 1
-- out: r = 'class inside'
-- behaviour: a CONTINUE handler goes on inside IF, CASE and WHILE whose condition failed
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n = n + 1;
  SET r = 'a';
  IF 1 / 0 = 1 THEN SET r = r || 'b'; ELSE SET r = r || 'c'; END IF;
  SET r = r || 'd';
  WHILE 1 / 0 = 1 DO SET r = r || 'e'; END WHILE;
  SET r = r || n;
END;
-- call: p
-- out: r = 'ad2'
-- behaviour: NOT FOUND of a FETCH in a nested block reaches the loop's flag outside
CREATE PROCEDURE p (OUT r VARCHAR(40), OUT n INTEGER)
BEGIN
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE v VARCHAR(5);
  DECLARE c CURSOR FOR SELECT code FROM tag ORDER BY code DESC;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '', n = 0;
  OPEN c;
  WHILE NOT done DO
    BEGIN
      DECLARE w VARCHAR(5);
      FETCH c INTO w;
      SET v = w;
    END;
    IF NOT done THEN SET r = r || v; END IF;
    SET n = n + 1;
  END WHILE;
  CLOSE c;
END;
-- call: p
-- out: r = 'ccbbaa', n = 4
-- behaviour: a second condition in a handler leaves the first one's text readable before it
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45024'
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45025'
      GET DIAGNOSTICS CONDITION 1 b = MESSAGE_TEXT;
    GET DIAGNOSTICS CONDITION 1 a = MESSAGE_TEXT;
    SIGNAL SQLSTATE '45025' SET MESSAGE_TEXT = 'two';
  END;
  SIGNAL SQLSTATE '45024' SET MESSAGE_TEXT = 'one';
END;
-- call: p
-- out: a = 'one', b = 'two'
-- behaviour: an EXIT handler in a loop's body goes on with the next turn
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  SET r = '';
  FOR x AS SELECT code, price FROM tag ORDER BY code DO
    BEGIN
      DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || x.code || '! ';
      IF x.price IS NULL THEN SIGNAL SQLSTATE '45026'; END IF;
      SET r = r || x.code || ' ';
    END;
  END FOR;
END;
-- call: p
-- out: r = 'aa bb! cc '
-- behaviour: a handler for a warning of a class does not take an exception, nor the other way about
CREATE PROCEDURE p (IN s VARCHAR(5), OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING SET r = 'warning';
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'not found';
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = 'exception';
  CASE s
    WHEN '01' THEN SIGNAL SQLSTATE '01777';
    WHEN '02' THEN SIGNAL SQLSTATE '02777';
    ELSE SIGNAL SQLSTATE '45777';
  END CASE;
END;
-- call: p s = '01'
-- out: r = 'warning'
-- call: p s = '02'
-- out: r = 'not found'
-- call: p s = '45'
-- out: r = 'exception'
-- behaviour: a named condition hides one of the same name outside
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE trouble CONDITION FOR SQLSTATE '45031';
  DECLARE EXIT HANDLER FOR trouble SET r = r || 'outer';
  SET r = '';
  BEGIN
    DECLARE trouble CONDITION FOR SQLSTATE '45032';
    DECLARE CONTINUE HANDLER FOR trouble SET r = r || 'inner ';
    SIGNAL trouble;
    SIGNAL SQLSTATE '45031';
  END;
END;
-- call: p
-- out: r = 'inner outer'
-- behaviour: a procedure's unhandled NOT FOUND is the caller's no exception
CREATE PROCEDURE q (OUT v INTEGER)
BEGIN
  SET v = 4;
  SELECT price INTO v FROM tag WHERE code = 'zz';
END;
CREATE PROCEDURE p (OUT v INTEGER, OUT n INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET n = -1;
  CALL q(v);
  SET n = 1;
END;
-- call: p
-- out: v = 4, n = 1
-- behaviour: ROW_COUNT after a handler ran is of the statement before it no more
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  UPDATE tag SET price = 5 WHERE code <> 'aa';
  GET DIAGNOSTICS a = ROW_COUNT;
  DELETE FROM tag WHERE code = 'aa';
  GET DIAGNOSTICS b = ROW_COUNT;
END;
-- call: p
-- out: a = 2, b = 1
-- data: SELECT code, price FROM tag ORDER BY code : ['bb', 5] ['cc', 5]
-- behaviour: an error in a function's argument is the assignment's, which leaves its target
CREATE FUNCTION same (n INTEGER) RETURNS INTEGER RETURN n;
CREATE PROCEDURE p (IN k INTEGER, OUT r INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET r = 3;
  SET r = same(10 / k) + same(CAST('x' || k AS INTEGER));
END;
-- call: p k = 0
-- out: r = 3, s = '22012'
-- call: p k = 2
-- out: r = 3, s = '22018'
-- behaviour: a deep recursion of handlers and blocks gives each level its own variables
CREATE PROCEDURE q (IN k INTEGER, INOUT r VARCHAR(60))
BEGIN
  DECLARE mine INTEGER DEFAULT k;
  DECLARE EXIT HANDLER FOR SQLSTATE '45040' SET r = r || mine;
  IF k > 0 THEN CALL q(k - 1, r); END IF;
  SET r = r || '(' || mine;
  SIGNAL SQLSTATE '45040';
END;
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  CALL q(3, r);
END;
-- call: p
-- out: r = '(00(11(22(33'
-- behaviour: comments and blanks between the words of a handler are nothing
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE /* EXIT */ continue
    Handler -- FOR NOT FOUND
    FOR /* '45050' */ sqlstate VALUE '45051' , -- it's
      SQLSTATE /**/ '45052'
    SET r = COALESCE ( r , 0 ) + 1 ;
  SIGNAL SQLSTATE '45051' ;
  SIGNAL  SQLSTATE  VALUE '45052';
END;
-- call: p
-- out: r = 2
-- behaviour: a RETURN in a handler of a function gives the function's value
CREATE FUNCTION safe (a INTEGER, b INTEGER) RETURNS INTEGER
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN -1;
  RETURN a / b;
END;
CREATE PROCEDURE p (OUT x INTEGER, OUT y INTEGER, OUT z INTEGER)
BEGIN
  SET x = safe(7, 2), y = safe(7, 0), z = safe(NULL, 0);
END;
-- call: p
-- out: x = 3, y = -1, z = NULL
-- behaviour: a cursor left open by an EXIT handler is closed with its block
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  REPEAT
    BEGIN
      DECLARE v VARCHAR(5);
      DECLARE c CURSOR FOR SELECT code FROM tag ORDER BY code;
      DECLARE EXIT HANDLER FOR SQLSTATE '45060' SET n = n + 1;
      OPEN c;
      FETCH c INTO v;
      SIGNAL SQLSTATE '45060';
    END;
  UNTIL n = 3 END REPEAT;
END;
-- call: p
-- out: n = 3
-- behaviour: after a failed statement in a transaction the work before stays and can be committed
CREATE PROCEDURE p (OUT s CHAR(5), OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  INSERT INTO tag VALUES ('dd', 1);
  INSERT INTO tag VALUES ('ee', 1), ('dd', 2);
  COMMIT;
  INSERT INTO tag VALUES ('ff', 1);
  ROLLBACK;
  SELECT COUNT(*) INTO n FROM tag;
END;
-- call: p
-- out: s = '23505', n = 4
-- data: SELECT code FROM tag WHERE code > 'd' : ['dd']
-- behaviour: beside a dividend that is NULL no divisor is looked at
CREATE PROCEDURE p (IN n INTEGER, OUT a INTEGER, OUT b INTEGER, OUT c DECIMAL(8, 2), OUT d INTEGER)
BEGIN
  DECLARE x DECIMAL(8, 2);
  SET a = n / 0;
  SET b = n % 0;
  SET c = x / (0 * 1.5);
  SELECT price / (price - price) INTO d FROM tag WHERE code = 'bb';
  SELECT t.price / 0 INTO d FROM tag AS t WHERE t.code = 'bb';
END;
-- call: p n = NULL
-- out: a = NULL, b = NULL, c = NULL, d = NULL
-- call: p n = 1
-- raises: 22012
