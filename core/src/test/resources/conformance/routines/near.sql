-- behaviour: routines in a schema of their own call each other with its name or without
CREATE FUNCTION depot.add_ints (a INTEGER, b INTEGER) RETURNS INTEGER RETURN a + b;
CREATE PROCEDURE Depot.q (IN a INTEGER, OUT b INTEGER) SET b = depot.add_ints(a, 1);
CREATE PROCEDURE depot . p (OUT v INTEGER, OUT w INTEGER, OUT x INTEGER)
BEGIN
  CALL depot.q(1, v);
  CALL q(2, w);
  SELECT DEPOT.add_ints(price, 10) INTO x FROM depot.tag WHERE code = 'cc';
END;
-- call: p
-- out: v = 2, w = 3, x = 13
-- behaviour: a trigger in a schema, on a table in that schema
CREATE TRIGGER depot.keep AFTER INSERT ON depot.tag FOR EACH ROW
INSERT INTO depot.log (line) VALUES (NEW.code);
CREATE PROCEDURE depot.p () INSERT INTO tag VALUES ('dd', 4);
-- call: p
-- data: SELECT line FROM log : ['dd']
-- behaviour: another schema than the project's own is an error that says so
CREATE PROCEDURE depot.p () BEGIN END;
CREATE PROCEDURE store.q () BEGIN END;
-- problem: syntax store is another schema than the project's own, DEPOT
-- behaviour: a word that is the schema's and an alias too keeps what it means
CREATE PROCEDURE depot.p (OUT v INTEGER)
SELECT depot.price INTO v FROM tag AS depot WHERE depot.code = 'cc';
-- call: p
-- out: v = 3
-- behaviour: IF NOT EXISTS and OR REPLACE where a routine is created
CREATE PROCEDURE IF NOT EXISTS p (OUT v INTEGER) SET v = f();
CREATE OR REPLACE FUNCTION f () RETURNS INTEGER RETURN 1;
-- call: p
-- out: v = 1
-- behaviour: several variables in one SET, one after the other
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE c INTEGER;
  SET c = 1, a = c + 1, b = a + 1;
END;
-- call: p
-- out: a = 2, b = 3
-- behaviour: several variables in one SET that is all there is of a branch
CREATE PROCEDURE p (IN n INTEGER, OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET a = -1, b = -2;
  IF n = 0 THEN SET a = 1, b = 1 / n; END IF;
END;
-- call: p n = 0
-- out: a = -1, b = -2
-- call: p n = 1
-- out: a = NULL, b = NULL
-- behaviour: a loop over a range of numbers
CREATE PROCEDURE p (OUT v VARCHAR(40))
BEGIN
  DECLARE n INTEGER DEFAULT 3;
  SET v = '';
  FOR i IN 1..n DO
    IF i = 2 THEN SET n = 100; END IF;
    SET v = v || CAST(i AS VARCHAR(5)) || ' ';
  END FOR;
  FOR i IN REVERSE n - 98 .. 4 DO
    SET v = v || CAST(i AS VARCHAR(5)) || ' ';
  END FOR;
  FOR i IN 5..4 DO SET v = 'never'; END FOR;
END;
-- call: p
-- out: v = '1 2 3 4 3 2 '
-- behaviour: ITERATE and LEAVE in a loop over a range
CREATE PROCEDURE p (OUT v VARCHAR(40))
BEGIN
  SET v = '';
  turns: FOR i IN 1..10 DO
    IF i % 2 = 0 THEN ITERATE turns; END IF;
    IF i > 6 THEN LEAVE turns; END IF;
    SET v = v || CAST(i AS VARCHAR(5)) || ' ';
  END FOR turns;
END;
-- call: p
-- out: v = '1 3 5 '
-- behaviour: CALL without brackets
CREATE PROCEDURE q () INSERT INTO log (line) VALUES ('q');
CREATE PROCEDURE p ()
BEGIN
  CALL q;
  CALL q ;
END;
-- call: p
-- data: SELECT COUNT(*) FROM log : [2]
-- behaviour: the sign of remainders and the other sign of inequality
CREATE PROCEDURE p (IN a INTEGER, OUT b INTEGER, OUT c VARCHAR(9), OUT d INTEGER)
BEGIN
  SET b = a % 3 * 2;
  IF a != 7 THEN SET c = 'not 7'; ELSE SET c = '7'; END IF;
  SELECT COUNT(*) INTO d FROM tag WHERE price != a AND price % 2 = 1;
END;
-- call: p a = 8
-- out: b = 4, c = 'not 7', d = 2
-- call: p a = -7
-- out: b = -2, c = 'not 7', d = 2
-- behaviour: a remainder of zero is 22012
CREATE PROCEDURE p (IN a INTEGER, OUT b INTEGER) SET b = 5 % a;
-- call: p a = 0
-- raises: 22012
-- behaviour: DROP IF EXISTS may stand before the CREATE of the same name
DROP PROCEDURE IF EXISTS p;
drop  function if exists twice (INTEGER);
CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;
CREATE PROCEDURE p (OUT n INTEGER) SET n = twice(4);
-- call: p
-- out: n = 8
-- behaviour: := assigns as = does
CREATE PROCEDURE p (IN a INTEGER, OUT b INTEGER, OUT c VARCHAR(9))
BEGIN
  DECLARE v INTEGER DEFAULT 1;
  SET v := a * 2;
  SET b:=v + 1, c := 'x' || v;
END;
-- call: p a = 4
-- out: b = 9, c = 'x8'
-- behaviour: DEFINER may name whoever creates the routine
CREATE OR REPLACE DEFINER = CURRENT_USER() PROCEDURE p (OUT n INTEGER) SET n = f() + 1;
create definer /* the one */ =current_user function f () RETURNS INTEGER RETURN 4;
-- call: p
-- out: n = 5
-- behaviour: DEFINER that names another user is refused
CREATE DEFINER = 'root'@'localhost' PROCEDURE p (OUT n INTEGER) SET n = 1;
-- problem: definer
-- behaviour: no word behind DEFINER is passed over
CREATE DEFINER = CURRENT_USER AGGREGATE FUNCTION f () RETURNS INTEGER RETURN 1;
CREATE DEFINER = CURRENT_USER (x) PROCEDURE p () BEGIN END;
-- problem: definer
-- problem: definer
