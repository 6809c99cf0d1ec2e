-- behaviour: an unknown variable
CREATE PROCEDURE p (OUT a INTEGER) SET a = b;
-- problem: unknown-name
-- behaviour: an unknown target
CREATE PROCEDURE p (OUT a INTEGER) BEGIN SET a = 1; SET aa = 1; END;
-- problem: unknown-name
-- behaviour: an unknown table
CREATE PROCEDURE p () DELETE FROM items WHERE id = 1;
-- problem: unknown-name
-- behaviour: an unknown column
CREATE PROCEDURE p () DELETE FROM item WHERE idd = 1;
-- problem: unknown-name
-- behaviour: an unknown procedure
CREATE PROCEDURE p () CALL q();
-- problem: unknown-name
-- behaviour: an unknown function
CREATE PROCEDURE p (OUT a INTEGER) SET a = no_such_function(1);
-- problem: unknown-name
-- behaviour: too many arguments
CREATE PROCEDURE q (IN a INTEGER) SET a = 1;
CREATE PROCEDURE p () CALL q(1, 2);
-- problem: wrong-arguments
-- behaviour: too few arguments
CREATE PROCEDURE q (IN a INTEGER, IN b INTEGER) SET a = b;
CREATE PROCEDURE p () CALL q(1);
-- problem: wrong-arguments
-- behaviour: an OUT argument that is no variable
CREATE PROCEDURE q (OUT a INTEGER) SET a = 1;
CREATE PROCEDURE p () CALL q(1 + 1);
-- problem: wrong-arguments
-- behaviour: a text where a number is needed
CREATE PROCEDURE p (OUT a INTEGER) SET a = 'x';
-- problem: wrong-type
-- behaviour: a condition that is a number
CREATE PROCEDURE p (IN a INTEGER, OUT b INTEGER) IF a THEN SET b = 1; END IF;
-- problem: wrong-type
-- behaviour: a comparison of a number with a text
CREATE PROCEDURE p (IN a INTEGER, OUT b BOOLEAN) SET b = a = 'x';
-- problem: wrong-type
-- behaviour: arithmetic on a text
CREATE PROCEDURE p (IN a VARCHAR(5), OUT b INTEGER) SET b = a + 1;
-- problem: wrong-type
-- behaviour: a literal that can never fit raises where it is reached
CREATE PROCEDURE p (OUT a VARCHAR(2), OUT b SMALLINT) BEGIN SET a = 'abc'; SET b = 70000; END;
-- call: p
-- raises: 22001
-- behaviour: a function without any RETURN
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
BEGIN
  IF a = 1 THEN SET a = 2; END IF;
END;
-- problem: missing-return
-- behaviour: a function whose every path returns or raises has no problem
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
BEGIN
  CASE WHEN a = 1 THEN RETURN 1; WHEN a = 2 THEN SIGNAL SQLSTATE '45000'; ELSE
    LOOP
      SET a = a + 1;
      IF a > 5 THEN RETURN a; END IF;
    END LOOP;
  END CASE;
END;
-- call: f a = 3
-- returns: 6
-- behaviour: RETURN with a value in a procedure
CREATE PROCEDURE p () RETURN 1;
-- problem: wrong-return
-- behaviour: LEAVE of a label that is not around it
CREATE PROCEDURE p () BEGIN a: BEGIN END; LEAVE a; END;
-- problem: unknown-name
-- behaviour: ITERATE of a block
CREATE PROCEDURE p () a: BEGIN ITERATE a; END;
-- problem: misplaced-statement
-- behaviour: two variables of one name in one block
CREATE PROCEDURE p () BEGIN DECLARE a INTEGER; DECLARE a INTEGER; SET a = 1; END;
-- problem: duplicate-name
-- behaviour: two parameters of one name
CREATE PROCEDURE p (IN a INTEGER, OUT A INTEGER) SET a = 1;
-- problem: duplicate-name
-- behaviour: a transaction statement in a function or trigger
CREATE FUNCTION f () RETURNS INTEGER BEGIN COMMIT; RETURN 1; END;
CREATE TRIGGER t AFTER DELETE ON item FOR EACH ROW ROLLBACK;
-- problem: misplaced-statement
-- problem: misplaced-statement
-- behaviour: a function that hands out rows
CREATE FUNCTION f () RETURNS INTEGER BEGIN SELECT * FROM item; RETURN 1; END;
-- problem: misplaced-statement
-- behaviour: an assignment to a constant, to OLD, and to NEW after the fact
CREATE TRIGGER t AFTER UPDATE ON item FOR EACH ROW
BEGIN
  DECLARE k CONSTANT INTEGER DEFAULT 1;
  SET k = 2;
  SET OLD.qty = 1;
  SET NEW.qty = 1;
END;
-- problem: not-assignable
-- problem: not-assignable
-- problem: not-assignable
-- behaviour: a condition that nobody declared
CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR odd BEGIN END; SIGNAL odd; END;
-- problem: unknown-name
-- problem: unknown-name
-- behaviour: an UNDO handler outside an ATOMIC block
CREATE PROCEDURE p () BEGIN DECLARE UNDO HANDLER FOR SQLEXCEPTION BEGIN END; END;
-- problem: wrong-declaration
-- behaviour: two routines of one name with as many parameters
CREATE PROCEDURE p (IN a INTEGER) SET a = 1;
CREATE PROCEDURE p (IN b INTEGER) SET b = 1;
-- problem: duplicate-name
-- behaviour: a trigger on a table that is not there
CREATE TRIGGER t AFTER DELETE ON nothing_here FOR EACH ROW BEGIN END;
-- problem: unknown-name
-- behaviour: a query with more values than variables
CREATE PROCEDURE p (OUT a INTEGER) SELECT id, qty INTO a FROM item;
-- problem: wrong-arguments
-- behaviour: syntax errors in several statements are all found, and the rest is read
CREATE PROCEDURE p (OUT a INTEGER)
BEGIN
  SET a = ;
  IF a > THEN SET a = 1; END IF;
  SET a = 2;
  WHLE a > 1 DO SET a = 0; END WHILE;
END;
CREATE PROCEDURE q () CALL nowhere();
-- problem: syntax
-- problem: syntax
-- problem: syntax
-- problem: unknown-name
-- behaviour: a routine that says CONTAINS SQL can't read data
CREATE FUNCTION f () RETURNS BIGINT CONTAINS SQL RETURN (SELECT COUNT(*) FROM item);
-- problem: wrong-access
-- behaviour: a routine that says READS SQL DATA can't change data
CREATE PROCEDURE p () READS SQL DATA DELETE FROM log WHERE n = 1;
-- problem: wrong-access
-- behaviour: GREATEST takes values that can be compared
CREATE FUNCTION f (a INTEGER, t VARCHAR(5)) RETURNS INTEGER RETURN GREATEST(a, t);
-- problem: wrong-type
-- behaviour: a function that gives a row, in a statement of SQL
CREATE FUNCTION best (c VARCHAR(5)) RETURNS LIKE tag READS SQL DATA
BEGIN
  DECLARE r LIKE tag;
  SELECT * INTO r FROM tag WHERE code = c;
  RETURN r;
END;
CREATE PROCEDURE p (OUT n INTEGER) SELECT COUNT(*) INTO n FROM tag WHERE best(code) IS NOT NULL;
-- problem: refused-sql
-- behaviour: a function with the name of one that the database has, in a statement of SQL
CREATE FUNCTION gcd (a INTEGER, b INTEGER) RETURNS INTEGER RETURN CASE WHEN b = 0 THEN a ELSE gcd(b, MOD(a, b)) END;
CREATE PROCEDURE p (OUT n INTEGER) SELECT GCD(price, 6) INTO n FROM tag WHERE code = 'cc';
-- problem: hidden-function
-- behaviour: another of them
CREATE FUNCTION instr (a VARCHAR(9), b VARCHAR(9)) RETURNS INTEGER RETURN -1;
CREATE PROCEDURE p () DELETE FROM tag WHERE instr (code, 'a') > 0;
-- problem: hidden-function
-- behaviour: a number and a word are kept apart
CREATE PROCEDURE p () BEGIN DECLARE v INTEGER DEFAULT 1; WHILE v < 3DO SET v = v + 1; END WHILE; END;
-- problem: syntax
