-- behaviour: a CHAR value keeps its blanks when it goes into a VARCHAR
CREATE PROCEDURE p (OUT v VARCHAR(20), OUT n INTEGER)
BEGIN
  DECLARE c CHAR(5);
  DECLARE w VARCHAR(20);
  SET c = 'ab';
  SET w = c;
  SET v = w || '|';
  SET n = CHAR_LENGTH(w);
END;
-- call: p
-- out: v = 'ab   |', n = 5
-- behaviour: a CHAR that is concatenated keeps its blanks
CREATE PROCEDURE p (OUT v VARCHAR(20), OUT n INTEGER)
BEGIN
  DECLARE c CHAR(4) DEFAULT 'x';
  SET v = '<' || c || '>';
  SET n = CHAR_LENGTH(c);
END;
-- call: p
-- out: v = '<x   >', n = 4
-- behaviour: TRIM of two characters is 22027
CREATE PROCEDURE p (IN w VARCHAR(5), OUT v VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22027' SET v = 'handled';
  SET v = TRIM(LEADING w FROM 'ababc');
END;
-- call: p w = 'ab'
-- out: v = 'handled'
-- call: p w = 'a'
-- out: v = 'babc'
-- call: p w = ''
-- out: v = 'handled'
-- call: p w = null
-- out: v = NULL
-- behaviour: TRIM of two characters without a handler is 22027
CREATE PROCEDURE p (OUT v VARCHAR(20))
BEGIN
  SET v = TRIM(TRAILING 'xy' FROM 'abxy');
END;
-- call: p
-- raises: 22027
-- behaviour: a row assignment of two rows leaves its targets alone
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(20), OUT s CHAR(5))
BEGIN
  DECLARE x INTEGER DEFAULT 7;
  DECLARE y VARCHAR(20) DEFAULT 'before';
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET (x, y) = (SELECT id, name FROM item WHERE id < 3);
  SET a = x;
  SET b = y;
END;
-- call: p
-- out: a = 7, b = 'before', s = '21000'
-- behaviour: a SET from a query of two rows leaves its target alone
CREATE PROCEDURE p (OUT a INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE x INTEGER DEFAULT 7;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '21000' SET s = '21000';
  SET x = (SELECT id FROM item WHERE id < 3);
  SET a = x;
END;
-- call: p
-- out: a = 7, s = '21000'
-- behaviour: rows of a temporary table that were committed away do not come back after ROLLBACK
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE work (n INTEGER) ON COMMIT DELETE ROWS;
  INSERT INTO work VALUES (1), (2);
  COMMIT;
  SELECT COUNT(*) INTO a FROM work;
  INSERT INTO work VALUES (3);
  ROLLBACK;
  SELECT COUNT(*) INTO b FROM work;
END;
-- call: p
-- out: a = 0, b = 0
-- behaviour: a product that is cast to a text keeps its decimals
CREATE PROCEDURE p (IN m DECIMAL(8, 2), OUT v VARCHAR(20), OUT w VARCHAR(20))
BEGIN
  SET v = CAST(m * 100 AS CHAR(20));
  SET w = TRIM(CAST(m * 1.50 AS CHAR(20)));
END;
-- call: p m = 12.34
-- out: v = '1234.00             ', w = '18.5100'
-- behaviour: an ESCAPE of more than one character is 22019
CREATE PROCEDURE p (IN e VARCHAR(5), OUT v VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '22019' SET v = 'handled';
  IF 'a%b' LIKE 'a!%b' ESCAPE e THEN
    SET v = 'like';
  ELSE
    SET v = 'not';
  END IF;
END;
-- call: p e = '!'
-- out: v = 'like'
-- call: p e = '!!'
-- out: v = 'handled'
-- call: p e = ''
-- out: v = 'handled'
-- behaviour: the variable of an INOUT and of an OUT parameter may be the same
CREATE PROCEDURE turn (INOUT a INTEGER, OUT b INTEGER)
BEGIN
  SET a = a + 1;
  SET b = a * 10;
END;
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE y INTEGER DEFAULT 1;
  CALL turn(y, y);
  SET v = y;
END;
-- call: p
-- out: v = 20
-- behaviour: an array concatenated with NULL is NULL
CREATE PROCEDURE p (OUT v VARCHAR(10), OUT n INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[1, 2];
  DECLARE b INTEGER ARRAY[5];
  SET a = a || b;
  IF a IS NULL THEN
    SET v = 'null';
  END IF;
  SET n = CARDINALITY(a);
END;
-- call: p
-- out: v = 'null', n = NULL
-- behaviour: an argument may be a query
CREATE PROCEDURE show (IN a INTEGER, OUT b INTEGER) SET b = a + 1;
CREATE PROCEDURE p (OUT v INTEGER)
CALL show((SELECT MAX(id) FROM item), v);
-- call: p
-- out: v = 4
-- behaviour: an argument may have a query somewhere in it
CREATE PROCEDURE show (IN a INTEGER, OUT b INTEGER) SET b = a + 1;
CREATE PROCEDURE p (IN w INTEGER, OUT v INTEGER)
BEGIN
  CALL show(CASE WHEN EXISTS (SELECT 1 FROM item WHERE id = w) THEN 10 ELSE 20 END, v);
END;
-- call: p w = 1
-- out: v = 11
-- call: p w = 9
-- out: v = 21
-- behaviour: a cursor that an EXIT handler left behind is closed
CREATE PROCEDURE p (OUT v VARCHAR(20))
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  WHILE n < 2 DO
    BEGIN
      DECLARE x INTEGER;
      DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id;
      DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET v = 'left';
      SET n = n + 1;
      OPEN c;
      FETCH c INTO x;
      SIGNAL SQLSTATE '45000';
      CLOSE c;
    END;
  END WHILE;
  SET v = v || CAST(n AS VARCHAR(3));
END;
-- call: p
-- out: v = 'left2'
-- behaviour: a cursor of an outer block opened in a block that an EXIT handler left is open still
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET v = 0;
    OPEN c;
    SIGNAL SQLSTATE '45000';
  END;
  FETCH c INTO v;
  CLOSE c;
END;
-- call: p
-- out: v = 1
-- behaviour: rows are set from one another and compared
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(10))
BEGIN
  DECLARE r ROW(x INTEGER, y VARCHAR(10));
  DECLARE s ROW(x INTEGER, y VARCHAR(10));
  SET r.x = 1;
  SET r.y = 'one';
  SET s = r;
  SET r.x = 2;
  SET a = s.x;
  IF s = r THEN
    SET b = 'same';
  ELSE
    SET b = s.y;
  END IF;
END;
-- call: p
-- out: a = 1, b = 'one'
-- behaviour: an array without elements
CREATE PROCEDURE p (OUT n INTEGER, OUT v INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[];
  SET n = CARDINALITY(a);
  SET a = a || ARRAY[4];
  SET v = a[1];
  SET a = ARRAY[];
  SET n = n + CARDINALITY(a);
END;
-- call: p
-- out: n = 0, v = 4
-- behaviour: DELETE WHERE CURRENT OF in a FOR over a cursor FOR UPDATE
CREATE PROCEDURE p ()
BEGIN
  FOR r AS c CURSOR FOR SELECT code, price FROM tag ORDER BY code FOR UPDATE DO
    IF r.price IS NULL THEN
      DELETE FROM tag WHERE CURRENT OF c;
    END IF;
  END FOR;
END;
-- call: p
-- data: SELECT code FROM tag ORDER BY code : ['aa'] ['cc']
-- behaviour: a delimited variable takes a value from a query
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE "high mark" INTEGER;
  SELECT MAX(id) INTO "high mark" FROM item;
  SET v = "high mark" + 1;
END;
-- call: p
-- out: v = 4
-- behaviour: a delimited variable takes a value from a query by key
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE "high mark", "Low" INTEGER;
  SELECT qty, id INTO "high mark", "Low" FROM item WHERE id = 2;
  SET v = "high mark" + "Low";
END;
-- call: p
-- out: v = 22
-- behaviour: a function with a CONTINUE handler and two RETURNs
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET n = n + 1;
  IF a = 0 THEN
    RETURN 100 / a;
  END IF;
  RETURN n + a;
END;
CREATE PROCEDURE p (IN a INTEGER, OUT v INTEGER) SET v = f(a);
-- call: p a = 0
-- out: v = 1
-- call: p a = 5
-- out: v = 5
-- behaviour: rows of one INSERT may refer to each other
CREATE PROCEDURE p () INSERT INTO node VALUES (1, 2), (2, 1);
-- call: p
-- data: SELECT id FROM node ORDER BY id : [1] [2]
-- behaviour: a row may refer to itself
CREATE PROCEDURE p () INSERT INTO node VALUES (5, 5);
-- call: p
-- data: SELECT id, up FROM node : [5, 5]
-- behaviour: a row that refers to one that is not there is 23503 at the end of its statement
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23503' SET s = '23503';
  INSERT INTO node VALUES (1, NULL), (2, 1), (3, 9);
END;
-- call: p
-- out: s = '23503'
-- data: SELECT COUNT(*) FROM node : [0]
-- behaviour: rows that refer to each other may be deleted together, and not one of them alone
CREATE PROCEDURE p (IN k INTEGER, OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23503' SET s = '23503';
  DELETE FROM node WHERE id >= k;
  INSERT INTO node VALUES (1, NULL), (2, 1), (3, 2);
END;
-- call: p k = 1
-- out: s = NULL
-- call: p k = 1
-- out: s = NULL
-- data: SELECT id FROM node ORDER BY id : [1] [2] [3]
-- behaviour: a row that another refers to is not deleted alone
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23503' SET s = '23503';
  INSERT INTO node VALUES (1, NULL), (2, 1);
  DELETE FROM node WHERE id = 1;
END;
-- call: p
-- out: s = '23503'
-- data: SELECT id FROM node ORDER BY id : [1] [2]
-- behaviour: dynamic SQL calls a procedure
CREATE PROCEDURE note (IN a VARCHAR(20)) INSERT INTO log (line) VALUES (a);
CREATE PROCEDURE p ()
BEGIN
  EXECUTE IMMEDIATE 'CALL note(''now'')';
  PREPARE s FROM 'CALL note(?)';
  EXECUTE s USING 'later';
END;
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['now'] ['later']
-- behaviour: dynamic SQL takes the OUT values of a procedure
CREATE PROCEDURE twice (IN a INTEGER, OUT b INTEGER, INOUT c INTEGER)
BEGIN
  SET b = a * 2;
  SET c = c + a;
END;
CREATE PROCEDURE p (OUT v INTEGER, OUT w INTEGER)
BEGIN
  SET w = 100;
  PREPARE s FROM 'CALL twice(?, ?, ?)';
  EXECUTE s INTO v, w USING 5, w;
END;
-- call: p
-- out: v = 10, w = 105
-- behaviour: the CHAR column of a query keeps its blanks in a VARCHAR
CREATE PROCEDURE p (IN k INTEGER, OUT v VARCHAR(20), OUT w VARCHAR(20), OUT x VARCHAR(40))
BEGIN
  DECLARE c CURSOR FOR SELECT c FROM pad WHERE id = k;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET x = 'none';
  SET v = 'old';
  SET w = 'old';
  SELECT c INTO v FROM pad WHERE id = k;
  SET v = v || '|';
  OPEN c;
  FETCH c INTO w;
  CLOSE c;
  SET w = w || '|';
  FOR r AS SELECT c FROM pad WHERE id = k DO
    SET x = r.c;
    SET x = x || '|';
  END FOR;
END;
-- call: p k = 1
-- out: v = 'ab   |', w = 'ab   |', x = 'ab   |'
-- call: p k = 2
-- out: v = NULL, w = NULL, x = NULL
-- call: p k = 3
-- out: v = 'old|', w = 'old|', x = 'none'
-- behaviour: a CHAR goes to a VARCHAR parameter and comes back with its blanks
CREATE PROCEDURE echo (IN a VARCHAR(9), OUT b VARCHAR(9)) SET b = a;
CREATE FUNCTION same (a VARCHAR(9)) RETURNS VARCHAR(9) RETURN a;
CREATE FUNCTION four () RETURNS CHAR(4) RETURN 'x';
CREATE PROCEDURE p (OUT v VARCHAR(20), OUT w VARCHAR(20), OUT x VARCHAR(20))
BEGIN
  DECLARE c CHAR(3) DEFAULT 'a';
  CALL echo(c, v);
  SET v = v || '|';
  SET w = same(c) || '|';
  SET x = four();
  SET x = x || '|';
END;
-- call: p
-- out: v = 'a  |', w = 'a  |', x = 'x   |'
-- behaviour: a CASE and COALESCE over CHAR and VARCHAR give the VARCHAR its blanks
CREATE PROCEDURE p (OUT v VARCHAR(20), OUT w VARCHAR(20))
BEGIN
  DECLARE c CHAR(3) DEFAULT 'a';
  DECLARE t VARCHAR(9);
  SET v = COALESCE(t, c);
  SET v = v || '|';
  SET w = CASE WHEN t IS NULL THEN c ELSE t END;
  SET w = w || '|';
END;
-- call: p
-- out: v = 'a  |', w = 'a  |'
