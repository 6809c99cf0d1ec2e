-- behaviour: a named condition in an inner block hides the outer one of its name
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE bad CONDITION FOR SQLSTATE '45001';
  DECLARE EXIT HANDLER FOR bad SET r = r || 'outer';
  SET r = '';
  BEGIN
    DECLARE bad CONDITION FOR SQLSTATE '45002';
    DECLARE CONTINUE HANDLER FOR bad SET r = r || 'inner ';
    SIGNAL bad;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- out: r = 'inner outer'
-- behaviour: a label of an inner loop, LEAVE of the outer one from a handler's block
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE i, j INTEGER DEFAULT 0;
  SET r = '';
  outside: WHILE i < 3 DO
    SET i = i + 1, j = 0;
    inside: REPEAT
      SET j = j + 1;
      IF j = 2 AND i = 1 THEN ITERATE outside; END IF;
      IF i = 3 THEN LEAVE outside; END IF;
      SET r = r || i || j || ' ';
      IF j = 3 THEN LEAVE inside; END IF;
    UNTIL j > 5 END REPEAT inside;
  END WHILE outside;
  SET r = r || 'end' || i;
END;
-- call: p
-- out: r = '11 21 22 23 end3'
-- behaviour: a FETCH past the end sets nothing, again and again, and the handler runs each time
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE k, misses INTEGER DEFAULT 0;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id < 3 ORDER BY id DESC;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET misses = misses + 1;
  SET r = '';
  OPEN c;
  FOR i IN 1..4 DO
    FETCH c INTO k;
    SET r = r || k || ' ';
  END FOR;
  CLOSE c;
  SET r = r || misses;
END;
-- call: p
-- out: r = '2 1 1 1 2'
-- behaviour: a cursor keeps the rows that were there when it was opened
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE k INTEGER;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT price FROM tag WHERE price IS NOT NULL ORDER BY code;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '';
  OPEN c;
  UPDATE tag SET price = price * 100;
  INSERT INTO tag VALUES ('dd', 7);
  FETCH c INTO k;
  WHILE NOT done DO
    SET r = r || k || ' ';
    FETCH c INTO k;
  END WHILE;
  CLOSE c;
  OPEN c;
  FETCH c INTO k;
  SET r = r || k;
END;
-- call: p
-- out: r = '1 3 100'
-- data: SELECT COUNT(*) FROM tag : [4]
-- behaviour: ROW_COUNT of each kind of change
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER, OUT e INTEGER)
BEGIN
  INSERT INTO log (line) SELECT name FROM item;
  GET DIAGNOSTICS a = ROW_COUNT;
  UPDATE tag SET price = price WHERE price > 0;
  GET DIAGNOSTICS b = ROW_COUNT;
  DELETE FROM log WHERE line <> 'cork';
  GET DIAGNOSTICS c = ROW_COUNT;
  UPDATE tag SET price = 5 WHERE code = 'zz';
  GET DIAGNOSTICS d = ROW_COUNT;
  DELETE FROM parent WHERE id = 1;
  GET DIAGNOSTICS e = ROW_COUNT;
END;
-- call: p
-- out: a = 3, b = 2, c = 2, d = 0, e = 1
-- data: SELECT line FROM log : ['cork']
-- data: SELECT id FROM child : [21]
-- data: SELECT id FROM parent : [2]
-- behaviour: a BEFORE trigger changes what is stored, and one after it sees that
CREATE TRIGGER a BEFORE INSERT ON tag REFERENCING NEW AS n FOR EACH ROW SET n.price = COALESCE(n.price, 0) + 10;
CREATE TRIGGER b BEFORE INSERT ON tag REFERENCING NEW AS n FOR EACH ROW WHEN (n.price > 10) SET n.price = n.price * 2;
CREATE TRIGGER c AFTER INSERT ON tag REFERENCING NEW AS n FOR EACH ROW INSERT INTO log (line) VALUES (n.code || n.price);
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO tag VALUES ('x', NULL), ('y', 1);
END;
-- call: p
-- data: SELECT code, price FROM tag WHERE code IN ('x', 'y') ORDER BY code : ['x', 10] ['y', 22]
-- data: SELECT line FROM log ORDER BY line : ['x10'] ['y22']
-- behaviour: a trigger that fails takes its statement with it, whose own handler goes on
CREATE TRIGGER a AFTER UPDATE ON tag REFERENCING NEW AS n OLD AS o FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES (o.code);
  IF n.price > 100 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'dear: ' || n.code; END IF;
END;
CREATE PROCEDURE p (OUT m VARCHAR(40))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
  UPDATE tag SET price = COALESCE(price, 0) * 50 + 1;
  UPDATE tag SET price = 9 WHERE code = 'bb';
END;
-- call: p
-- out: m = 'dear: cc'
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 1] ['bb', 9] ['cc', 3]
-- data: SELECT line FROM log : ['bb']
-- behaviour: a function that reads is used in a query, a condition, an assignment and an argument
CREATE FUNCTION dear (c VARCHAR(5)) RETURNS INTEGER READS SQL DATA
BEGIN
  DECLARE v INTEGER;
  SELECT price INTO v FROM tag WHERE code = c;
  RETURN COALESCE(v, -1);
END;
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER) SET b = a + 1;
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE n INTEGER;
  IF dear('cc') > dear('aa') THEN SET r = 'yes '; ELSE SET r = 'no '; END IF;
  CALL q(dear('cc') * 2, n);
  SET r = r || n;
  SELECT SUM(dear(code)) INTO n FROM tag WHERE dear(code) > 0 OR code = 'bb';
  SET r = r || ' ' || n;
END;
-- call: p
-- out: r = 'yes 7 3'
-- behaviour: values that do not fit are told by their states
CREATE PROCEDURE p (IN what INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE a SMALLINT;
  DECLARE d DECIMAL(4, 1);
  DECLARE t VARCHAR(3);
  DECLARE e DATE;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET s = 'fine';
  CASE what
    WHEN 1 THEN SET a = 32767 + what;
    WHEN 2 THEN SET d = 999.9 + what;
    WHEN 3 THEN SET t = 'four' || what;
    WHEN 4 THEN SET e = CAST('2023-02-29' AS DATE);
    WHEN 5 THEN SET a = CAST('12x' AS INTEGER);
    WHEN 6 THEN SET t = 'ab   ';
    WHEN 7 THEN SET a = NULL + what;
    ELSE SIGNAL SQLSTATE '45000';
  END CASE;
END;
-- call: p what = 1
-- out: s = '22003'
-- call: p what = 2
-- out: s = '22003'
-- call: p what = 3
-- out: s = '22001'
-- call: p what = 4
-- out: s = '22008'
-- call: p what = 5
-- out: s = '22018'
-- call: p what = 6
-- out: s = 'fine '
-- call: p what = 7
-- out: s = 'fine '
-- call: p what = 8
-- out: s = '45000'
-- behaviour: a handler's own handler, and diagnostics of both
CREATE PROCEDURE p (OUT a CHAR(5), OUT b CHAR(5), OUT c CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000'
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' GET DIAGNOSTICS CONDITION 1 b = RETURNED_SQLSTATE;
    GET DIAGNOSTICS CONDITION 1 a = RETURNED_SQLSTATE;
    SET c = CAST(1 / CHAR_LENGTH('') AS CHAR(5));
    SET c = 'after';
  END;
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- out: a = '45000', b = '22012', c = 'after'
-- behaviour: a table of one's own hides nothing, and is emptied by COMMIT
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE own_rows (n INTEGER, t VARCHAR(9));
  INSERT INTO own_rows SELECT id, name FROM item;
  UPDATE own_rows SET n = n * 2 WHERE t <> 'cork';
  SELECT SUM(n) INTO a FROM own_rows;
  COMMIT;
  SELECT COUNT(*) INTO b FROM own_rows;
END;
-- call: p
-- out: a = 11, b = 0
-- behaviour: MERGE updates, inserts and leaves
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  MERGE INTO tag AS t USING (SELECT name, id FROM item UNION ALL SELECT 'aa', 50 FROM parent WHERE id = 1) AS s
    ON t.code = s.name
    WHEN MATCHED THEN UPDATE SET price = s.id
    WHEN NOT MATCHED AND s.id < 3 THEN INSERT (code, price) VALUES (SUBSTRING(s.name FROM 1 FOR 5), s.id * 7);
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 3
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 50] ['bb', NULL] ['cc', 3] ['cork', 7] ['label', 14]
-- behaviour: a handler for a class's first state beside one for another of it, in either order
CREATE PROCEDURE p (IN s CHAR(5), OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET r = 'first';
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = 'second';
  DECLARE EXIT HANDLER FOR SQLSTATE '23000' SET r = 'never';
  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET r = 'key';
  CASE s
    WHEN '45000' THEN SIGNAL SQLSTATE '45000';
    WHEN '45001' THEN SIGNAL SQLSTATE '45001';
    ELSE INSERT INTO tag VALUES ('aa', 1);
  END CASE;
END;
-- call: p s = '45000'
-- out: r = 'first'
-- call: p s = '45001'
-- out: r = 'second'
-- call: p s = '23505'
-- out: r = 'key'
-- behaviour: a transaction ends in a called procedure, and a handler's goes on
CREATE PROCEDURE q () BEGIN INSERT INTO log (line) VALUES ('q'); COMMIT; INSERT INTO log (line) VALUES ('r'); END;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('p');
  CALL q();
  ROLLBACK;
  SELECT COUNT(*) INTO n FROM log;
END;
-- call: p
-- out: n = 2
-- data: SELECT line FROM log ORDER BY n : ['p'] ['q']
-- behaviour: an integer that is too large for its column, its variable and its product
CREATE PROCEDURE p (IN a INTEGER, OUT s CHAR(5), OUT t CHAR(5), OUT b BIGINT)
BEGIN
  DECLARE v INTEGER DEFAULT 7;
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET s = '22003';
    SET v = a * 2;
  END;
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET t = '22003';
    INSERT INTO tag VALUES ('zz', CAST(p.a AS BIGINT) * 2);
  END;
  SET b = a * 2 + v;
END;
-- call: p a = 2000000000
-- out: s = '22003', t = '22003', b = 4000000007
-- behaviour: text that looks like a number, and a number that looks like text
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b INTEGER, OUT c VARCHAR(9), OUT d BOOLEAN)
BEGIN
  SET a = '10' < '9';
  SET b = CAST(' 12 ' AS INTEGER) + CAST('-3' AS SMALLINT);
  SET c = CAST(-0.50 AS VARCHAR(9)) || CAST(7 AS CHAR(3)) || '|';
  SET d = CAST('1.50' AS DECIMAL(5, 2)) = 1.5;
END;
-- call: p
-- out: a = TRUE, b = 9, c = '-0.507  |', d = TRUE
-- behaviour: TRUE and FALSE as text, from text, and in a column
CREATE PROCEDURE p (IN v BOOLEAN, OUT a VARCHAR(9), OUT b BOOLEAN, OUT c INTEGER)
BEGIN
  SET a = CAST(v AS VARCHAR(9));
  SET b = CAST(' true ' AS BOOLEAN) AND v IS NOT FALSE;
  SELECT COUNT(*) INTO c FROM item WHERE (id > 1) = v OR (qty IS NULL) = v;
END;
-- call: p v = TRUE
-- out: a = 'TRUE', b = TRUE, c = 2
-- call: p v = FALSE
-- out: a = 'FALSE', b = FALSE, c = 2
-- call: p v = NULL
-- out: a = NULL, b = TRUE, c = 0
-- behaviour: a function with two RETURNs, in a loop, with a handler that returns
CREATE FUNCTION f (n INTEGER) RETURNS VARCHAR(20)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN 'zero at ' || i;
  LOOP
    SET i = i + 1;
    IF 12 / (n - i) = 4 THEN RETURN 'four at ' || i; END IF;
  END LOOP;
END;
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20)) SET (a, b) = (f(5), f(2));
-- call: p
-- out: a = 'four at 2', b = 'zero at 2'
-- behaviour: rows are compared, and looked for among others
CREATE PROCEDURE p (IN a INTEGER, IN t VARCHAR(9), OUT v BOOLEAN, OUT w BOOLEAN, OUT n INTEGER)
BEGIN
  SET v = (a, t) = (1, 'x');
  SET w = (a, t) < (1, 'y');
  SELECT COUNT(*) INTO n FROM tag WHERE (price, code) IN (SELECT price, code FROM tag WHERE price >= p.a);
END;
-- call: p a = 1, t = 'x'
-- out: v = TRUE, w = TRUE, n = 2
-- call: p a = 1, t = 'z'
-- out: v = FALSE, w = FALSE, n = 2
-- call: p a = NULL, t = 'z'
-- out: v = FALSE, w = NULL, n = 0
-- behaviour: dates at the ends of months and years
CREATE PROCEDURE p (IN d DATE, OUT a DATE, OUT b DATE, OUT c INTEGER, OUT e INTEGER)
BEGIN
  SET a = d + INTERVAL '1' YEAR;
  SET b = d - INTERVAL '2' MONTH;
  SET c = CAST((DATE '2024-03-01' - d) DAY AS INTEGER);
  SELECT EXTRACT(YEAR FROM d) * 12 + EXTRACT(MONTH FROM CAST(d AS DATE)) INTO e FROM parent WHERE id = 1;
END;
-- call: p d = 2024-02-29
-- out: a = DATE '2025-02-28', b = DATE '2023-12-29', c = 1, e = 24290
-- behaviour: timestamps keep their parts, and are compared to the microsecond
CREATE PROCEDURE p (IN t TIMESTAMP, OUT a BOOLEAN, OUT b TIME, OUT c DATE, OUT e INTEGER)
BEGIN
  SET a = t < TIMESTAMP '2024-02-29 10:20:30.5';
  SET b = CAST(t AS TIME);
  SET c = CAST(t + INTERVAL '14' HOUR AS DATE);
  SET e = EXTRACT(MINUTE FROM t + INTERVAL '45' SECOND);
END;
-- call: p t = 2024-02-29 10:20:30
-- out: a = TRUE, b = TIME '10:20:30', c = DATE '2024-03-01', e = 21
-- behaviour: a procedure without parameters that does nothing, and one of a single IF
CREATE PROCEDURE nothing () BEGIN END;
CREATE PROCEDURE one (IN a INTEGER, INOUT b INTEGER) IF a > 0 THEN SET b = b + a; ELSE BEGIN END; END IF;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 1;
  CALL nothing();
  CALL one(5, n);
  CALL one(b => n, a => -5);
END;
-- call: p
-- out: n = 6
-- behaviour: a cursor with parameters by use sees the variables as they are at OPEN
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE least INTEGER DEFAULT 2;
  DECLARE k INTEGER;
  DECLARE c CURSOR FOR SELECT id + least FROM item WHERE id >= least ORDER BY id;
  SET least = 3;
  OPEN c;
  SET least = 100;
  FETCH c INTO k;
  CLOSE c;
  SET r = k || ' ';
  SET least = 1;
  OPEN c;
  FETCH c INTO k;
  SET r = r || k;
END;
-- call: p
-- out: r = '6 2'
-- behaviour: the same name for a parameter, a column, a table and a label
CREATE PROCEDURE p (IN tag INTEGER, OUT code VARCHAR(20))
code: BEGIN
  DECLARE price INTEGER DEFAULT 0;
  SELECT tag.code, tag.price INTO code, price FROM tag WHERE tag.price = p.tag;
  SET code = code || price || tag;
  IF price > 0 THEN LEAVE code; END IF;
  SET code = 'never';
END;
-- call: p tag = 3
-- out: code = 'cc33'
-- behaviour: a DOUBLE goes into whole numbers and decimals, rounded half away from zero
CREATE PROCEDURE p (IN d DOUBLE PRECISION, OUT a INTEGER, OUT b DECIMAL(6, 1), OUT c SMALLINT)
BEGIN
  SET a = d;
  SET b = d / 10;
  SET c = CAST(d AS SMALLINT);
END;
-- call: p d = 2.5
-- out: a = 3, b = 0.3, c = 3
-- call: p d = -2.5
-- out: a = -3, b = -0.3, c = -3
-- call: p d = 3.5
-- out: a = 4, b = 0.4, c = 4
-- behaviour: an argument is stored in its parameter as in a variable
CREATE PROCEDURE q (IN a INTEGER, INOUT t VARCHAR(5), OUT d DECIMAL(5, 1))
BEGIN
  SET d = a / 4.0;
  SET t = t || a;
END;
CREATE PROCEDURE p (IN x DECIMAL(6, 2), OUT t VARCHAR(9), OUT d DECIMAL(9, 3))
BEGIN
  SET t = 'a';
  CALL q(x * 2, t, d);
END;
-- call: p x = 1.25
-- out: t = 'a3', d = 0.800
-- behaviour: LIKE of a CHAR looks at its blanks
CREATE PROCEDURE p (IN t CHAR(5), OUT a BOOLEAN, OUT b BOOLEAN)
BEGIN
  SET a = t LIKE 'ab';
  SET b = t LIKE 'ab%';
END;
-- call: p t = 'ab'
-- out: a = FALSE, b = TRUE
-- behaviour: RETURN in a loop in a procedure gives what was set till then
CREATE PROCEDURE q (OUT a VARCHAR(5), OUT b DECIMAL(5, 1))
BEGIN
  SET a = '', b = 0;
  FOR t AS SELECT id FROM item ORDER BY id DO
    SET a = a || t.id, b = b + 0.5;
    IF t.id = 2 THEN RETURN; END IF;
  END FOR;
  SET a = 'never';
END;
CREATE PROCEDURE p (OUT a VARCHAR(5), OUT b DECIMAL(5, 1)) CALL q(a, b);
-- call: p
-- out: a = '12', b = 1.0
-- behaviour: a handler leaves a loop over rows, and the same loop is run again
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 2 DO
    SET i = i + 1;
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = r || 'h ';
      FOR t AS c CURSOR FOR SELECT id, qty FROM item ORDER BY id DO
        SET r = r || t.id || ':' || 6 / (3 - t.id - i) || ' ';
      END FOR;
    END;
  END WHILE;
END;
-- call: p
-- out: r = '1:6 h h '
-- behaviour: names that servers reserve
CREATE PROCEDURE p (IN limit_ INTEGER, IN "limit" INTEGER, OUT "offset" INTEGER, OUT "analyze" VARCHAR(9))
BEGIN
  DECLARE "desc", "window", "do" INTEGER DEFAULT 2;
  "verbose": LOOP
    SET "desc" = "desc" + "limit";
    IF "desc" > 5 THEN LEAVE "verbose"; END IF;
  END LOOP "verbose";
  SET "offset" = "desc" * "window" + "do" + limit_;
  SELECT name INTO "analyze" FROM item WHERE id = "limit";
END;
-- call: p limit_ = 1, limit = 3
-- out: offset = 19, analyze = 'bottle'
-- behaviour: functions that call one another
CREATE FUNCTION is_even (n INTEGER) RETURNS BOOLEAN
RETURN CASE WHEN n = 0 THEN TRUE ELSE is_odd(n - 1) END;
CREATE FUNCTION is_odd (n INTEGER) RETURNS BOOLEAN
RETURN CASE WHEN n = 0 THEN FALSE ELSE is_even(n - 1) END;
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b BOOLEAN) SET (a, b) = (is_even(6), is_odd(6));
-- call: p
-- out: a = TRUE, b = FALSE
-- behaviour: an OUT parameter is NULL where it was not set, whatever its variable held
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER, INOUT c INTEGER) IF a > 0 THEN SET b = a; END IF;
CREATE PROCEDURE p (OUT b INTEGER, OUT c INTEGER)
BEGIN
  SET b = 7, c = 8;
  CALL q(0, b, c);
END;
-- call: p
-- out: b = NULL, c = 8
-- behaviour: SIGNAL with items from expressions, and RESIGNAL that changes the message alone
CREATE PROCEDURE q (IN n INTEGER)
  SIGNAL SQLSTATE '45010' SET MESSAGE_TEXT = 'number ' || n;
CREATE PROCEDURE r ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45010' RESIGNAL SET MESSAGE_TEXT = 'again';
  CALL q(4);
END;
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20), OUT s CHAR(5))
BEGIN
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 a = MESSAGE_TEXT;
    CALL q(3);
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 b = MESSAGE_TEXT, s = RETURNED_SQLSTATE;
    CALL r();
  END;
END;
-- call: p
-- out: a = 'number 3', b = 'again', s = '45010'
-- behaviour: SIGNAL of a warning goes on, and its handler runs where there is one
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  SET r = 'a';
  SIGNAL SQLSTATE '01234';
  SET r = r || 'b';
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLWARNING SET r = r || 'w';
    SIGNAL SQLSTATE '01234' SET MESSAGE_TEXT = 'careful';
    SET r = r || 'c';
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '02001' SET r = r || 'n';
    SIGNAL SQLSTATE '02001';
    SET r = r || 'never';
  END;
END;
-- call: p
-- out: r = 'abwcn'
-- behaviour: nested blocks that declare the same name, with defaults from the outer one
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE v INTEGER DEFAULT 1;
  SET r = v || '';
  BEGIN
    DECLARE v INTEGER DEFAULT v + 10;
    SET r = r || ' ' || v;
    BEGIN
      DECLARE v INTEGER DEFAULT v + 10;
      SET v = v + 100;
      SET r = r || ' ' || v;
    END;
    SET r = r || ' ' || v;
  END;
  SET r = r || ' ' || v;
END;
-- call: p
-- out: r = '1 11 121 11 1'
-- behaviour: a block in a loop has its variables anew at each turn
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  SET r = '';
  FOR i IN 1..3 DO
    BEGIN
      DECLARE n INTEGER;
      DECLARE m INTEGER DEFAULT i;
      SET r = r || COALESCE(n, 0) || m || ' ';
      SET n = 5, m = 9;
    END;
  END FOR;
END;
-- call: p
-- out: r = '01 02 03 '
-- behaviour: arithmetic functions at their edges
CREATE PROCEDURE p (OUT r VARCHAR(80))
BEGIN
  SET r = ROUND(-2.5) || ' ' || ROUND(2.345, 2) || ' ' || FLOOR(-1.5) || ' ' || CEILING(-1.5) || ' ' || ABS(-3);
  SET r = r || ' ' || MOD(-7, 3) || ' ' || MOD(7.5, 2) || ' ' || SIGN(-0.1) || ' ' || TRUNCATE(-1.99, 1);
END;
-- call: p
-- out: r = '-3 2.35 -2 -1 3 -1 1.5 -1 -1.9'
-- behaviour: the half of an approximate number in every place where it becomes a whole one
CREATE FUNCTION f (d DOUBLE PRECISION) RETURNS INTEGER RETURN d;
CREATE FUNCTION g (n INTEGER) RETURNS INTEGER RETURN n * 10;
CREATE PROCEDURE q (IN n INTEGER, OUT m INTEGER) SET m = n + 100;
CREATE PROCEDURE p (IN d DOUBLE PRECISION, OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT e INTEGER)
BEGIN
  DECLARE v INTEGER DEFAULT d;
  SET a = v, b = f(d), c = g(d);
  CALL q(d, e);
END;
-- call: p d = 2.5
-- out: a = 3, b = 3, c = 30, e = 103
-- call: p d = -0.5
-- out: a = -1, b = -1, c = -10, e = 99
-- behaviour: a decimal in every place where it becomes a whole number
CREATE FUNCTION f (d DECIMAL(6, 2)) RETURNS INTEGER RETURN d;
CREATE FUNCTION g (n INTEGER) RETURNS INTEGER RETURN n * 10;
CREATE PROCEDURE q (IN n INTEGER, OUT m INTEGER) SET m = n + 100;
CREATE PROCEDURE p (IN d DECIMAL(6, 2), OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT e INTEGER, OUT i INTEGER, OUT u INTEGER)
BEGIN
  DECLARE v INTEGER DEFAULT d;
  SET a = v, b = f(d), c = g(d);
  CALL q(d, e);
  INSERT INTO tag VALUES ('zz', d);
  SELECT price INTO i FROM tag WHERE code = 'zz';
  UPDATE tag SET price = d * 3 WHERE code = 'zz';
  SELECT price + 0 INTO u FROM tag WHERE code = 'zz';
END;
-- call: p d = 2.50
-- out: a = 3, b = 3, c = 30, e = 103, i = 3, u = 8
-- data: SELECT price FROM tag WHERE code = 'zz' : [8]
-- behaviour: what a row gives is rounded to its variable
CREATE PROCEDURE p (OUT a INTEGER, OUT b DECIMAL(4, 1), OUT c INTEGER, OUT d DECIMAL(4, 1))
BEGIN
  DECLARE k CURSOR FOR SELECT price * 2, price FROM item WHERE id = 1;
  SELECT price * 2, price INTO a, b FROM item WHERE id = 1;
  OPEN k;
  FETCH k INTO c, d;
  CLOSE k;
END;
-- call: p
-- out: a = 1, b = 0.3, c = 1, d = 0.3
-- behaviour: numbers become text without digits that were not there
CREATE PROCEDURE p (IN d DECIMAL(8, 3), IN n BIGINT, OUT r VARCHAR(60))
BEGIN
  DECLARE h DECIMAL(8, 1) DEFAULT 12;
  SET r = d || ' ' || n || ' ' || h || ' ' || d * h || ' ' || n / 2 || ' ' || (d - 1);
  INSERT INTO log (line) VALUES (p.d || ';' || p.n || ';' || h);
END;
-- call: p d = 1.500, n = 7
-- out: r = '1.500 7 12.0 18.0000 3 0.500'
-- data: SELECT line FROM log : ['1.500;7;12.0']
-- behaviour: NULL in sums, texts, comparisons and calls
CREATE FUNCTION f (a INTEGER, b VARCHAR(5)) RETURNS VARCHAR(9) RETURN COALESCE(b, '?') || COALESCE(a, 0);
CREATE PROCEDURE p (IN a INTEGER, IN t VARCHAR(5), OUT r VARCHAR(40))
BEGIN
  DECLARE v INTEGER;
  SET r = f(a + v, t || 'x') || CASE WHEN a = v THEN 'same' WHEN NOT (a = v) THEN 'other' ELSE ' unknown' END;
  IF v > 0 THEN SET r = r || ' more'; ELSEIF v <= 0 THEN SET r = r || ' less'; ELSE SET r = r || ' neither'; END IF;
  WHILE v IS NULL OR v < 2 DO SET v = COALESCE(v, 0) + 1; END WHILE;
  SET r = r || v;
END;
-- call: p a = 1, t = NULL
-- out: r = '?0 unknown neither2'
-- behaviour: a REPEAT whose end is unknown goes on
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE v INTEGER;
  SET n = 0;
  REPEAT
    SET n = n + 1;
    IF n = 3 THEN SET v = 1; END IF;
  UNTIL v = 1 END REPEAT;
END;
-- call: p
-- out: n = 3
-- behaviour: a trigger of each time sees and sets what it may
CREATE TRIGGER bu BEFORE UPDATE OF price ON tag REFERENCING OLD AS o NEW AS n FOR EACH ROW
  SET n.price = CASE WHEN n.price < o.price THEN o.price ELSE n.price END;
CREATE TRIGGER ad AFTER DELETE ON tag REFERENCING OLD AS o FOR EACH ROW
  INSERT INTO log (line) VALUES ('gone ' || o.code || COALESCE(CAST(o.price AS VARCHAR(5)), '-'));
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  UPDATE tag SET price = 2;
  DELETE FROM tag WHERE code > 'aa';
  GET DIAGNOSTICS n = ROW_COUNT;
END;
-- call: p
-- out: n = 2
-- data: SELECT code, price FROM tag : ['aa', 2]
-- data: SELECT line FROM log ORDER BY line : ['gone bb2'] ['gone cc3']
-- behaviour: an IF without ELSE, a CASE with ELSE that does nothing, and empty blocks
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(9))
BEGIN
  SET r = 'x';
  IF a = 1 THEN END IF;
  CASE WHEN a = 2 THEN SET r = 'two'; ELSE BEGIN END; END CASE;
  l: LOOP LEAVE l; END LOOP;
  FOR t AS SELECT id FROM item DO END FOR;
END;
-- call: p a = 1
-- out: r = 'x'
-- call: p a = 2
-- out: r = 'two'
-- behaviour: a CASE over values with NULL, and one whose branch holds several
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(9))
BEGIN
  CASE a
    WHEN 1 THEN SET r = 'one';
    WHEN 1 + 1 THEN SET r = 'two'; SET r = r || '!';
    ELSE SET r = 'else';
  END CASE;
END;
-- call: p a = 2
-- out: r = 'two!'
-- call: p a = NULL
-- out: r = 'else'
-- behaviour: a whole number of each size at its ends
CREATE PROCEDURE p (OUT r VARCHAR(80), OUT s CHAR(5))
BEGIN
  DECLARE a SMALLINT DEFAULT -32768;
  DECLARE b INTEGER DEFAULT -2147483648;
  DECLARE c BIGINT DEFAULT -9223372036854775808;
  DECLARE EXIT HANDLER FOR SQLSTATE '22003' SET s = '22003';
  SET r = a || ' ' || b || ' ' || c;
  SET a = a + 65535, b = b + 4294967295;
  SET c = c + 9223372036854775807 + 1;
  SET r = r || ' ' || a || ' ' || b || ' ' || c;
  SET c = c - 9223372036854775807 - 2;
END;
-- call: p
-- out: r = '-32768 -2147483648 -9223372036854775808 32767 2147483647 0', s = '22003'
-- behaviour: seconds are cut or rounded alike
CREATE PROCEDURE p (OUT a TIMESTAMP(0), OUT b TIME(0), OUT c TIMESTAMP(2), OUT d VARCHAR(40))
BEGIN
  DECLARE t TIMESTAMP(6) DEFAULT TIMESTAMP '2024-02-29 23:59:59.567890';
  SET a = t;
  SET b = TIME '10:20:30.6';
  SET c = t;
  SET d = CAST(t AS VARCHAR(40));
END;
-- call: p
-- out: a = TIMESTAMP '2024-03-01 00:00:00', b = TIME '10:20:31', c = TIMESTAMP '2024-02-29 23:59:59.57', d = '2024-02-29 23:59:59.56789'
-- behaviour: a date and a timestamp beside each other
CREATE PROCEDURE p (IN d DATE, OUT a TIMESTAMP(0), OUT b DATE, OUT c BOOLEAN, OUT e BOOLEAN)
BEGIN
  SET a = CAST(d AS TIMESTAMP(0));
  SET b = CAST(TIMESTAMP '2024-05-06 23:00:00' AS DATE);
  SET c = CAST(d AS TIMESTAMP) < TIMESTAMP '2024-05-06 00:00:01';
  SET e = d = DATE '2024-05-06';
END;
-- call: p d = 2024-05-06
-- out: a = TIMESTAMP '2024-05-06 00:00:00', b = DATE '2024-05-06', c = TRUE, e = TRUE
-- behaviour: text functions at their ends
CREATE PROCEDURE p (OUT r VARCHAR(120))
BEGIN
  SET r = '[' || LPAD('ab', 5, 'xy') || '][' || RPAD('ab', 1) || '][' || LPAD('', 2, '-') || '][' || REPLACE('aXbX', 'X', '') || ']';
  SET r = r || '[' || TRIM('  a b  ') || '][' || TRIM(LEADING '0' FROM '0070') || '][' || TRIM(BOTH 'x' FROM 'xx') || ']';
  SET r = r || '[' || UPPER('straße é') || '][' || LOWER('ÀB') || '][' || OVERLAY('abcdef' PLACING 'XX' FROM 3 FOR 1) || ']';
  SET r = r || CHAR_LENGTH('é€') || OCTET_LENGTH('é€') || POSITION('z' IN 'abc');
END;
-- call: p
-- out: r = '[xyxab][a][--][ab][a b][70][][STRAßE É][àb][abXXdef]250'
-- behaviour: concatenation and trimming of NULL and empty texts
CREATE PROCEDURE p (IN t VARCHAR(9), OUT a BOOLEAN, OUT b INTEGER, OUT c VARCHAR(9))
BEGIN
  SET a = TRIM(t) = '';
  SET b = CHAR_LENGTH(TRIM(t) || '');
  SET c = REPLACE(t, '', 'x');
END;
-- call: p t = '   '
-- out: a = TRUE, b = 0, c = '   '
-- call: p t = NULL
-- out: a = NULL, b = NULL, c = NULL
-- behaviour: dynamic SQL with markers of every kind, and the same statement twice
CREATE PROCEDURE p (IN d DATE, IN n DECIMAL(6, 2), IN t VARCHAR(20), OUT r VARCHAR(60))
BEGIN
  DECLARE v VARCHAR(40);
  PREPARE s FROM 'INSERT INTO log (line) VALUES (CAST(? AS VARCHAR(20)) || ''/'' || ? || ''?'')';
  EXECUTE s USING d, t;
  EXECUTE s USING n, t || '''';
  DEALLOCATE PREPARE s;
  PREPARE s FROM 'SELECT line FROM log WHERE line LIKE ? || ''%'' ORDER BY n';
  SET r = '';
  BEGIN
    DECLARE done BOOLEAN DEFAULT FALSE;
    DECLARE c CURSOR FOR s;
    DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
    OPEN c USING '1';
    FETCH c INTO v;
    WHILE NOT done DO
      SET r = r || v;
      FETCH c INTO v;
    END WHILE;
    CLOSE c;
  END;
END;
-- call: p d = 1999-12-31, n = 1.5, t = 'it''s'
-- out: r = '1999-12-31/it''s?1.50/it''s''?'
-- data: SELECT COUNT(*) FROM log : [2]
-- behaviour: a table of one's own that shares its columns' names with variables
CREATE PROCEDURE p (IN n INTEGER, OUT total INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE mine (n INTEGER, total INTEGER DEFAULT 5);
  INSERT INTO mine (n) VALUES (p.n), (p.n + 1);
  UPDATE mine SET total = total + n WHERE n > p.n;
  DELETE FROM mine WHERE n < p.n;
  SELECT SUM(mine.total * 10 + mine.n) INTO total FROM mine;
END;
-- call: p n = 3
-- out: total = 147
-- behaviour: rows of changes by FINAL TABLE in a loop, with a trigger that changes them
CREATE TRIGGER b BEFORE INSERT ON tag REFERENCING NEW AS n FOR EACH ROW SET n.price = COALESCE(n.price, 0) + 1;
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  DECLARE k INTEGER;
  SELECT price INTO a FROM FINAL TABLE (INSERT INTO tag VALUES ('x', 5));
END;
-- call: p
-- out: a = 6
-- data: SELECT price FROM tag WHERE code = 'x' : [6]
-- behaviour: conditions of a callee's callee reach the outermost handler, with all rows of the statement undone
CREATE PROCEDURE r () INSERT INTO must (id, code, made) SELECT id, name, CASE WHEN id < 3 THEN 'ok' END FROM item;
CREATE PROCEDURE q () BEGIN INSERT INTO log (line) VALUES ('q'); CALL r(); END;
CREATE PROCEDURE p (OUT s CHAR(5), OUT n INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
    SELECT COUNT(*) INTO n FROM must;
  END;
  CALL q();
END;
-- call: p
-- out: s = '23502', n = 0
-- data: SELECT line FROM log : ['q']
-- behaviour: UPPER and LOWER of letters that have no single one of the other case
CREATE PROCEDURE p (OUT r VARCHAR(40), OUT n INTEGER)
BEGIN
  SET r = LOWER('ΟΔΟΣ') || UPPER('ŉß') || LOWER('AbC1');
  SELECT COUNT(*) INTO n FROM item WHERE UPPER(name) = UPPER('Cork') AND LOWER(name) = 'cork';
END;
-- call: p
-- out: r = 'οδοσŉßabc1', n = 1
-- behaviour: seconds in a statement's columns and parameters are rounded alike
CREATE PROCEDURE p (IN t TIMESTAMP(6), OUT a TIMESTAMP(0), OUT b TIME(1))
BEGIN
  DECLARE LOCAL TEMPORARY TABLE moments (at0 TIMESTAMP(0), at1 TIME(1));
  INSERT INTO moments VALUES (t, CAST(t AS TIME(6)));
  SELECT at0, at1 INTO a, b FROM moments;
END;
-- call: p t = 2024-02-29 10:00:00.56
-- out: a = TIMESTAMP '2024-02-29 10:00:01', b = TIME '10:00:00.6'
-- behaviour: what a function changed is seen by the statement after it
CREATE FUNCTION note (t VARCHAR(20)) RETURNS INTEGER MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES (t);
  RETURN (SELECT COUNT(*) FROM log);
END;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER)
BEGIN
  SET a = note('one');
  SET b = note('two') * 10 + note('three');
  IF note('four') = 4 THEN SET c = note('five'); END IF;
END;
-- call: p
-- out: a = 1, b = 23, c = 5
-- data: SELECT line FROM log ORDER BY n : ['one'] ['two'] ['three'] ['four'] ['five']
-- behaviour: a savepoint in a procedure that its caller's handler is around
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('a');
  SAVEPOINT s;
  INSERT INTO log (line) VALUES ('b');
  ROLLBACK TO SAVEPOINT s;
  INSERT INTO log (line) VALUES ('c');
  SELECT COUNT(*) INTO n FROM log;
END;
-- call: p
-- out: n = 2
-- data: SELECT line FROM log ORDER BY n : ['a'] ['c']
-- behaviour: UPDATE and DELETE that look at the table that they change, through a view too
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  UPDATE item SET qty = (SELECT MAX(qty) FROM stock) + id WHERE id IN (SELECT id FROM stock WHERE qty < 15) OR qty IS NULL;
  DELETE FROM child WHERE EXISTS (SELECT 1 FROM child AS c WHERE c.parent_id = child.parent_id AND c.id > child.id);
  SELECT SUM(id) INTO n FROM child;
END;
-- call: p
-- out: n = 33
-- data: SELECT id, qty FROM item ORDER BY id : [1, 21] [2, 20] [3, 23]
-- data: SELECT id FROM child ORDER BY id : [12] [21]
-- behaviour: INSERT from a query over the same table with its own columns in another order
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO tag (price, code) SELECT price * 10, code || code FROM tag WHERE price IS NOT NULL UNION SELECT 0, 'z' FROM parent;
END;
-- call: p
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 1] ['aaaa', 10] ['bb', NULL] ['cc', 3] ['cccc', 30] ['z', 0]
-- behaviour: EXCEPT and INTERSECT with NULL
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  SELECT COUNT(*) INTO a FROM (SELECT price FROM tag EXCEPT SELECT id FROM parent) AS t;
  SELECT COUNT(*) INTO b FROM (SELECT price FROM tag INTERSECT SELECT price FROM tag WHERE price IS NULL) AS t;
END;
-- call: p
-- out: a = 2, b = 1
-- behaviour: DISTINCT, GROUP BY and joins of NULL
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER)
BEGIN
  INSERT INTO tag VALUES ('dd', NULL);
  SELECT COUNT(*) INTO a FROM (SELECT DISTINCT price FROM tag) AS t;
  SELECT MAX(k) INTO b FROM (SELECT COUNT(*) AS k FROM tag GROUP BY price) AS t;
  SELECT COUNT(*) INTO c FROM tag AS x JOIN tag AS y ON x.price = y.price LEFT JOIN parent AS z ON z.id = x.price;
END;
-- call: p
-- out: a = 3, b = 2, c = 2
-- data: SELECT COUNT(*) FROM tag : [4]
-- behaviour: a time keeps its parts of a second through a table of one's own and its ROLLBACK
CREATE PROCEDURE p (OUT a TIME(6), OUT b TIME(6))
BEGIN
  DECLARE LOCAL TEMPORARY TABLE x (t TIME(6)) ON COMMIT PRESERVE ROWS;
  INSERT INTO x VALUES (TIME '10:00:00.123456');
  SELECT t INTO a FROM x;
  COMMIT;
  DELETE FROM x;
  ROLLBACK;
  SELECT t INTO b FROM x;
END;
-- call: p
-- out: a = TIME '10:00:00.123456', b = TIME '10:00:00.123456'
-- behaviour: an array goes through its ends, a call and a loop
CREATE FUNCTION total (a INTEGER ARRAY[5]) RETURNS INTEGER
BEGIN
  DECLARE s INTEGER DEFAULT 0;
  FOR i IN 1..COALESCE(CARDINALITY(a), 0) DO SET s = s + COALESCE(a[i], 100); END FOR;
  RETURN s;
END;
CREATE PROCEDURE p (OUT r VARCHAR(40), OUT s CHAR(5))
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[1, 2];
  DECLARE b INTEGER ARRAY[5];
  DECLARE CONTINUE HANDLER FOR SQLSTATE '2202E' SET s = '2202E';
  SET a[4] = 7;
  SET r = total(a) || ' ' || CARDINALITY(a) || ' ' || total(b) || ' ' || total(TRIM_ARRAY(a, 3));
  SET a[6] = 1;
  SET a[0] = 1;
  SET b = a;
  SET b[1] = 50;
  SET r = r || ' ' || a[1] || ' ' || b[1] || ' ' || CASE WHEN a = ARRAY[1, 2, NULL, 7] THEN 'same' WHEN a <> b THEN 'other' ELSE 'unknown' END;
END;
-- call: p
-- out: r = '110 4 0 1 1 50 other', s = '2202E'
-- behaviour: a row type, its fields, comparison and a call
CREATE FUNCTION extent (s ROW(w INTEGER, h INTEGER)) RETURNS INTEGER RETURN s.w * s.h;
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE a ROW(w INTEGER, h INTEGER);
  DECLARE b ROW(w INTEGER, h INTEGER);
  SET a = ROW(2, 3);
  SET b = a;
  SET b.h = 4;
  SET r = extent(a) || ' ' || extent(b) || ' ' || CASE WHEN a = b THEN 'same' ELSE 'other' END || CASE WHEN a < b THEN ' less' ELSE '' END;
END;
-- call: p
-- out: r = '6 8 other less'
-- behaviour: result sets in their order, with rows that change afterwards
CREATE PROCEDURE p ()
DYNAMIC RESULT SETS 2
BEGIN
  DECLARE c CURSOR WITH RETURN FOR SELECT code, price FROM tag WHERE price > 0 ORDER BY code;
  DECLARE d CURSOR WITH RETURN FOR SELECT COUNT(*) AS k FROM item;
  OPEN c;
  OPEN d;
END;
-- call: p
-- rows: ['aa', 1] ['cc', 3]
-- rows: [3]
-- behaviour: a module with a variable, a private function and two that use it
CREATE MODULE counter
  DECLARE n INTEGER DEFAULT 5;
  PRIVATE FUNCTION more (a INTEGER) RETURNS INTEGER BEGIN SET n = n + a; RETURN n; END;
  PROCEDURE step (OUT a INTEGER) SET a = more(1) + more(10);
END MODULE;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  CALL counter.step(a);
  CALL counter.step(b);
END;
-- call: p
-- out: a = 22, b = 44
-- behaviour: a scrolled cursor goes to and fro
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE k INTEGER;
  DECLARE c SCROLL CURSOR FOR SELECT id FROM item ORDER BY id;
  SET r = '';
  OPEN c;
  FETCH LAST FROM c INTO k; SET r = r || k;
  FETCH PRIOR FROM c INTO k; SET r = r || k;
  FETCH FIRST FROM c INTO k; SET r = r || k;
  FETCH RELATIVE 2 FROM c INTO k; SET r = r || k;
  FETCH ABSOLUTE 2 FROM c INTO k; SET r = r || k;
  FETCH NEXT FROM c INTO k; SET r = r || k;
  FETCH NEXT FROM c INTO k; SET r = r || k;
  FETCH PRIOR FROM c INTO k; SET r = r || k;
  CLOSE c;
END;
-- call: p
-- out: r = '32132333'
-- behaviour: reports of every type are lines
CREATE PROCEDURE p (IN b BOOLEAN, IN d DATE)
BEGIN
  REPORT 'a', 1 + 1, NULL, b;
  REPORT d, 1.50, '';
END;
-- call: p b = TRUE, d = 2024-02-29
-- says: a2NULLTRUE
-- says: 2024-02-291.50
-- behaviour: a transaction of two parts, of which one is given up
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23505'
  BEGIN
    ROLLBACK;
    INSERT INTO log (line) VALUES ('given up');
    COMMIT;
    SELECT COUNT(*) INTO n FROM tag;
  END;
  INSERT INTO tag VALUES ('one', 1);
  COMMIT;
  INSERT INTO tag VALUES ('two', 2);
  INSERT INTO tag VALUES ('one', 3);
  COMMIT;
END;
-- call: p
-- out: n = 4
-- data: SELECT line FROM log : ['given up']
-- data: SELECT COUNT(*) FROM tag : [4]
-- behaviour: INSTEAD OF triggers of a view
CREATE TRIGGER iv INSTEAD OF INSERT ON stock REFERENCING NEW AS n FOR EACH ROW
  INSERT INTO item (id, name, qty) VALUES (n.id, UPPER(n.name), COALESCE(n.qty, 1));
CREATE PROCEDURE p (OUT k INTEGER)
BEGIN
  INSERT INTO stock (id, name) VALUES (9, 'cap');
  SELECT qty INTO k FROM stock WHERE name = 'CAP';
END;
-- call: p
-- out: k = 1
-- data: SELECT id, name FROM item WHERE id = 9 : [9, 'CAP']
-- behaviour: arrays with NULL are equal, unequal or neither
CREATE PROCEDURE p (OUT r VARCHAR(80))
BEGIN
  DECLARE a, b INTEGER ARRAY[3];
  SET r = COALESCE(CAST(a = b AS VARCHAR(5)), 'none');
  SET a = ARRAY[1, NULL], b = ARRAY[1, NULL];
  SET r = r || ' ' || COALESCE(CAST(a = b AS VARCHAR(5)), 'none');
  SET b = ARRAY[2, NULL];
  SET r = r || ' ' || CAST(a = b AS VARCHAR(5)) || ' ' || CAST(a <> b AS VARCHAR(5));
  SET b = ARRAY[1];
  SET r = r || ' ' || CAST(a = b AS VARCHAR(5));
  SET a = ARRAY[1];
  SET r = r || ' ' || CAST(a = b AND NOT a <> b AS VARCHAR(5));
END;
-- call: p
-- out: r = 'none none FALSE TRUE FALSE TRUE'
