-- behaviour: an UPDATE of no rows and a SELECT of none in one IF chain
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(60))
BEGIN
  DECLARE v INTEGER DEFAULT -1;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = r || 'nf ';
  SET r = '';
  UPDATE item SET qty = qty + 1 WHERE id = k;
  SELECT qty INTO v FROM item WHERE id = k;
  DELETE FROM child WHERE parent_id = k + 100;
  IF v = -1 THEN SET r = r || 'none'; ELSEIF v IS NULL THEN SET r = r || 'null'; ELSE SET r = r || v; END IF;
END;
-- call: p k = 3
-- out: r = 'nf null'
-- call: p k = 9
-- out: r = 'nf nf nf none'
-- call: p k = 1
-- out: r = 'nf 11'
-- data: SELECT qty FROM item WHERE id = 1 : [11]
-- behaviour: the nearest handler wins, not the more specific of an outer block
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'outer22012 ';
  SET r = '';
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'inner ';
    SET r = r || 1 / 0;
    BEGIN
      DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET r = r || 'deep ';
      SET r = r || 1 / 0;
    END;
  END;
  SET r = r || 1 / 0;
END;
-- call: p
-- out: r = 'inner inner outer22012 '
-- behaviour: of two handlers in a block the more specific one is taken, wherever it stands
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE bad CONDITION FOR SQLSTATE '22012';
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'any ';
  DECLARE CONTINUE HANDLER FOR bad SET r = r || 'bad ';
  SET r = '';
  SET r = r || 1 / 0;
  SIGNAL SQLSTATE '22003';
  SIGNAL bad;
END;
-- call: p
-- out: r = 'bad any bad '
-- behaviour: a handler's own exception goes outside, past its block's other handlers
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45002' SET r = r || 'outer';
  SET r = '';
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' BEGIN SET r = r || 'one '; SIGNAL SQLSTATE '45002'; END;
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45002' SET r = r || 'never ';
    SIGNAL SQLSTATE '45001';
    SET r = r || 'after ';
  END;
  SET r = r || 'not here';
END;
-- call: p
-- out: r = 'one outer'
-- behaviour: GET DIAGNOSTICS in a handler reads what it handles, before and after statements
CREATE PROCEDURE p (OUT s VARCHAR(10), OUT m VARCHAR(50), OUT n INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    INSERT INTO log (line) VALUES ('seen');
    GET STACKED DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
    GET DIAGNOSTICS n = ROW_COUNT;
  END;
  SIGNAL SQLSTATE '45017' SET MESSAGE_TEXT = 'it''s so';
END;
-- call: p
-- out: s = '45017', m = 'it''s so', n = 1
-- data: SELECT line FROM log : ['seen']
-- behaviour: a loop left from a nested block by a handler's LEAVE of its label
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  l: WHILE i < 5 DO
    SET i = i + 1;
    b: BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = r || 'h' || i || ' ';
      IF MOD(i, 2) = 0 THEN SIGNAL SQLSTATE '45001'; END IF;
      IF i = 3 THEN LEAVE b; END IF;
      IF i = 5 THEN ITERATE l; END IF;
      SET r = r || i || ' ';
    END b;
    SET r = r || '. ';
  END WHILE l;
END;
-- call: p
-- out: r = '1 . h2 . . h4 . '
-- behaviour: an exception in the condition of WHILE, handled by CONTINUE, ends the loop
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE i INTEGER DEFAULT 2;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = r || 'zero ';
  SET r = '';
  WHILE 10 / i > 0 DO
    SET r = r || i || ' ';
    SET i = i - 1;
  END WHILE;
  SET r = r || 'end';
END;
-- call: p
-- out: r = '2 1 zero end'
-- behaviour: a function's exception inside an INSERT's VALUES, in a loop with a CONTINUE handler
CREATE FUNCTION half (n INTEGER) RETURNS INTEGER
BEGIN
  IF MOD(n, 2) = 1 THEN SIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = 'odd'; END IF;
  RETURN n / 2;
END;
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45009' SET r = r || 'odd' || i || ' ';
  SET r = '';
  REPEAT
    SET i = i + 1;
    INSERT INTO must VALUES (i, 'c' || half(i), 'm');
  UNTIL i >= 4 END REPEAT;
END;
-- call: p
-- out: r = 'odd1 odd3 '
-- data: SELECT id, code FROM must ORDER BY id : [2, 'c1'] [4, 'c2']
-- behaviour: CASE without ELSE raises 20000, in both forms, and a NULL operand takes no WHEN
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(60))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '20000' SET r = r || 'none ';
  SET r = '';
  CASE k WHEN 1 THEN SET r = r || 'one '; WHEN NULL THEN SET r = r || 'null '; END CASE;
  CASE WHEN k > 1 THEN SET r = r || 'more '; WHEN k IS NULL THEN SET r = r || 'isnull '; END CASE;
  SET r = r || CASE k WHEN 1 THEN 'e' END;
END;
-- call: p k = 1
-- out: r = 'one none e'
-- call: p k = NULL
-- out: r = NULL
-- call: p k = 2
-- out: r = NULL
