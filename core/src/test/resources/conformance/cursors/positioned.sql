-- behaviour: UPDATE WHERE CURRENT OF changes the row that the cursor stands on
CREATE PROCEDURE p ()
BEGIN
  DECLARE q INTEGER;
  DECLARE c CURSOR FOR SELECT qty FROM item WHERE id < 3 ORDER BY id;
  OPEN c;
  FETCH c INTO q;
  FETCH c INTO q;
  UPDATE item SET qty = q + 100 WHERE CURRENT OF c;
  CLOSE c;
END;
-- call: p
-- data: SELECT qty FROM item ORDER BY id : [10] [120] [NULL]
-- behaviour: DELETE WHERE CURRENT OF removes it
CREATE PROCEDURE p ()
BEGIN
  DECLARE n VARCHAR(20);
  DECLARE c CURSOR FOR SELECT name FROM item ORDER BY id FOR UPDATE;
  OPEN c;
  FETCH c INTO n;
  DELETE FROM item WHERE CURRENT OF c;
  CLOSE c;
END;
-- call: p
-- data: SELECT id FROM item ORDER BY id : [2] [3]
-- behaviour: the cursor of a FOR loop is positioned too
CREATE PROCEDURE p ()
FOR r AS c CURSOR FOR SELECT id, qty FROM item DO
  IF r.qty IS NULL THEN
    DELETE FROM item WHERE CURRENT OF c;
  ELSE
    UPDATE item SET qty = r.qty + r.id WHERE CURRENT OF c;
  END IF;
END FOR;
-- call: p
-- data: SELECT id, qty FROM item ORDER BY id : [1, 11] [2, 22]
-- behaviour: before the first FETCH there is no row to change
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT qty FROM item;
  OPEN c;
  UPDATE item SET qty = 1 WHERE CURRENT OF c;
END;
-- call: p
-- raises: 24000
-- behaviour: after the last row there is none either
CREATE PROCEDURE p ()
BEGIN
  DECLARE q INTEGER;
  DECLARE c CURSOR FOR SELECT qty FROM item WHERE id = 1;
  OPEN c;
  FETCH c INTO q;
  FETCH c INTO q;
  DELETE FROM item WHERE CURRENT OF c;
END;
-- call: p
-- raises: 24000
-- behaviour: a cursor that is not open has no row
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT qty FROM item;
  DELETE FROM item WHERE CURRENT OF c;
END;
-- call: p
-- raises: 24000
-- behaviour: a row that is gone meanwhile is not found
CREATE PROCEDURE p (OUT r VARCHAR(10))
BEGIN
  DECLARE q INTEGER;
  DECLARE c CURSOR FOR SELECT qty FROM item WHERE id = 1;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'gone';
  OPEN c;
  FETCH c INTO q;
  DELETE FROM item WHERE id = 1;
  UPDATE item SET qty = 5 WHERE CURRENT OF c;
END;
-- call: p
-- out: r = 'gone'
-- data: SELECT * FROM item ORDER BY 1 : [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50]
-- behaviour: a query that groups can't be changed through its cursor
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT qty, COUNT(*) FROM item GROUP BY qty;
  DELETE FROM item WHERE CURRENT OF c;
END;
-- problem: wrong-cursor
-- behaviour: nor one that joins
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT p.id FROM parent p JOIN child k ON k.parent_id = p.id;
  DELETE FROM parent WHERE CURRENT OF c;
END;
-- problem: wrong-cursor
-- behaviour: nor one that is FOR READ ONLY
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item FOR READ ONLY;
  DELETE FROM item WHERE CURRENT OF c;
END;
-- problem: wrong-cursor
-- behaviour: the table must be the cursor's
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item;
  DELETE FROM parent WHERE CURRENT OF c;
END;
-- problem: wrong-cursor
-- behaviour: a positioned change may take other variables too
CREATE PROCEDURE p (IN plus INTEGER)
BEGIN
  DECLARE q INTEGER;
  DECLARE c SCROLL CURSOR FOR SELECT i.qty FROM item i WHERE i.qty > plus ORDER BY i.id;
  OPEN c;
  FETCH LAST FROM c INTO q;
  UPDATE item SET qty = q + plus, name = 'last' WHERE CURRENT OF c;
END;
-- call: p plus=5
-- data: SELECT name, qty FROM item WHERE id = 2 : ['last', 25]
