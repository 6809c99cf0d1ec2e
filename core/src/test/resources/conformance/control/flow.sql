-- behaviour: IF takes unknown as not true
CREATE PROCEDURE p (IN x INTEGER, OUT r VARCHAR(10))
  IF x > 1 THEN SET r = 'more'; ELSEIF x <= 1 THEN SET r = 'less'; ELSE SET r = 'unknown'; END IF;
-- call: p x = 2
-- out: r = 'more'
-- call: p x = 1
-- out: r = 'less'
-- call: p x = null
-- out: r = 'unknown'
-- behaviour: WHILE with an unknown test does not run
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE x INTEGER;
  SET n = 0;
  WHILE x < 3 DO SET n = n + 1; END WHILE;
END;
-- call: p
-- out: n = 0
-- behaviour: a simple CASE compares with =, so NULL fits no branch
CREATE PROCEDURE p (IN x INTEGER, OUT r VARCHAR(10))
  CASE x WHEN 1 THEN SET r = 'one'; WHEN NULL THEN SET r = 'null'; ELSE SET r = 'else'; END CASE;
-- call: p x = 1
-- out: r = 'one'
-- call: p x = null
-- out: r = 'else'
-- behaviour: CASE without a fitting branch and without ELSE is 20000
CREATE PROCEDURE p (IN x INTEGER, OUT r VARCHAR(10))
  CASE WHEN x > 5 THEN SET r = 'big'; END CASE;
-- call: p x = 6
-- out: r = 'big'
-- call: p x = 1
-- raises: 20000
-- behaviour: a searched CASE takes the first true branch
CREATE PROCEDURE p (IN x INTEGER, OUT r VARCHAR(10))
  CASE WHEN x > 1 THEN SET r = 'a'; WHEN x > 0 THEN SET r = 'b'; ELSE SET r = 'c'; END CASE;
-- call: p x = 3
-- out: r = 'a'
-- call: p x = 1
-- out: r = 'b'
-- behaviour: the operand of a simple CASE is worked out once
CREATE FUNCTION note () RETURNS INTEGER BEGIN INSERT INTO log (line) VALUES ('x'); RETURN 3; END;
CREATE PROCEDURE p (OUT r VARCHAR(10))
  CASE note() WHEN 1 THEN SET r = 'a'; WHEN 2 THEN SET r = 'b'; ELSE SET r = 'c'; END CASE;
-- call: p
-- out: r = 'c'
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: LEAVE leaves the loop it names, from inside another
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  a: LOOP
    b: LOOP
      SET n = n + 1;
      IF n = 13 THEN LEAVE a; END IF;
      IF MOD(n, 2) = 0 THEN LEAVE b; END IF;
    END LOOP b;
    SET n = n + 10;
  END LOOP a;
END;
-- call: p
-- out: n = 13
-- behaviour: LEAVE leaves a labelled block
CREATE PROCEDURE p (OUT r VARCHAR(10))
BEGIN
  SET r = 'a';
  part: BEGIN
    SET r = r || 'b';
    LEAVE part;
    SET r = r || 'never';
  END part;
  SET r = r || 'z';
END;
-- call: p
-- out: r = 'abz'
-- behaviour: REPEAT runs once before its test
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 10;
  REPEAT SET n = n + 1; UNTIL n > 5 END REPEAT;
END;
-- call: p
-- out: n = 11
-- behaviour: ITERATE in REPEAT still tests UNTIL
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  again: REPEAT
    SET n = n + 1;
    IF n < 100 THEN ITERATE again; END IF;
  UNTIL n >= 3 END REPEAT again;
END;
-- call: p
-- out: n = 3
-- behaviour: FOR runs over the rows of a query, its columns by name
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  SET r = '';
  FOR one AS SELECT id, name FROM item ORDER BY id DO
    SET r = r || one.id || name || ' ';
  END FOR;
END;
-- call: p
-- out: r = '1cork 2label 3bottle '
-- behaviour: FOR over no row does not run
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  FOR one AS SELECT id FROM item WHERE id > 99 DO SET n = n + 1; END FOR;
END;
-- call: p
-- out: n = 0
-- behaviour: FOR sees the rows as they were when it began
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  FOR one AS SELECT id, name FROM item DO
    INSERT INTO item (id, name) VALUES (one.id + 100, one.name);
    SET n = n + 1;
  END FOR;
END;
-- call: p
-- out: n = 3
-- data: SELECT COUNT(*) FROM item : [6]
-- behaviour: a FOR left by LEAVE can be entered again
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE turn INTEGER DEFAULT 0;
  SET r = '';
  WHILE turn < 2 DO
    SET turn = turn + 1;
    rows: FOR one AS SELECT id FROM item ORDER BY id DO
      SET r = r || one.id;
      IF one.id = 2 THEN LEAVE rows; END IF;
    END FOR rows;
  END WHILE;
END;
-- call: p
-- out: r = '1212'
-- behaviour: a variable of an inner block hides the outer one and ends with its block
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE x INTEGER DEFAULT 1;
  BEGIN
    DECLARE x INTEGER DEFAULT 2;
    SET x = x + 10;
    SET r = x || ' ';
  END;
  SET r = r || x;
END;
-- call: p
-- out: r = '12 1'
-- behaviour: an outer variable can be named by its block's label
CREATE PROCEDURE p (OUT r VARCHAR(50))
outer_part: BEGIN
  DECLARE x INTEGER DEFAULT 1;
  BEGIN
    DECLARE x INTEGER DEFAULT 2;
    SET outer_part.x = 7;
    SET r = x || ' ' || outer_part.x;
  END;
END;
-- call: p
-- out: r = '2 7'
-- behaviour: the variables of a block start anew each time it is entered
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 3 DO
    BEGIN
      DECLARE x INTEGER DEFAULT 5;
      DECLARE y INTEGER;
      SET r = r || x || COALESCE(CAST(y AS VARCHAR(5)), '-') || ' ';
      SET x = 0; SET y = 1;
    END;
    SET i = i + 1;
  END WHILE;
END;
-- call: p
-- out: r = '5- 5- 5- '
-- behaviour: several variables may be declared at once
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE a, b, c INTEGER DEFAULT 4;
  SET n = a + b + c;
END;
-- call: p
-- out: n = 12
-- behaviour: SET of several variables works all values out first
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE a INTEGER DEFAULT 1;
  DECLARE b INTEGER DEFAULT 2;
  SET (a, b) = (b, a);
  SET r = a || ' ' || b;
END;
-- call: p
-- out: r = '2 1'
-- behaviour: SET of several variables from a query without a row makes them NULL
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(20))
BEGIN
  SET a = 1; SET b = 'x';
  SET (a, b) = (SELECT id, name FROM item WHERE id = 99);
END;
-- call: p
-- out: a = NULL, b = NULL
-- behaviour: a loop without statements ends at the limit
CREATE PROCEDURE p () LOOP END LOOP;
-- call: p
-- raises: UL001
-- behaviour: the test of an IF may be a CASE expression with THEN in it
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(5)
BEGIN
  IF CASE WHEN a > 2 THEN 'big' ELSE 'small' END = 'big' THEN
    RETURN 'yes';
  ELSEIF CASE a WHEN 1 THEN TRUE ELSE FALSE END THEN
    RETURN 'one';
  END IF;
  RETURN 'no';
END;
-- call: f a = 3
-- returns: 'yes'
-- call: f a = 1
-- returns: 'one'
-- call: f a = 2
-- returns: 'no'

-- behaviour: a list of statements may be empty
CREATE PROCEDURE p (IN n INTEGER, OUT r VARCHAR(10))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  IF n = 1 THEN
  ELSEIF n = 2 THEN
    SET r = 'two';
  ELSE
  END IF;
  CASE n WHEN 1 THEN WHEN 2 THEN SET r = r || '!'; ELSE END CASE;
  FOR one AS SELECT id FROM item DO END FOR;
  WHILE i > 0 DO END WHILE;
  SET r = COALESCE(r, 'none');
END;
-- call: p n = 1
-- out: r = 'none'
-- call: p n = 2
-- out: r = 'two!'
-- call: p n = 3
-- out: r = 'none'
