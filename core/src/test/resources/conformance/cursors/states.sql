-- behaviour: a cursor that is open can't be opened again
CREATE PROCEDURE p ()
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item;
  OPEN c;
  OPEN c;
END;
-- call: p
-- raises: 24000
-- behaviour: FETCH and CLOSE of a cursor that is not open are 24000
CREATE PROCEDURE p (IN what INTEGER)
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item;
  CASE what
    WHEN 1 THEN FETCH c INTO x;
    WHEN 2 THEN CLOSE c;
    ELSE
      OPEN c; CLOSE c; FETCH c INTO x;
  END CASE;
END;
-- call: p what = 1
-- raises: 24000
-- call: p what = 2
-- raises: 24000
-- call: p what = 3
-- raises: 24000
-- behaviour: a closed cursor may be opened again, and then sees what is there now
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT COUNT(*) FROM item;
  OPEN c; FETCH c INTO a; CLOSE c;
  DELETE FROM item WHERE id = 1;
  OPEN c; FETCH c INTO b; CLOSE c;
END;
-- call: p
-- out: a = 3, b = 2
-- data: SELECT * FROM item ORDER BY 1 : [2, 'label', 20, 0.10] [3, 'bottle', NULL, 1.50]
-- behaviour: the values of variables in a cursor's query are those at its OPEN
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE low INTEGER DEFAULT 2;
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id >= low ORDER BY id;
  SET low = 3;
  OPEN c;
  SET low = 1;
  FETCH c INTO x;
  SET r = CAST(x AS VARCHAR(5));
  CLOSE c;
END;
-- call: p
-- out: r = '3'
-- behaviour: FETCH past the end leaves its targets alone, again and again
CREATE PROCEDURE p (OUT x INTEGER, OUT n INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id = 2;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET n = n + 1;
  SET n = 0;
  OPEN c;
  FETCH c INTO x;
  FETCH c INTO x;
  FETCH c INTO x;
  CLOSE c;
END;
-- call: p
-- out: x = 2, n = 2
-- behaviour: a scrolling cursor goes everywhere
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE x INTEGER;
  DECLARE c SCROLL CURSOR FOR SELECT id FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET x = 0;
  SET r = '';
  OPEN c;
  FETCH LAST FROM c INTO x; SET r = r || x;
  FETCH PRIOR FROM c INTO x; SET r = r || x;
  FETCH FIRST FROM c INTO x; SET r = r || x;
  FETCH PRIOR FROM c INTO x; SET r = r || x;
  FETCH NEXT FROM c INTO x; SET r = r || x;
  FETCH ABSOLUTE 3 FROM c INTO x; SET r = r || x;
  FETCH RELATIVE -2 FROM c INTO x; SET r = r || x;
  FETCH ABSOLUTE -1 FROM c INTO x; SET r = r || x;
  FETCH NEXT FROM c INTO x; SET r = r || x;
  FETCH PRIOR FROM c INTO x; SET r = r || x;
  FETCH ABSOLUTE 9 FROM c INTO x; SET r = r || x;
  CLOSE c;
END;
-- call: p
-- out: r = '32101313030'
-- behaviour: a cursor without SCROLL goes forward alone
CREATE PROCEDURE p (OUT x INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT id FROM item;
  OPEN c;
  FETCH PRIOR FROM c INTO x;
END;
-- problem: wrong-cursor
-- behaviour: a cursor is closed when its block is left, and opens anew in the next round
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 3 DO
    SET i = i + 1;
    BEGIN
      DECLARE x INTEGER;
      DECLARE c CURSOR FOR SELECT id FROM item WHERE id = i;
      OPEN c;
      FETCH c INTO x;
      SET r = r || x;
    END;
  END WHILE;
END;
-- call: p
-- out: r = '123'
-- behaviour: each level of a recursion has a cursor of its own
CREATE PROCEDURE down (IN n INTEGER, INOUT r VARCHAR(40))
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item WHERE id <= n ORDER BY id DESC;
  OPEN c;
  FETCH c INTO x;
  IF n > 1 THEN CALL down(n - 1, r); END IF;
  SET r = r || x;
  CLOSE c;
END;
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN SET r = ''; CALL down(3, r); END;
-- call: p
-- out: r = '123'
-- behaviour: a FETCH with too few or too many targets is an error
CREATE PROCEDURE p (OUT x INTEGER, OUT y INTEGER)
BEGIN
  DECLARE c CURSOR FOR SELECT id, qty FROM item;
  OPEN c; FETCH c INTO x; CLOSE c;
END;
-- problem: wrong-arguments
-- behaviour: a value that does not fit its target is the FETCH's exception
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE x VARCHAR(3);
  DECLARE c CURSOR FOR SELECT name FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' SET r = r || 'long ';
  SET r = '';
  OPEN c;
  FETCH c INTO x;
  SET r = r || COALESCE(x, 'none');
  CLOSE c;
END;
-- call: p
-- out: r = 'long none'
-- behaviour: FOR closes its cursor, also when it is left early
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET r = '';
  WHILE i < 2 DO
    SET i = i + 1;
    rows_of: FOR x AS c CURSOR FOR SELECT id FROM item ORDER BY id DO
      IF x.id = 2 THEN LEAVE rows_of; END IF;
      SET r = r || x.id;
    END FOR;
  END WHILE;
END;
-- call: p
-- out: r = '11'
-- behaviour: ITERATE in a FOR goes on with the next row
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  SET r = '';
  turns: FOR x AS SELECT id FROM item ORDER BY id DO
    IF x.id = 2 THEN ITERATE turns; END IF;
    SET r = r || x.id;
  END FOR;
END;
-- call: p
-- out: r = '13'
-- behaviour: a FOR over no row does not enter its body and is no NOT FOUND
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 'not found';
  SET r = 'quiet';
  FOR x AS SELECT id FROM item WHERE id > 90 DO SET r = 'body'; END FOR;
END;
-- call: p
-- out: r = 'quiet'
-- behaviour: NOT FOUND from a statement in a FOR's body does not end the loop
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE v INTEGER;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = 0;
  SET n = 0;
  FOR x AS SELECT id FROM item ORDER BY id DO
    SELECT qty INTO v FROM item WHERE id = x.id + 50;
    SET n = n + 1;
  END FOR;
END;
-- call: p
-- out: n = 3
-- behaviour: nested FOR loops, the inner one by the outer one's row
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  SET r = '';
  FOR a AS SELECT id FROM parent ORDER BY id DO
    FOR b AS SELECT note FROM child WHERE parent_id = a.id ORDER BY id DO
      SET r = r || a.id || b.note || ' ';
    END FOR;
  END FOR;
END;
-- call: p
-- out: r = '1a 1b 2c '
-- behaviour: the columns of a FOR's row may be said without its name
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  SET r = '';
  FOR x AS SELECT id, UPPER(name) AS loud FROM item WHERE id < 3 ORDER BY id DO
    SET r = r || id || loud || ' ';
  END FOR;
END;
-- call: p
-- out: r = '1CORK 2LABEL '
-- behaviour: rows that the loop's body adds are not seen by the loop
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  FOR x AS SELECT id, name FROM item DO
    INSERT INTO item (id, name) VALUES (x.id + 100, x.name);
    SET n = n + 1;
  END FOR;
END;
-- call: p
-- out: n = 3
-- data: SELECT COUNT(*) FROM item : [6]
-- behaviour: DELETE at the cursor's row, and again, is 24000
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM child ORDER BY id FOR UPDATE;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  OPEN c;
  FETCH c INTO x;
  DELETE FROM child WHERE CURRENT OF c;
  DELETE FROM child WHERE CURRENT OF c;
END;
-- call: p
-- out: s = '24000'
-- data: SELECT COUNT(*) FROM child : [2]
-- behaviour: two cursors over one table
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE x, y INTEGER;
  DECLARE a CURSOR FOR SELECT id FROM item ORDER BY id;
  DECLARE b CURSOR FOR SELECT id FROM item ORDER BY id DESC;
  OPEN a; OPEN b;
  FETCH a INTO x; FETCH b INTO y; SET r = x || '' || y;
  FETCH a INTO x; FETCH b INTO y; SET r = r || x || y;
  CLOSE a; CLOSE b;
END;
-- call: p
-- out: r = '1322'
-- behaviour: an EXIT handler for NOT FOUND around a LOOP ends it
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item;
  SET n = 0;
  OPEN c;
  BEGIN
    DECLARE EXIT HANDLER FOR NOT FOUND BEGIN END;
    LOOP
      FETCH c INTO x;
      SET n = n + x;
    END LOOP;
  END;
  CLOSE c;
END;
-- call: p
-- out: n = 6
-- behaviour: after ROLLBACK a cursor is closed, after COMMIT one without HOLD is
CREATE PROCEDURE p (OUT s CHAR(5))
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  OPEN c;
  FETCH c INTO x;
  COMMIT;
  FETCH c INTO x;
  SET s = 'open';
END;
-- call: p
-- out: s = '24000'
-- behaviour: a cursor WITH HOLD goes on after COMMIT
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR WITH HOLD FOR SELECT id FROM item ORDER BY id;
  OPEN c;
  FETCH c INTO x; SET r = CAST(x AS VARCHAR(5));
  COMMIT;
  FETCH c INTO x; SET r = r || x;
  CLOSE c;
END;
-- call: p
-- out: r = '12'
-- behaviour: rows handed out by a called procedure are not its caller's result, when it takes none
CREATE PROCEDURE q () DYNAMIC RESULT SETS 1
BEGIN
  DECLARE c CURSOR WITH RETURN FOR SELECT id FROM item ORDER BY id;
  OPEN c;
END;
-- call: q
-- rows: [1] [2] [3]
-- behaviour: rows of a cursor WITH RETURN are those not fetched yet
CREATE PROCEDURE q () DYNAMIC RESULT SETS 1
BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR WITH RETURN FOR SELECT id FROM item ORDER BY id;
  OPEN c;
  FETCH c INTO x;
END;
-- call: q
-- rows: [2] [3]
-- behaviour: the cursor of a FOR may be declared in all its words
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  FOR x AS c INSENSITIVE CURSOR WITH HOLD FOR SELECT id FROM item DO
    SET n = n + x.id;
    COMMIT;
  END FOR;
END;
-- call: p
-- out: n = 6
