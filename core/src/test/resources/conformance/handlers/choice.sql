-- behaviour: an EXIT handler leaves the block that declares it
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  SET r = 'a';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = r || 'h';
    SIGNAL SQLSTATE '45001';
    SET r = r || 'never';
  END;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'ahz'
-- behaviour: a CONTINUE handler goes on after the statement that raised
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET r = r || 'h';
  SET r = 'a';
  SIGNAL SQLSTATE '45001';
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'ahz'
-- behaviour: a CONTINUE handler of an outer block goes on inside the inner block
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'h';
  SET r = 'a';
  BEGIN
    SIGNAL SQLSTATE '45001';
    SET r = r || 'b';
  END;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'ahbz'
-- behaviour: after a failed test of IF a CONTINUE handler goes on after the whole IF
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE zero INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'h';
  SET r = 'a';
  IF 1 / zero = 1 THEN SET r = r || 'then'; ELSE SET r = r || 'else'; END IF;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'ahz'
-- behaviour: after a failed test of WHILE a CONTINUE handler goes on after the whole loop
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE i INTEGER DEFAULT 2;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'h';
  SET r = 'a';
  WHILE 10 / i > 0 DO SET i = i - 1; SET r = r || 'b'; END WHILE;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'abbhz'
-- behaviour: after a failed UNTIL a CONTINUE handler goes on after the whole loop
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE zero INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'h';
  SET r = 'a';
  REPEAT SET r = r || 'b'; UNTIL 1 / zero = 1 END REPEAT;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'abhz'
-- behaviour: after a failed operand of CASE a CONTINUE handler goes on after the whole CASE
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE zero INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'h';
  SET r = 'a';
  CASE 1 / zero WHEN 1 THEN SET r = r || '1'; ELSE SET r = r || 'e'; END CASE;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'ahz'
-- behaviour: within a block the handler for the very SQLSTATE wins over SQLEXCEPTION
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 'general';
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = 'special';
  SIGNAL SQLSTATE '45001';
END;
-- call: p
-- out: r = 'special'
-- behaviour: a general handler of an inner block wins over a special one of an outer block
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = 'outer';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 'inner';
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: r = 'inner'
-- behaviour: a handler does not guard its own body
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  SET r = 'a';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION
    BEGIN
      SET r = r || 'h';
      SIGNAL SQLSTATE '45002' SET MESSAGE_TEXT = 'from the handler';
    END;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- raises: 45002 from the handler
-- behaviour: what a handler raises is for the handlers of the block around
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = r || 'outer';
  SET r = 'a';
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SIGNAL SQLSTATE '45002';
    SIGNAL SQLSTATE '45001';
    SET r = r || 'never';
  END;
  SET r = r || 'never';
END;
-- call: p
-- out: r = 'aouter'
-- behaviour: a CONTINUE handler around a handler goes on inside that handler's body
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45002' SET r = r || 'c';
  SET r = 'a';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001'
    BEGIN
      SIGNAL SQLSTATE '45002';
      SET r = r || 'h';
    END;
    SIGNAL SQLSTATE '45001';
    SET r = r || 'never';
  END;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'achz'
-- behaviour: a handler does not guard the declarations beside it
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE zero INTEGER DEFAULT 0;
  SET r = 'a';
  BEGIN
    DECLARE x INTEGER DEFAULT 1 / zero;
    DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'h';
    SET r = r || x;
  END;
END;
-- call: p
-- raises: 22012
-- behaviour: a handler for a named condition takes its SQLSTATE
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE too_much CONDITION FOR SQLSTATE '45011';
  DECLARE EXIT HANDLER FOR too_much SET r = 'named';
  SIGNAL SQLSTATE '45011';
END;
-- call: p
-- out: r = 'named'
-- behaviour: a condition without an SQLSTATE is handled by its name
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE odd CONDITION;
  DECLARE EXIT HANDLER FOR odd SET r = 'odd';
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 'other';
  SIGNAL odd;
END;
-- call: p
-- out: r = 'odd'
-- behaviour: a condition without an SQLSTATE leaves the routine as 45000
CREATE PROCEDURE p ()
BEGIN
  DECLARE odd CONDITION;
  SIGNAL odd SET MESSAGE_TEXT = 'how odd';
END;
-- call: p
-- raises: 45000 how odd
-- behaviour: one handler may be for several conditions
CREATE PROCEDURE p (IN which INTEGER, OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001', SQLSTATE '45002', NOT FOUND SET r = 'mine';
  SET r = '';
  CASE which
    WHEN 1 THEN SIGNAL SQLSTATE '45001';
    WHEN 2 THEN SIGNAL SQLSTATE '45002';
    ELSE UPDATE item SET qty = 1 WHERE id = 99;
  END CASE;
  SET r = 'no';
END;
-- call: p which = 1
-- out: r = 'mine'
-- call: p which = 2
-- out: r = 'mine'
-- call: p which = 3
-- out: r = 'mine'
-- behaviour: LEAVE in a handler leaves the block it names
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  SET r = 'a';
  turns: LOOP
    BEGIN
      DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' LEAVE turns;
      SIGNAL SQLSTATE '45001';
      SET r = r || 'never';
    END;
    SET r = r || 'never';
  END LOOP;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'az'
-- behaviour: ITERATE in a handler goes on with the loop's next turn
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  turns: WHILE i < 3 DO
    SET i = i + 1;
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45001' ITERATE turns;
      IF i = 2 THEN SIGNAL SQLSTATE '45001'; END IF;
    END;
    SET r = r || i;
  END WHILE;
END;
-- call: p
-- out: r = '13'
-- behaviour: RETURN in a handler leaves the routine with its value
CREATE FUNCTION f () RETURNS VARCHAR(10)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION RETURN 'saved';
  SIGNAL SQLSTATE '45001';
  RETURN 'lost';
END;
-- call: f
-- returns: 'saved'
-- behaviour: a handler sees and changes the variables of its block
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE count INTEGER DEFAULT 5;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET count = count * 2;
  SIGNAL SQLSTATE '45001';
  SIGNAL SQLSTATE '45001';
  SET n = count;
END;
-- call: p
-- out: n = 20
-- behaviour: an exception of a callee is the CALL's, with its own SQLSTATE and message
CREATE PROCEDURE inner_one () SIGNAL SQLSTATE '45077' SET MESSAGE_TEXT = 'deep';
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45077'
    GET DIAGNOSTICS CONDITION 1 r = MESSAGE_TEXT;
  CALL inner_one();
END;
-- call: p
-- out: r = 'deep'
-- behaviour: a database's own error finds its handler by the standard SQLSTATE
CREATE PROCEDURE p (IN id INTEGER, IN name VARCHAR(20), IN qty INTEGER, OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = 'twice';
  DECLARE EXIT HANDLER FOR SQLSTATE '23502' SET r = 'missing';
  DECLARE EXIT HANDLER FOR SQLSTATE '23514' SET r = 'check';
  INSERT INTO item (id, name, qty) VALUES (id, name, qty);
  SET r = 'stored';
END;
-- call: p id = 1, name = 'x', qty = 1
-- out: r = 'twice'
-- call: p id = 8, name = null, qty = 1
-- out: r = 'missing'
-- call: p id = 8, name = 'x', qty = -1
-- out: r = 'check'
-- call: p id = 8, name = 'x', qty = 1
-- out: r = 'stored'
-- data: SELECT * FROM item ORDER BY 1 : [1, 'cork', 10, 0.25] [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50] [8, 'x', 1, NULL]
-- behaviour: a missing parent row is 23503
CREATE PROCEDURE p () INSERT INTO child (id, parent_id) VALUES (99, 98);
-- call: p
-- raises: 23503
-- behaviour: an exception of a function in an expression finds the statement's handler
CREATE FUNCTION f (x INTEGER) RETURNS INTEGER RETURN 10 / x;
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = 'zero';
  SET r = 'a';
  SET r = 'f' || f(0);
END;
-- call: p
-- out: r = 'zero'
-- behaviour: an exception of a function inside SQL keeps its SQLSTATE and message
CREATE FUNCTION f (x INTEGER) RETURNS INTEGER
BEGIN
  IF x = 2 THEN SIGNAL SQLSTATE '45033' SET MESSAGE_TEXT = 'not two'; END IF;
  RETURN x;
END;
CREATE PROCEDURE p (OUT total INTEGER) SELECT SUM(f(i.id)) INTO total FROM item i;
-- call: p
-- raises: 45033 not two
-- behaviour: handlers inside a loop work in each turn
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 4 DO
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = r || '!';
      SET r = r || CAST(12 / (i - 2) AS VARCHAR(10)) || ' ';
    END;
    SET i = i + 1;
  END WHILE;
END;
-- call: p
-- out: r = '-6 -12 !12 '
-- behaviour: a limit can't be handled
CREATE PROCEDURE p ()
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET i = 0;
  WHILE TRUE DO SET i = 1; END WHILE;
END;
-- call: p
-- raises: UL001 in p, line 5
-- behaviour: a handler may be a block with handlers of its own
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001'
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = r || 'inner';
    SET r = r || 'outer ';
    SIGNAL SQLSTATE '45002';
    SET r = r || 'never';
  END;
  SET r = '';
  SIGNAL SQLSTATE '45001';
END;
-- call: p
-- out: r = 'outer inner'
-- behaviour: a function with a CONTINUE handler ends with its RETURN
CREATE FUNCTION f (turns INTEGER) RETURNS INTEGER
BEGIN
  DECLARE i, bad, zero INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET bad = bad + 1;
  WHILE i < turns DO
    SET i = i + 1;
    SET bad = bad / zero;
  END WHILE;
  RETURN bad;
END;
-- call: f turns=3
-- returns: 3
-- behaviour: where a handler goes on after the RETURN itself there is no value
CREATE FUNCTION f (zero INTEGER) RETURNS INTEGER
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n = 1;
  RETURN 1 / zero;
END;
-- call: f zero=0
-- raises: 2F005
-- behaviour: a CONTINUE handler goes on behind a RETURN that failed, to the next one, where SQL calls the function
CREATE FUNCTION f (zero INTEGER) RETURNS INTEGER
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n = n + 1;
  RETURN 1 / zero;
  RETURN n + 40;
END;
CREATE PROCEDURE p (OUT r INTEGER) SET r = (SELECT f(0) FROM item WHERE id = 1);
-- call: p
-- out: r = 41
-- behaviour: what stood before a statement that failed stays when RESIGNAL hands the condition to an outer handler
CREATE PROCEDURE p (OUT r VARCHAR(10))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = 'outer';
  b: BEGIN
    DECLARE zero INTEGER DEFAULT 0;
    DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL;
    UPDATE item SET qty = 11 WHERE id = 1;
    UPDATE item SET qty = 12 WHERE id = 2;
    SET zero = 1 / zero;
  END b;
  SET r = r || '!';
END;
-- call: p
-- out: r = 'outer!'
-- data: SELECT id, qty FROM item WHERE id < 3 ORDER BY id : [1, 11] [2, 12]
-- behaviour: an EXIT handler of an outer block for NOT FOUND takes an ATOMIC block back on its way
CREATE PROCEDURE p (OUT r VARCHAR(10))
BEGIN
  DECLARE EXIT HANDLER FOR NOT FOUND SET r = 'none';
  BEGIN ATOMIC
    UPDATE item SET qty = 11 WHERE id = 1;
    DELETE FROM item WHERE id = 99;
  END;
  SET r = 'end';
END;
-- call: p
-- out: r = 'none'
-- data: SELECT qty FROM item WHERE id = 1 : [10]

-- behaviour: a text that is no number is an exception for a handler of all exceptions, blanks and tails too
CREATE PROCEDURE p (IN t VARCHAR(10), OUT r VARCHAR(20))
BEGIN
  DECLARE n INTEGER DEFAULT 5;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = 'caught';
  SET n = CAST(t AS INTEGER);
  SET r = COALESCE(r, 'kept') || ' ' || n;
END;
-- call: p t = ''
-- out: r = 'caught 5'
-- call: p t = '12x'
-- out: r = 'caught 5'
-- call: p t = ' -7 '
-- out: r = 'kept -7'

-- behaviour: a FOR that an EXIT handler has left does not disturb the next one
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = r || '!';
    FOR one AS SELECT id FROM item ORDER BY id DO
      SET r = r || one.id;
      IF one.id = 2 THEN SIGNAL SQLSTATE '45001'; END IF;
    END FOR;
  END;
  FOR two AS SELECT id FROM item ORDER BY id DO
    SET r = r || two.id;
  END FOR;
END;
-- call: p
-- out: r = '12!123'

-- behaviour: a CONTINUE handler outside an ATOMIC block goes on inside it, and nothing is taken back
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET r = 'on';
  BEGIN ATOMIC
    UPDATE item SET qty = 11 WHERE id = 1;
    SIGNAL SQLSTATE '45001';
    SET r = r || ' inside';
  END;
END;
-- call: p
-- out: r = 'on inside'
-- data: SELECT qty FROM item WHERE id = 1 : [11]

-- behaviour: a handler of an ATOMIC block passes a condition on to a CONTINUE handler outside, which goes on inside
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET r = 'on';
  BEGIN ATOMIC
    DECLARE CONTINUE HANDLER FOR SQLEXCEPTION RESIGNAL;
    UPDATE item SET qty = 11 WHERE id = 1;
    SIGNAL SQLSTATE '45001';
    SET r = r || ' inside';
  END;
END;
-- call: p
-- out: r = 'on inside'
-- data: SELECT qty FROM item WHERE id = 1 : [11]
