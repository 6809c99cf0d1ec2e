-- behaviour: what a run changed is kept when it completes
CREATE PROCEDURE p () UPDATE item SET qty = 77 WHERE id = 1;
-- call: p
-- data: SELECT qty FROM item WHERE id = 1 : [77]
-- behaviour: what a run changed is undone when it ends in an exception
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 77 WHERE id = 1;
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- raises: 45000
-- data: SELECT qty FROM item WHERE id = 1 : [10]
-- behaviour: what the routine committed itself stays
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 77 WHERE id = 1;
  COMMIT;
  UPDATE item SET qty = 78 WHERE id = 2;
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- raises: 45000
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [77] [20]
-- behaviour: ROLLBACK undoes to the last COMMIT
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 77 WHERE id = 1;
  COMMIT;
  UPDATE item SET qty = 78 WHERE id = 2;
  ROLLBACK;
END;
-- call: p
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [77] [20]
-- behaviour: ROLLBACK TO SAVEPOINT undoes a part and keeps the savepoint
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 77 WHERE id = 1;
  SAVEPOINT half;
  UPDATE item SET qty = 78 WHERE id = 2;
  ROLLBACK TO SAVEPOINT half;
  UPDATE item SET qty = 79 WHERE id = 2;
  ROLLBACK TO SAVEPOINT half;
END;
-- call: p
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [77] [20]
-- behaviour: an unknown savepoint is 3B001, and so is a released one
CREATE PROCEDURE p () ROLLBACK TO SAVEPOINT nowhere;
CREATE PROCEDURE q ()
BEGIN
  SAVEPOINT a; SAVEPOINT b;
  RELEASE SAVEPOINT a;
  ROLLBACK TO SAVEPOINT b;
END;
-- call: p
-- raises: 3B001
-- call: q
-- raises: 3B001
-- behaviour: START TRANSACTION is welcome where nothing has been changed
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  SELECT COUNT(*) INTO n FROM item;
  START TRANSACTION;
  UPDATE item SET qty = 5 WHERE id = 1;
  COMMIT;
  START TRANSACTION;
  COMMIT;
END;
-- call: p
-- data: SELECT qty FROM item WHERE id = 1 : [5]
-- behaviour: START TRANSACTION over uncommitted changes is 25001, a caller's too
CREATE PROCEDURE callee () START TRANSACTION;
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 5 WHERE id = 1;
  CALL callee();
END;
-- call: p
-- raises: 25001
-- behaviour: a transaction statement while a trigger or function runs is 2D000
CREATE PROCEDURE commits () COMMIT;
CREATE FUNCTION f () RETURNS INTEGER BEGIN CALL commits(); RETURN 1; END;
CREATE TRIGGER t AFTER DELETE ON child FOR EACH ROW CALL commits();
CREATE PROCEDURE p () DELETE FROM child WHERE id = 11;
-- call: f
-- raises: 2D000
-- call: p
-- raises: 2D000
-- behaviour: a failed statement undoes itself alone
CREATE PROCEDURE p ()
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23514' BEGIN END;
  UPDATE item SET qty = 3 WHERE id = 1;
  UPDATE item SET qty = 15 - qty WHERE id < 3;
END;
-- call: p
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [3] [20]
-- behaviour: an ATOMIC block that ends in an exception undoes what it did
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' BEGIN END;
  UPDATE item SET qty = 3 WHERE id = 1;
  BEGIN ATOMIC
    UPDATE item SET qty = 4 WHERE id = 2;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [3] [20]
-- behaviour: a block that is not ATOMIC keeps what it did before an exception
CREATE PROCEDURE p ()
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' BEGIN END;
  UPDATE item SET qty = 3 WHERE id = 1;
  BEGIN
    UPDATE item SET qty = 4 WHERE id = 2;
    SIGNAL SQLSTATE '45001';
  END;
END;
-- call: p
-- data: SELECT qty FROM item WHERE id < 3 ORDER BY id : [3] [4]
-- behaviour: an UNDO handler undoes its block first, then runs
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN ATOMIC
  DECLARE UNDO HANDLER FOR SQLSTATE '45001' SET n = (SELECT i.qty FROM item i WHERE i.id = 1);
  UPDATE item SET qty = 3 WHERE id = 1;
  SIGNAL SQLSTATE '45001';
END;
-- call: p
-- out: n = 10
-- behaviour: a commit in a callee commits the caller's changes too
CREATE PROCEDURE callee () COMMIT;
CREATE PROCEDURE p ()
BEGIN
  UPDATE item SET qty = 3 WHERE id = 1;
  CALL callee();
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- raises: 45000
-- data: SELECT qty FROM item WHERE id = 1 : [3]
-- behaviour: a transaction statement in an ATOMIC block is refused, and 2D000 in what it calls
CREATE PROCEDURE commits () COMMIT;
CREATE PROCEDURE p () BEGIN ATOMIC CALL commits(); END;
-- call: p
-- raises: 2D000
-- behaviour: COMMIT right inside an ATOMIC block is an error
CREATE PROCEDURE p () BEGIN ATOMIC UPDATE item SET qty = 1 WHERE id = 1; COMMIT; END;
-- problem: misplaced-statement
-- behaviour: a routine that says READS SQL DATA and writes is refused where it can be seen
CREATE FUNCTION f () RETURNS INTEGER READS SQL DATA
BEGIN
  DELETE FROM log WHERE n = 1;
  RETURN 1;
END;
-- problem: wrong-access
-- behaviour: a routine that says READS SQL DATA and calls one that writes ends in 2F002
CREATE PROCEDURE writes () INSERT INTO log (line) VALUES ('x');
CREATE FUNCTION f () RETURNS INTEGER READS SQL DATA
BEGIN
  CALL writes();
  RETURN 1;
END;
CREATE PROCEDURE p () READS SQL DATA EXECUTE IMMEDIATE 'DELETE FROM log';
-- call: f
-- raises: 2F002 READS SQL DATA
-- call: p
-- raises: 2F002
-- behaviour: what a routine does not say of itself is no reason to refuse
CREATE FUNCTION f () RETURNS INTEGER
BEGIN
  INSERT INTO log (line) VALUES ('x');
  RETURN 1;
END;
-- call: f
-- returns: 1
-- data: SELECT * FROM log ORDER BY 1 : [1, 'x']
