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
-- behaviour: a function that ATOMIC does not hold together keeps what it did where its caller goes on
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER MODIFIES SQL DATA
BEGIN
  INSERT INTO log (line) VALUES ('kept too');
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
-- data: SELECT line FROM log ORDER BY n : ['kept'] ['kept too']
