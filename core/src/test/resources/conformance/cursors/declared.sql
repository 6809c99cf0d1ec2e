-- behaviour: a cursor is opened, fetched to its end, and closed
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE n VARCHAR(20);
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT name FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = '';
  OPEN c;
  FETCH FROM c INTO n;
  WHILE NOT done DO
    SET r = r || n || ' ';
    FETCH c INTO n;
  END WHILE;
  CLOSE c;
END;
-- call: p
-- out: r = 'cork label bottle '
-- behaviour: FETCH past the end leaves its targets alone
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id = 1;
  OPEN c;
  FETCH c INTO n;
  FETCH c INTO n;
  CLOSE c;
END;
-- call: p
-- out: n = 1
-- behaviour: a cursor that is not open is 24000, and one that is open already too
CREATE PROCEDURE p ()
BEGIN
  DECLARE n INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item;
  FETCH c INTO n;
END;
CREATE PROCEDURE q ()
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item;
  OPEN c;
  OPEN c;
END;
CREATE PROCEDURE s ()
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item;
  CLOSE c;
END;
-- call: p
-- raises: 24000
-- call: q
-- raises: 24000
-- call: s
-- raises: 24000
-- behaviour: the variables of a cursor's query have their values of OPEN
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE low INTEGER DEFAULT 1;
  DECLARE n INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id >= low ORDER BY id;
  SET low = 3;
  OPEN c;
  SET low = 1;
  FETCH c INTO n;
  SET r = CAST(n AS VARCHAR(5));
END;
-- call: p
-- out: r = '3'
-- behaviour: a cursor WITH RETURN that is left open gives its rows to the caller
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR WITH RETURN FOR SELECT id FROM item ORDER BY id;
  OPEN c;
END;
-- call: p
-- rows: [1] [2] [3]
-- behaviour: a scroll cursor goes where it is told
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE n INTEGER;
  DECLARE c SCROLL CURSOR FOR SELECT id FROM item ORDER BY id;
  SET r = '';
  OPEN c;
  FETCH LAST FROM c INTO n; SET r = r || n;
  FETCH PRIOR FROM c INTO n; SET r = r || n;
  FETCH FIRST FROM c INTO n; SET r = r || n;
  FETCH ABSOLUTE 3 FROM c INTO n; SET r = r || n;
  FETCH RELATIVE -2 FROM c INTO n; SET r = r || n;
END;
-- call: p
-- out: r = '32131'
