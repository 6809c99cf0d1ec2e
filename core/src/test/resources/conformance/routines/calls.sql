-- behaviour: arguments by name, in any order, and by position before them
CREATE PROCEDURE q (IN a INTEGER, IN b INTEGER DEFAULT 20, IN c INTEGER DEFAULT 30, OUT r VARCHAR(30))
SET r = a || ' ' || b || ' ' || c;
CREATE PROCEDURE p (OUT x VARCHAR(30), OUT y VARCHAR(30), OUT z VARCHAR(30))
BEGIN
  CALL q(1, r => x);
  CALL q(1, c => 3, r => y);
  CALL q(r => z, b => 2, a => 1);
END;
-- call: p
-- out: x = '1 20 30', y = '1 20 3', z = '1 2 30'
-- behaviour: a default may use the parameters before it
CREATE FUNCTION f (a INTEGER, b INTEGER DEFAULT 7) RETURNS INTEGER RETURN a * b;
CREATE PROCEDURE p (OUT x INTEGER, OUT y INTEGER)
BEGIN SET x = f(2); SET y = f(2, NULL); END;
-- call: p
-- out: x = 14, y = NULL
-- behaviour: one variable for two OUT parameters holds what was copied back last
CREATE PROCEDURE q (OUT a INTEGER, OUT b INTEGER) BEGIN SET b = 2; SET a = 1; END;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE v INTEGER;
  CALL q(v, v);
  SET r = v;
END;
-- call: p
-- out: r = 2
-- behaviour: an IN parameter may be assigned, and its argument stays
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER) BEGIN SET a = a + 1; SET b = a; END;
CREATE PROCEDURE p (OUT r INTEGER, OUT s INTEGER)
BEGIN
  DECLARE v INTEGER DEFAULT 5;
  CALL q(v, s);
  SET r = v;
END;
-- call: p
-- out: r = 5, s = 6
-- behaviour: OUT is NULL when its routine begins, whatever the argument held
CREATE PROCEDURE q (OUT a INTEGER, OUT was BOOLEAN) BEGIN SET was = a IS NULL; END;
CREATE PROCEDURE p (OUT r INTEGER, OUT was BOOLEAN)
BEGIN
  DECLARE v INTEGER DEFAULT 5;
  CALL q(v, was);
  SET r = v;
END;
-- call: p
-- out: r = NULL, was = TRUE
-- behaviour: INOUT goes in and comes back
CREATE PROCEDURE q (INOUT a INTEGER) SET a = a * 10;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE v INTEGER DEFAULT 4;
  CALL q(v);
  CALL q(v);
  SET r = v;
END;
-- call: p
-- out: r = 400
-- behaviour: what does not fit when it is copied back is the CALL's exception
CREATE PROCEDURE q (OUT a INTEGER) SET a = 100000;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE small SMALLINT DEFAULT 3;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22003' SET r = 'too large ';
  CALL q(small);
  SET r = r || small;
END;
-- call: p
-- out: r = 'too large 3'
-- behaviour: RETURN leaves a procedure, and OUT values set so far are handed out
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(10))
BEGIN
  SET r = 'early';
  IF a = 1 THEN RETURN; END IF;
  SET r = 'late';
END;
-- call: p a = 1
-- out: r = 'early'
-- call: p a = 2
-- out: r = 'late'
-- behaviour: a function that ends without RETURN is 2F005
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
BEGIN
  IF a > 0 THEN RETURN 1; END IF;
END;
-- call: f a = 1
-- returns: 1
-- call: f a = 0
-- raises: 2F005
-- behaviour: RETURNS NULL ON NULL INPUT does not run the body
CREATE FUNCTION f (a INTEGER, b INTEGER) RETURNS INTEGER
RETURNS NULL ON NULL INPUT
BEGIN
  IF b = 0 THEN SIGNAL SQLSTATE '45000'; END IF;
  RETURN COALESCE(a, 9);
END;
-- call: f a = null, b = 0
-- returns: NULL
-- call: f a = 1, b = 0
-- raises: 45000
-- call: f a = 1, b = 1
-- returns: 1
-- behaviour: overloads of functions are chosen by the best types
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(10) RETURN 'whole';
CREATE FUNCTION f (a VARCHAR(10)) RETURNS VARCHAR(10) RETURN 'text';
CREATE FUNCTION f (a DATE) RETURNS VARCHAR(10) RETURN 'date';
CREATE FUNCTION f (a INTEGER, b INTEGER) RETURNS VARCHAR(10) RETURN 'two';
CREATE PROCEDURE p (OUT r VARCHAR(40))
SET r = f(1) || ' ' || f('1') || ' ' || f(DATE '2031-01-01') || ' ' || f(1, 2);
-- call: p
-- out: r = 'whole text date two'
-- behaviour: a recursive function
CREATE FUNCTION fib (n INTEGER) RETURNS INTEGER
BEGIN
  IF n < 2 THEN RETURN n; END IF;
  RETURN fib(n - 1) + fib(n - 2);
END;
-- call: fib n = 15
-- returns: 610
-- behaviour: two functions that call each other
CREATE FUNCTION is_even (n INTEGER) RETURNS BOOLEAN
BEGIN IF n = 0 THEN RETURN TRUE; END IF; RETURN is_odd(n - 1); END;
CREATE FUNCTION is_odd (n INTEGER) RETURNS BOOLEAN
BEGIN IF n = 0 THEN RETURN FALSE; END IF; RETURN is_even(n - 1); END;
-- call: is_even n = 10
-- returns: TRUE
-- call: is_odd n = 10
-- returns: FALSE
-- behaviour: a function that changes data is run once for each value that is wanted
CREATE FUNCTION take (x VARCHAR(10)) RETURNS INTEGER
MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES (x);
  RETURN CHAR_LENGTH(x);
END;
CREATE PROCEDURE p (OUT n INTEGER) SET n = take('ab') + take('abc');
-- call: p
-- out: n = 5
-- data: SELECT line FROM log ORDER BY n : ['ab'] ['abc']
-- behaviour: AND works out its right side only where the left leaves it open
CREATE FUNCTION zero_fails (a INTEGER) RETURNS BOOLEAN RETURN 10 / a > 1;
CREATE FUNCTION f (a INTEGER) RETURNS BOOLEAN RETURN a <> 0 AND zero_fails(a);
-- call: f a = 2
-- returns: TRUE
-- call: f a = 0
-- returns: FALSE
-- behaviour: CASE and COALESCE work out only what they need
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
RETURN CASE WHEN a = 0 THEN -1 ELSE COALESCE(a, 100 / a) END;
-- call: f a = 0
-- returns: -1
-- call: f a = 5
-- returns: 5
-- behaviour: a procedure that says READS SQL DATA and writes is 2F002, where it is not seen before
CREATE PROCEDURE q () READS SQL DATA EXECUTE IMMEDIATE 'DELETE FROM log';
-- call: q
-- raises: 2F002
-- behaviour: a function that says READS SQL DATA and writes is refused
CREATE FUNCTION f () RETURNS INTEGER
READS SQL DATA
BEGIN
  DELETE FROM log;
  RETURN 1;
END;
-- problem: wrong-access
-- behaviour: a routine that says NO SQL has no SQL
CREATE FUNCTION f () RETURNS INTEGER
NO SQL
RETURN (SELECT COUNT(*) FROM item);
-- problem: wrong-access
-- behaviour: wrong calls are errors, each at its place
CREATE PROCEDURE q (IN a INTEGER, OUT b INTEGER) SET b = a;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  CALL q(1);
  CALL q(1, r, 3);
  CALL q(1, 2);
  CALL q(a => 1, c => r);
  CALL q('x', r);
  CALL missing(r);
END;
-- problem: wrong-arguments
-- problem: wrong-arguments
-- problem: wrong-arguments
-- problem: unknown-name
-- problem: wrong-arguments
-- problem: wrong-type
-- problem: unknown-name
-- behaviour: a function is no statement, and a procedure no expression
CREATE FUNCTION f () RETURNS INTEGER RETURN 1;
CREATE PROCEDURE q (OUT a INTEGER) SET a = 1;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  CALL f();
  SET r = q();
END;
-- problem: unknown-name
-- problem: unknown-name
-- behaviour: two routines of one name and one number of parameters are an error
CREATE PROCEDURE p (OUT r INTEGER) SET r = 1;
CREATE PROCEDURE p (OUT s INTEGER) SET s = 2;
-- problem: duplicate-name
-- behaviour: rows of several queries are handed out in their order
CREATE PROCEDURE p ()
BEGIN
  SELECT id FROM item WHERE id < 3 ORDER BY id;
  SELECT note FROM parent ORDER BY id;
END;
-- call: p
-- rows: [1] [2]
-- rows: ['one'] ['two']
-- behaviour: lines of REPORT come in order, NULL as NULL
CREATE PROCEDURE p ()
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < 2 DO
    SET i = i + 1;
    REPORT 'turn ', i, ' ', CAST(NULL AS INTEGER), ' ', 1.50;
  END WHILE;
END;
-- call: p
-- says: turn 1 NULL 1.50
-- says: turn 2 NULL 1.50
-- behaviour: a text argument of a query in an argument
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN a + 1;
CREATE PROCEDURE p (OUT r INTEGER) SET r = f((SELECT MAX(qty) FROM item));
-- call: p
-- out: r = 21
-- behaviour: a function in WHERE, in a select list and in ORDER BY
CREATE FUNCTION score (q INTEGER, p DECIMAL(8, 2)) RETURNS DECIMAL(10, 2) RETURN COALESCE(q, 0) * p;
CREATE PROCEDURE p ()
SELECT i.name, score(i.qty, i.price) AS s FROM item i
 WHERE score(i.qty, i.price) >= 0 ORDER BY score(i.qty, i.price) DESC, i.id;
-- call: p
-- rows: ['cork', 2.50] ['label', 2.00] ['bottle', 0.00]
-- behaviour: functions in a query take arguments of other types than they were declared with
CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
CREATE FUNCTION small (n SMALLINT, d DECIMAL(6, 2) DEFAULT 1.5) RETURNS DECIMAL(8, 2) RETURN n * d;
CREATE FUNCTION month_of (d DATE) RETURNS INTEGER RETURN EXTRACT(MONTH FROM d);
CREATE PROCEDURE p (OUT r VARCHAR(200))
BEGIN
  DECLARE b BIGINT DEFAULT 7; DECLARE x DOUBLE PRECISION DEFAULT 2.5; DECLARE d DECIMAL(9, 4) DEFAULT 3.5; DECLARE s SMALLINT DEFAULT 2; DECLARE t TIMESTAMP DEFAULT TIMESTAMP '2025-05-06 07:08:09';
  SELECT twice(COUNT(*)) || ' ' || twice(MAX(i.price)) || ' ' || SUM(twice(i.id)) INTO r FROM item i;
  SET r = r || ' ' || (SELECT twice(b) + twice(d) + twice(s) + twice(40000) FROM item WHERE id = 1);
  SET r = r || ' ' || (SELECT small(1) + small(s, x) + small(n => i.id, d => 2) + small(d => b, n => 3) FROM item i WHERE twice(i.id) = 4);
  SET r = r || ' ' || (SELECT month_of(t) * 10 + month_of(DATE '2024-12-01') FROM item WHERE id = twice(small(1, 0.5)) - 1);
  SET r = r || ' ' || (SELECT MAX(y.v) FROM (SELECT twice(twice(COUNT(*))) AS v FROM item GROUP BY twice(id / 2)) y);
END;
-- call: p
-- out: r = '6 4 12 80026 31.50 62 8'
-- behaviour: an argument of a function in a query that does not fit its parameter is an exception
CREATE FUNCTION twice (n SMALLINT) RETURNS INTEGER RETURN n * 2;
CREATE PROCEDURE p (IN k INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22003' SET r = 'over';
  SET r = CAST((SELECT twice(k + id) FROM item WHERE id = 1) AS VARCHAR(20));
END;
-- call: p k = 32766
-- out: r = '65534'
-- call: p k = 32767
-- out: r = 'over'
-- behaviour: an array goes into a query
CREATE PROCEDURE p (OUT r VARCHAR(99))
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[3, NULL, 1]; DECLARE t VARCHAR(5) ARRAY DEFAULT ARRAY['b', 'a'];
  SET r = '';
  FOR e AS SELECT t.v FROM UNNEST(a) AS t (v) WHERE t.v > 0 ORDER BY t.v DO SET r = r || ' ' || e.v; END FOR;
  FOR e AS SELECT u.v FROM UNNEST(t) AS u (v) ORDER BY u.v DO SET r = r || ' ' || e.v; END FOR;
END;
-- call: p
-- out: r = ' 1 3 a b'
