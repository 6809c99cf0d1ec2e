-- behaviour: what a callee commits stays when its caller fails
CREATE PROCEDURE keeps () BEGIN INSERT INTO log (line) VALUES ('kept'); COMMIT; END;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO log (line) VALUES ('before');
  CALL keeps();
  INSERT INTO log (line) VALUES ('lost');
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- raises: 45000
-- data: SELECT line FROM log ORDER BY n : ['before'] ['kept']
-- behaviour: ROLLBACK in a callee takes back what its caller had not committed
CREATE PROCEDURE back () ROLLBACK;
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO log (line) VALUES ('lost');
  CALL back();
  INSERT INTO log (line) VALUES ('kept');
END;
-- call: p
-- data: SELECT line FROM log : ['kept']
-- behaviour: variables are not rolled back
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 1;
  INSERT INTO log (line) VALUES ('x');
  SET n = 2;
  ROLLBACK;
  SET n = n + 10;
END;
-- call: p
-- out: n = 12
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a savepoint of a name hides an earlier one of that name
CREATE PROCEDURE p ()
BEGIN
  SAVEPOINT s;
  INSERT INTO log (line) VALUES ('one');
  SAVEPOINT s;
  INSERT INTO log (line) VALUES ('two');
  ROLLBACK TO SAVEPOINT s;
END;
-- call: p
-- data: SELECT line FROM log : ['one']
-- behaviour: going back to a savepoint takes away those after it, and keeps it
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SAVEPOINT a;
  INSERT INTO log (line) VALUES ('one');
  SAVEPOINT b;
  ROLLBACK TO SAVEPOINT a;
  INSERT INTO log (line) VALUES ('two');
  ROLLBACK TO SAVEPOINT a;
  ROLLBACK TO SAVEPOINT b;
END;
-- call: p
-- out: s = '3B001'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: COMMIT takes the savepoints away
CREATE PROCEDURE p ()
BEGIN
  SAVEPOINT a;
  INSERT INTO log (line) VALUES ('kept');
  COMMIT;
  ROLLBACK TO SAVEPOINT a;
END;
-- call: p
-- raises: 3B001
-- data: SELECT line FROM log : ['kept']
-- behaviour: RELEASE keeps the changes and forgets the savepoint
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '3B001' SET s = '3B001';
  SAVEPOINT a;
  INSERT INTO log (line) VALUES ('kept');
  RELEASE SAVEPOINT a;
  ROLLBACK TO SAVEPOINT a;
END;
-- call: p
-- out: s = '3B001'
-- data: SELECT line FROM log : ['kept']
-- behaviour: a failed statement leaves those before it in the transaction
CREATE PROCEDURE p ()
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' BEGIN END;
  INSERT INTO log (line) VALUES ('one');
  INSERT INTO item (id, name) VALUES (50, 'new'), (1, 'twice');
  INSERT INTO log (line) VALUES ('two');
  COMMIT;
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['one'] ['two']
-- data: SELECT COUNT(*) FROM item : [3]
-- behaviour: an exception after COMMIT undoes only what came after it
CREATE PROCEDURE p ()
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  WHILE TRUE DO
    SET i = i + 1;
    INSERT INTO log (line) VALUES ('batch ' || i);
    IF i = 3 THEN SIGNAL SQLSTATE '45000'; END IF;
    COMMIT;
  END WHILE;
END;
-- call: p
-- raises: 45000
-- data: SELECT line FROM log ORDER BY n : ['batch 1'] ['batch 2']
-- behaviour: COMMIT in the loop of a FOR goes on over its rows
CREATE PROCEDURE p ()
BEGIN
  FOR x AS SELECT id, name FROM item ORDER BY id DO
    INSERT INTO log (line) VALUES (x.name);
    IF x.id = 2 THEN ROLLBACK; ELSE COMMIT; END IF;
  END FOR;
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['cork'] ['bottle']
-- behaviour: START TRANSACTION where changes stand is 25001, after COMMIT it is welcome
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '25001' SET s = '25001';
  START TRANSACTION;
  INSERT INTO log (line) VALUES ('one');
  START TRANSACTION;
  COMMIT;
  START TRANSACTION;
  INSERT INTO log (line) VALUES ('two');
  COMMIT;
END;
-- call: p
-- out: s = '25001'
-- data: SELECT COUNT(*) FROM log : [2]
-- behaviour: COMMIT in an ATOMIC block, or in what it calls, is 2D000
CREATE PROCEDURE q () COMMIT;
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('x');
    CALL q();
  END;
END;
-- call: p
-- out: s = '2D000'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: COMMIT in a function is 2D000
CREATE PROCEDURE ends () COMMIT;
CREATE FUNCTION f () RETURNS INTEGER BEGIN CALL ends(); RETURN 1; END;
CREATE PROCEDURE p (OUT n INTEGER) SET n = f();
-- call: p
-- raises: 2D000
-- behaviour: an ATOMIC block that ends well is part of its transaction
CREATE PROCEDURE p ()
BEGIN
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('x');
  END;
  ROLLBACK;
  BEGIN ATOMIC
    INSERT INTO log (line) VALUES ('y');
  END;
END;
-- call: p
-- data: SELECT line FROM log : ['y']
-- behaviour: an exception that an inner handler takes does not undo the ATOMIC block around it
CREATE PROCEDURE p ()
BEGIN ATOMIC
  INSERT INTO log (line) VALUES ('one');
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' INSERT INTO log (line) VALUES ('handled');
    INSERT INTO log (line) VALUES ('two');
    SIGNAL SQLSTATE '45001';
  END;
  INSERT INTO log (line) VALUES ('three');
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['one'] ['two'] ['handled'] ['three']
-- behaviour: a run that failed behind a savepoint leaves nothing behind, and nor does the next
CREATE PROCEDURE p ()
BEGIN
  INSERT INTO log (line) VALUES ('lost');
  SAVEPOINT s;
  SIGNAL SQLSTATE '45000';
END;
CREATE PROCEDURE q ()
BEGIN
  INSERT INTO log (line) VALUES ('lost too');
  SIGNAL SQLSTATE '45000';
END;
-- call: p
-- raises: 45000
-- call: q
-- raises: 45000
-- call: p
-- raises: 45000
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a block that was taken back behind an inner block leaves the next one whole
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 3 DO
    SET i = i + 1;
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = r || i;
      BEGIN ATOMIC
        INSERT INTO log (line) VALUES ('a' || i);
        BEGIN ATOMIC
          IF i < 3 THEN SIGNAL SQLSTATE '45001'; END IF;
        END;
      END;
    END;
  END WHILE;
END;
-- call: p
-- out: r = '12'
-- data: SELECT line FROM log : ['a3']
-- behaviour: a statement that fails after something was taken back undoes itself alone
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' SET r = 'twice';
  INSERT INTO log (line) VALUES ('one');
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLSTATE '45001' SET r = 'undone';
    INSERT INTO log (line) VALUES ('two'), ('three');
    BEGIN ATOMIC SIGNAL SQLSTATE '45001'; END;
  END;
  INSERT INTO item (id, name) VALUES (60, 'new'), (1, 'twice');
END;
-- call: p
-- out: r = 'twice'
-- data: SELECT line FROM log : ['one']
-- data: SELECT COUNT(*) FROM item : [3]
-- behaviour: START TRANSACTION is welcome after a call that has committed, and after a change of no rows
CREATE PROCEDURE keeps () BEGIN INSERT INTO log (line) VALUES ('kept'); COMMIT; END;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '25001' SET r = '25001';
  CALL keeps();
  START TRANSACTION;
  DELETE FROM log WHERE line = 'nobody';
  UPDATE item SET qty = 1 WHERE id = 99;
  START TRANSACTION;
  INSERT INTO log (line) VALUES ('more');
  SET r = 'welcome';
END;
-- call: p
-- out: r = 'welcome'
-- data: SELECT line FROM log ORDER BY n : ['kept'] ['more']
