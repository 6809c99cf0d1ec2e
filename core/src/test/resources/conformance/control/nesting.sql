-- behaviour: a block's variable hides one outside, and is gone after it
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE v INTEGER DEFAULT 1;
  SET r = '';
  BEGIN
    DECLARE v INTEGER DEFAULT 2;
    SET r = r || v;
    BEGIN
      DECLARE v INTEGER DEFAULT 3;
      SET r = r || v;
    END;
    SET r = r || v;
  END;
  SET r = r || v;
END;
-- call: p
-- out: r = '2321'
-- behaviour: a hidden variable is read by its block's label, a parameter by its routine's name
CREATE PROCEDURE p (IN v INTEGER, OUT r VARCHAR(20))
around: BEGIN
  DECLARE w INTEGER DEFAULT 5;
  BEGIN
    DECLARE v INTEGER DEFAULT 2;
    DECLARE w INTEGER DEFAULT 6;
    SET r = v || ' ' || p.v || ' ' || w || ' ' || around.w;
  END;
END around;
-- call: p v = 1
-- out: r = '2 1 6 5'
-- behaviour: a variable is fresh in each round of a loop
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 3 DO
    BEGIN
      DECLARE seen INTEGER;
      SET r = r || COALESCE(CAST(seen AS VARCHAR(5)), '-');
      SET seen = i;
      SET i = i + 1;
    END;
  END WHILE;
END;
-- call: p
-- out: r = '---'
-- behaviour: a default may use variables before it, of the same DECLARE not
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE a INTEGER DEFAULT 2;
  DECLARE b INTEGER DEFAULT a * 3;
  DECLARE c, d INTEGER DEFAULT b + 1;
  SET r = a || ' ' || b || ' ' || c || ' ' || d;
END;
-- call: p
-- out: r = '2 6 7 7'
-- behaviour: LEAVE of a block goes on after it
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(20))
BEGIN
  SET r = 'a';
  part: BEGIN
    IF a > 0 THEN LEAVE part; END IF;
    SET r = r || 'b';
  END part;
  SET r = r || 'c';
END;
-- call: p a = 1
-- out: r = 'ac'
-- call: p a = 0
-- out: r = 'abc'
-- behaviour: LEAVE of the routine's own block ends it
CREATE PROCEDURE p (OUT r VARCHAR(20))
whole: BEGIN
  SET r = 'a';
  LEAVE whole;
  SET r = 'b';
END whole;
-- call: p
-- out: r = 'a'
-- behaviour: ITERATE of an outer loop leaves the inner one
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE i, j INTEGER DEFAULT 0;
  SET r = '';
  rows_: WHILE i < 3 DO
    SET i = i + 1;
    SET j = 0;
    LOOP
      SET j = j + 1;
      IF j > i THEN ITERATE rows_; END IF;
      SET r = r || i || j || ' ';
    END LOOP;
  END WHILE;
END;
-- call: p
-- out: r = '11 21 22 31 32 33 '
-- behaviour: REPEAT runs once before its test, and ITERATE goes to the test
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  SET n = 0;
  SET m = 0;
  turns: REPEAT
    SET n = n + 1;
    IF n < 3 THEN ITERATE turns; END IF;
    SET m = m + 1;
  UNTIL n >= 5 END REPEAT;
END;
-- call: p
-- out: n = 5, m = 3
-- behaviour: a searched CASE takes the first branch that is true
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(10)
BEGIN
  CASE
    WHEN a > 10 THEN RETURN 'big';
    WHEN a > 5 THEN RETURN 'middle';
    WHEN a > 0 THEN RETURN 'small';
  END CASE;
  RETURN 'never';
END;
-- call: f a = 11
-- returns: 'big'
-- call: f a = 6
-- returns: 'middle'
-- call: f a = 0
-- raises: 20000
-- call: f a = null
-- raises: 20000
-- behaviour: a simple CASE with several values and several statements
CREATE PROCEDURE p (IN a VARCHAR(5), OUT r VARCHAR(20), OUT n INTEGER)
BEGIN
  SET n = 0;
  CASE a
    WHEN 'x' THEN SET r = 'ex'; SET n = 1;
    WHEN 'y' THEN SET r = 'why';
    ELSE BEGIN END;
  END CASE;
END;
-- call: p a = 'x'
-- out: r = 'ex', n = 1
-- call: p a = 'z'
-- out: r = NULL, n = 0
-- call: p a = null
-- out: r = NULL, n = 0
-- behaviour: SET of several variables works out all values first
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  SET a = 1;
  SET b = 2;
  SET (a, b) = (b, a);
END;
-- call: p
-- out: a = 2, b = 1
-- behaviour: SET of several variables from a query; without a row they become NULL
CREATE PROCEDURE p (IN k INTEGER, OUT a VARCHAR(20), OUT b INTEGER)
BEGIN
  SET a = 'before';
  SET (a, b) = (SELECT name, qty FROM item WHERE id = k);
END;
-- call: p k = 2
-- out: a = 'label', b = 20
-- call: p k = 99
-- out: a = NULL, b = NULL
-- behaviour: an ELSEIF chain stops at the first that is true
CREATE FUNCTION grade (n INTEGER) RETURNS CHAR(1)
BEGIN
  IF n >= 90 THEN RETURN 'A';
  ELSEIF n >= 80 THEN RETURN 'B';
  ELSEIF n >= 80 THEN RETURN 'X';
  ELSE RETURN 'C';
  END IF;
END;
-- call: grade n = 95
-- returns: 'A'
-- call: grade n = 85
-- returns: 'B'
-- call: grade n = 10
-- returns: 'C'
-- behaviour: a constant can't be assigned, in any way
CREATE PROCEDURE p ()
BEGIN
  DECLARE k CONSTANT INTEGER DEFAULT 1;
  SET k = 2;
  SELECT 1 INTO k FROM item WHERE id = 1;
END;
-- problem: not-assignable
-- problem: not-assignable
-- behaviour: LEAVE and ITERATE want a label that is around them
CREATE PROCEDURE p ()
BEGIN
  one: WHILE FALSE DO LEAVE two; END WHILE;
  three: BEGIN ITERATE three; END;
  LEAVE one;
END;
-- problem: unknown-name
-- problem: misplaced-statement
-- problem: unknown-name
-- behaviour: the label at the end must be the one at the beginning
CREATE PROCEDURE p ()
one: BEGIN
END two;
-- problem: syntax
-- behaviour: an empty block, an empty loop body and many blocks deep
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  BEGIN END;
  BEGIN BEGIN BEGIN BEGIN BEGIN BEGIN SET r = 6; END; END; END; END; END; END;
END;
-- call: p
-- out: r = 6
-- behaviour: a statement may stand alone as a body
CREATE PROCEDURE p (INOUT n INTEGER) IF n > 5 THEN SET n = 5; END IF;
CREATE PROCEDURE q (INOUT n INTEGER) WHILE n < 5 DO SET n = n + 1; END WHILE;
-- call: p n = 9
-- out: n = 5
-- call: q n = 1
-- out: n = 5
-- behaviour: names are told apart without regard to case, delimited ones by it
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE "v" INTEGER DEFAULT 1;
  DECLARE V INTEGER DEFAULT 2;
  SET v = v + 10;
  SET r = "v" || ' ' || V || ' ' || "V";
END;
-- call: p
-- out: r = '1 12 12'
