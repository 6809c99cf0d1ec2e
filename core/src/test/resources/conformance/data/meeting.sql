-- behaviour: MERGE that meets a row twice is 21000
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  MERGE INTO tag USING (VALUES ('aa', 5), ('aa', 6)) AS n (c, p) ON tag.code = n.c
    WHEN MATCHED THEN UPDATE SET price = n.p;
END;
-- call: p
-- out: s = '21000'
-- data: SELECT price FROM tag ORDER BY code : [1] [NULL] [3]
-- behaviour: MERGE of each row once
CREATE PROCEDURE p ()
MERGE INTO tag USING (VALUES ('aa', 5), ('zz', 6)) AS n (c, p) ON tag.code = n.c
  WHEN MATCHED THEN UPDATE SET price = n.p
  WHEN NOT MATCHED THEN INSERT (code, price) VALUES (n.c, n.p);
-- call: p
-- data: SELECT code, price FROM tag ORDER BY code : ['aa', 5] ['bb', NULL] ['cc', 3] ['zz', 6]
-- behaviour: an aggregate that drops a NULL is a warning 01003
CREATE PROCEDURE p (OUT v INTEGER, OUT s VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '01003' SET s = 'dropped';
  SELECT SUM(price) INTO v FROM tag;
END;
-- call: p
-- out: v = 4, s = 'dropped'
-- behaviour: an aggregate without a NULL is no warning
CREATE PROCEDURE p (OUT v INTEGER, OUT s VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLWARNING SET s = 'dropped';
  SELECT SUM(price) INTO v FROM tag WHERE price IS NOT NULL;
  SELECT COUNT(*) INTO v FROM tag;
END;
-- call: p
-- out: v = 3, s = NULL
-- behaviour: COUNT of a column and MAX drop NULLs too, and the routine goes on without a handler
CREATE PROCEDURE p (OUT v INTEGER, OUT w INTEGER, OUT s CHAR(5))
BEGIN
  SELECT COUNT(price) INTO v FROM tag;
  GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SELECT MAX(price) INTO w FROM tag;
END;
-- call: p
-- out: v = 2, w = 3, s = '01003'
-- behaviour: WHERE CURRENT OF finds its row after the key has been changed through the cursor
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT code, price FROM tag ORDER BY code FOR UPDATE;
  DECLARE k VARCHAR(5);
  DECLARE v INTEGER;
  OPEN c;
  FETCH c INTO k, v;
  UPDATE tag SET code = 'xx' WHERE CURRENT OF c;
  UPDATE tag SET price = 70 WHERE CURRENT OF c;
  CLOSE c;
END;
-- call: p
-- data: SELECT code, price FROM tag ORDER BY code : ['bb', NULL] ['cc', 3] ['xx', 70]
-- behaviour: WHERE CURRENT OF finds its row after a whole-number key has been changed
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id FOR UPDATE;
  DECLARE k INTEGER;
  OPEN c;
  FETCH c INTO k;
  UPDATE item SET id = id + 100 WHERE CURRENT OF c;
  UPDATE item SET qty = 70 WHERE CURRENT OF c;
  DELETE FROM item WHERE CURRENT OF c;
  CLOSE c;
END;
-- call: p
-- data: SELECT id FROM item ORDER BY id : [2] [3]
-- behaviour: a constant that does not fit raises where it is reached
CREATE PROCEDURE p (IN a INTEGER, OUT s VARCHAR(10), OUT t VARCHAR(3))
BEGIN
  DECLARE n SMALLINT;
  DECLARE EXIT HANDLER FOR SQLSTATE '22003' SET s = '22003';
  DECLARE EXIT HANDLER FOR SQLSTATE '22001' SET s = '22001';
  IF a = 1 THEN
    SET n = 100000;
  ELSEIF a = 2 THEN
    SET t = 'much too long';
  END IF;
  SET s = 'fine';
END;
-- call: p a = 1
-- out: s = '22003', t = NULL
-- call: p a = 2
-- out: s = '22001', t = NULL
-- call: p a = 3
-- out: s = 'fine', t = NULL
-- behaviour: a constant text that is no number raises where it is reached
CREATE PROCEDURE p (IN a INTEGER, OUT s VARCHAR(10))
BEGIN
  DECLARE n INTEGER;
  DECLARE EXIT HANDLER FOR SQLSTATE '22018' SET s = '22018';
  IF a = 1 THEN
    SET n = CAST('x1' AS INTEGER);
  END IF;
  SET s = 'fine';
END;
-- call: p a = 1
-- out: s = '22018'
-- call: p a = 3
-- out: s = 'fine'
-- behaviour: a field of a row in an array is read and set
CREATE PROCEDURE p (OUT v INTEGER, OUT w VARCHAR(5))
BEGIN
  DECLARE a ROW(x INTEGER, y VARCHAR(5)) ARRAY[3] DEFAULT ARRAY[];
  DECLARE r ROW(x INTEGER, y VARCHAR(5));
  SET r.x = 1;
  SET r.y = 'one';
  SET a[1] = r;
  SET a[2] = r;
  SET a[2].x = 5;
  SET a[1].y = 'uno';
  SET v = a[1].x + a[2].x;
  SET w = a[1].y;
END;
-- call: p
-- out: v = 6, w = 'uno'
