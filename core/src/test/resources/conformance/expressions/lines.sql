-- behaviour: a text of several lines keeps them wherever it stands in a body
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER, OUT c INTEGER, OUT d INTEGER)
BEGIN
  DECLARE t VARCHAR(40) DEFAULT 'x
    y  
z';
  SET a = CHAR_LENGTH(t);
  IF a > 0 THEN
    SET t = 'one

  two';
    SET b = CHAR_LENGTH(t);
    INSERT INTO log (line) VALUES ('p
      q');
    SELECT CHAR_LENGTH(line) INTO c FROM log;
    SET d = CHAR_LENGTH(
      'k' || 'l
    m');
  END IF;
END;
-- call: p
-- out: a = 11, b = 10, c = 9, d = 8
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: a text of several lines keeps them under handlers
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE t, u VARCHAR(40);
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET a = -1;
  SET t = CAST('v
  w' AS VARCHAR(10));
  SET a = CHAR_LENGTH(t);
  SELECT UPPER('r
      s') INTO u FROM item WHERE id = (1);
  SET b = CHAR_LENGTH(u);
END;
-- call: p
-- out: a = 5, b = 9
-- behaviour: a statement of several lines is prepared as it was written
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE t VARCHAR(100);
  SET t = 'SELECT CHAR_LENGTH(''g
    h'')
    FROM item WHERE id = 1';
  PREPARE s FROM t;
  EXECUTE s INTO a;
  EXECUTE IMMEDIATE 'INSERT INTO log (line) VALUES (''i
      j'')';
  SELECT CHAR_LENGTH(line) INTO b FROM log;
END;
-- call: p
-- out: a = 7, b = 9
-- data: SELECT COUNT(*) FROM log : [1]
-- behaviour: a message of several lines is raised as it was written
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE m VARCHAR(60);
  DECLARE EXIT HANDLER FOR SQLSTATE '45000'
  BEGIN
    GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
    SET n = CHAR_LENGTH(m);
  END;
  IF n IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'first
      second';
  END IF;
END;
-- call: p
-- out: n = 18
-- behaviour: a function gives a text of several lines as it was written
CREATE FUNCTION f (n INTEGER) RETURNS VARCHAR(40)
BEGIN
  IF n = 1 THEN
    RETURN 'a
   b';
  END IF;
  RETURN CASE n WHEN 2 THEN 'c

    d' ELSE 'e' END;
END;
CREATE FUNCTION g (n INTEGER) RETURNS INTEGER
RETURN CHAR_LENGTH(f(n));
-- call: g n = 1
-- returns: 6
-- call: g n = 2
-- returns: 8
-- call: g n = 3
-- returns: 1
