-- behaviour: a name that is nearly right is shown with the right one
CREATE PROCEDURE p (OUT total INTEGER)
BEGIN
  DECLARE litres INTEGER DEFAULT 1;
  SET total = litrs;
  SET totel = 1;
  SELECT qyt INTO total FROM item WHERE id = 1;
  SELECT qty INTO total FROM itm WHERE id = 1;
END;
-- problem: unknown-name 4:15 there is no variable litrs here; did you mean litres?
-- problem: unknown-name 5:7 there is no variable totel here; did you mean total?
-- problem: unknown-name 6:10
-- problem: unknown-name 7:30
-- behaviour: a routine, a condition, a cursor and a label that are nearly right too
CREATE PROCEDURE settle (IN n INTEGER) INSERT INTO log (line) VALUES (CAST(n AS VARCHAR(9)));
CREATE FUNCTION graded (n INTEGER) RETURNS INTEGER RETURN n;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE dry CONDITION FOR SQLSTATE '45001';
  DECLARE rows_of CURSOR FOR SELECT id FROM item;
  CALL setle(1);
  SET r = gradd(1);
  OPEN rows_off;
  IF r = 1 THEN SIGNAL drry; END IF;
  turns: LOOP LEAVE turn; END LOOP;
END;
-- problem: unknown-name 7:8 there is no procedure setle here; did you mean settle?
-- problem: unknown-name 8:11
-- problem: unknown-name 9:8
-- problem: unknown-name 10:24
-- problem: unknown-name 11:21
-- behaviour: wrong numbers and types of arguments name the routine's signature or parameter
CREATE PROCEDURE settle (IN year INTEGER, OUT paid INTEGER) SET paid = year;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  CALL settle(2031);
  CALL settle(2031, r, 1);
  CALL settle('soon', r);
END;
-- problem: wrong-arguments 4:3 no value for parameter paid of settle; it is settle(IN year INTEGER, OUT paid INTEGER)
-- problem: wrong-arguments 5:
-- problem: wrong-type 6:15 a value of type VARCHAR(4) can't be stored in parameter year
-- behaviour: types that don't go together say both
CREATE PROCEDURE p (IN d DATE, IN n INTEGER, IN t VARCHAR(10), OUT b BOOLEAN)
BEGIN
  SET b = d = n;
  SET b = n;
  SET n = t;
  SET d = n;
  IF n THEN SET b = TRUE; END IF;
END;
-- problem: wrong-type 3:11 a value of type DATE can't be compared with one of type INTEGER
-- problem: wrong-type 4:11 a value of type INTEGER can't be stored in b of type BOOLEAN
-- problem: wrong-type 5:11 a value of type VARCHAR(10) can't be stored in n of type INTEGER; write CAST(t AS INTEGER)
-- problem: wrong-type 6:11
-- problem: wrong-type 7:6 a condition is true, false or unknown
-- behaviour: after a syntax error the next statements and routines are read
CREATE PROCEDURE a (OUT r INTEGER)
BEGIN
  SET r = 1 +;
  SET r = = 2;
  SET q = 3;
END;
CREATE PROCEDURE b (OUT r INTEGER) SET r = x;
-- problem: syntax 3:
-- problem: syntax 4:
-- problem: unknown-name 5:7
-- problem: unknown-name 7:44
-- behaviour: what only some routines may have
CREATE FUNCTION f () RETURNS INTEGER
BEGIN
  COMMIT;
  SELECT id FROM item;
  RETURN 1;
END;
CREATE TRIGGER t AFTER INSERT ON item FOR EACH ROW ROLLBACK;
CREATE PROCEDURE p () RETURN 5;
-- problem: misplaced-statement 3:3
-- problem: misplaced-statement 4:3
-- problem: wrong-return 8:
-- problem: misplaced-statement 7:
-- behaviour: a name is declared once in a block, whatever it names
CREATE PROCEDURE p (IN a INTEGER, IN A INTEGER)
BEGIN
  DECLARE v INTEGER;
  DECLARE V INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item;
  DECLARE c CURSOR FOR SELECT id FROM item;
  SET v = a;
END;
-- problem: duplicate-name 1:38
-- problem: duplicate-name 4:11
-- problem: duplicate-name 6:11
-- behaviour: a literal that is none is seen where it is written, and one that does not fit may stand there
CREATE PROCEDURE p (OUT s SMALLINT, OUT t VARCHAR(3), OUT d DATE, OUT n DECIMAL(4, 2))
BEGIN
  SET s = 32768;
  SET t = 'four';
  SET d = DATE '2031-02-30';
  SET n = 100;
END;
-- problem: wrong-literal 5:11
-- behaviour: a module's errors are found in each of its routines, and in its variables
CREATE MODULE m
  DECLARE v INTEGER DEFAULT 'x';
  PROCEDURE a (OUT r INTEGER) SET r = nothing;
  FUNCTION b () RETURNS INTEGER BEGIN END;
END MODULE;
-- problem: unknown-name 3:39
-- problem: missing-return 4:12
-- problem: wrong-type 2:29
