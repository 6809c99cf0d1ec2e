-- behaviour: a function's ATOMIC block is undone where its caller goes on
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER MODIFIES SQL DATA
BEGIN ATOMIC
  INSERT INTO log (line) VALUES ('lost');
  SIGNAL SQLSTATE '45000';
  RETURN a;
END;
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET v = -1;
  INSERT INTO log (line) VALUES ('kept');
  SET v = f(1);
END;
-- call: p
-- out: v = -1
-- data: SELECT line FROM log : ['kept']
-- behaviour: a function's ATOMIC block is undone where its caller is a trigger that goes on
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER MODIFIES SQL DATA
BEGIN ATOMIC
  INSERT INTO log (line) VALUES ('lost');
  SIGNAL SQLSTATE '45000';
  RETURN a;
END;
CREATE TRIGGER g AFTER UPDATE ON tag FOR EACH ROW
BEGIN
  DECLARE v INTEGER;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' INSERT INTO log (line) VALUES ('handled');
  SET v = f(1);
END;
CREATE PROCEDURE p () UPDATE tag SET price = 9 WHERE code = 'aa';
-- call: p
-- data: SELECT line FROM log : ['handled']
-- data: SELECT price FROM tag ORDER BY code : [9] [NULL] [3]
-- behaviour: what a function did is undone with the statement that called it
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES ('lost');
  SIGNAL SQLSTATE '45000';
  RETURN a;
END;
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET v = -1;
  INSERT INTO log (line) VALUES ('kept');
  SET v = f(1);
END;
-- call: p
-- out: v = -1
-- data: SELECT line FROM log ORDER BY n : ['kept']
-- behaviour: what one function did is undone where another in the same statement fails
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES ('lost');
  RETURN a;
END;
CREATE FUNCTION g (a INTEGER) RETURNS INTEGER RETURN 1 / a;
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET v = -1;
  IF f(1) = g(0) THEN
    SET v = 5;
  END IF;
END;
-- call: p
-- out: v = -1
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: what a procedure did stays where its CALL fails and its caller goes on
CREATE PROCEDURE q () MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES ('kept');
  SIGNAL SQLSTATE '45000';
END;
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET v = -1;
  CALL q();
END;
-- call: p
-- out: v = -1
-- data: SELECT line FROM log : ['kept']
-- behaviour: a statement of several rows that fails in a trigger leaves none of them where the trigger goes on
CREATE TRIGGER g AFTER UPDATE ON tag FOR EACH ROW
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION INSERT INTO log (line) VALUES ('handled');
  INSERT INTO must (id, code, made) SELECT id, name, CASE WHEN id < 3 THEN 'x' END FROM item ORDER BY id;
END;
CREATE PROCEDURE p () UPDATE tag SET price = 9 WHERE code = 'aa';
-- call: p
-- data: SELECT line FROM log : ['handled']
-- data: SELECT COUNT(*) FROM must : [0]
-- data: SELECT price FROM tag ORDER BY code : [9] [NULL] [3]
