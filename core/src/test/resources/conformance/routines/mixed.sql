-- behaviour: dynamic statements with parameters of every mode and type, run again
CREATE PROCEDURE p (OUT r VARCHAR(100))
BEGIN
  DECLARE s VARCHAR(200); DECLARE i INTEGER DEFAULT 1; DECLARE n VARCHAR(20); DECLARE q INTEGER;
  SET r = ''; SET s = 'SELECT name, qty FROM item WHERE id = ? AND (qty > ? OR qty IS NULL)';
  PREPARE st FROM s;
  WHILE i < 4 DO
    EXECUTE st INTO n, q USING i, i * 5;
    SET r = r || n || COALESCE(CAST(q AS VARCHAR(5)), '-') || ' ';
    SET i = i + 1;
  END WHILE;
  PREPARE st FROM 'UPDATE item SET price = ? WHERE id = ?';
  EXECUTE st USING NULL, 1;
  EXECUTE st USING 1.5 + 1, i - 2;
  EXECUTE IMMEDIATE 'DELETE FROM child WHERE note = ''b''';
  SET r = r || (SELECT COUNT(*) FROM child) || COALESCE((SELECT price FROM item WHERE id = 1), 0);
END;
-- call: p
-- out: r = 'cork10 label20 bottle- 20.00'
-- data: SELECT id, price FROM item ORDER BY id : [1, NULL] [2, 2.50] [3, 1.50]
-- data: SELECT id FROM child ORDER BY id : [11] [21]
-- behaviour: a recursive function, and procedures that call each other
CREATE FUNCTION fact (n INTEGER) RETURNS BIGINT RETURN CASE WHEN n < 2 THEN 1 ELSE n * fact(n - 1) END;
CREATE PROCEDURE ping (IN n INTEGER, INOUT r VARCHAR(60)) BEGIN SET r = r || 'i' || n; IF n > 0 THEN CALL pong(n - 1, r); END IF; SET r = r || '.'; END;
CREATE PROCEDURE pong (IN n INTEGER, INOUT r VARCHAR(60)) BEGIN SET r = r || 'o' || n; IF n > 0 THEN CALL ping(n - 1, r); END IF; END;
CREATE PROCEDURE p (OUT f BIGINT, OUT r VARCHAR(60)) BEGIN SET r = ''; CALL ping(3, r); SET f = fact(10) + fact(0); END;
-- call: p
-- out: f = 3628801, r = 'i3o2i1o0..'
-- behaviour: functions in every clause of a query
CREATE FUNCTION odd (n INTEGER) RETURNS BOOLEAN RETURN MOD(n, 2) = 1;
CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE k INTEGER DEFAULT 1;
  SET r = '';
  FOR x AS SELECT twice(i.id) AS t, COUNT(*) AS c FROM item i LEFT JOIN child c ON c.parent_id = i.id AND twice(c.id) > k
      WHERE odd(i.id) OR twice(k) = i.id GROUP BY twice(i.id) HAVING twice(COUNT(*)) > 1 ORDER BY twice(i.id) DESC DO
    SET r = r || x.t || ':' || x.c || ' ';
  END FOR;
END;
-- call: p
-- out: r = '6:1 4:1 2:2 '
-- behaviour: savepoints, a rollback to one, and what a handler's statement keeps
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' BEGIN ROLLBACK TO SAVEPOINT a; INSERT INTO log (line) VALUES ('again'); END;
  INSERT INTO log (line) VALUES ('one');
  SAVEPOINT a;
  INSERT INTO log (line) VALUES ('two');
  INSERT INTO tag VALUES ('aa', 5);
  INSERT INTO log (line) VALUES ('three');
  SELECT COUNT(*) INTO n FROM log;
END;
-- call: p
-- out: n = 3
-- data: SELECT line FROM log ORDER BY n : ['one'] ['again'] ['three']
-- behaviour: parameters with defaults, by name and by place
CREATE PROCEDURE q (IN a INTEGER, IN b INTEGER DEFAULT 10, IN c VARCHAR(5) DEFAULT 'z', OUT r VARCHAR(30)) SET r = a || ',' || b || ',' || c;
CREATE FUNCTION f (a INTEGER DEFAULT 3, b INTEGER DEFAULT 4) RETURNS INTEGER RETURN a * 10 + b;
CREATE PROCEDURE p (OUT r VARCHAR(99))
BEGIN
  DECLARE x VARCHAR(30);
  CALL q(1, r => x); SET r = x;
  CALL q(c => 'k', a => 2, r => x); SET r = r || ' ' || x;
  CALL q(4, 5, 'm', x); SET r = r || ' ' || x || ' ' || f() || f(b => 1) || f(7);
END;
-- call: p
-- out: r = '1,10,z 2,10,k 4,5,m 343174'
-- behaviour: a row and an array, whole and in parts
CREATE PROCEDURE p (OUT r VARCHAR(99))
BEGIN
  DECLARE w, z ROW (id INTEGER, name VARCHAR(20)); DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[3, NULL, 1]; DECLARE i INTEGER DEFAULT 1; DECLARE s INTEGER DEFAULT 0;
  SELECT id, name INTO w.id, w.name FROM item WHERE id = 2;
  SET z = w; SET z.id = z.id + 1; SET r = w.id || w.name || z.id || z.name;
  SET a[5] = 9; SET a[1] = a[1] + a[3];
  WHILE i <= CARDINALITY(a) DO SET s = s + COALESCE(a[i], 100); SET i = i + 1; END WHILE;
  SET r = r || ' ' || s || ' ' || CARDINALITY(a);
  FOR e AS SELECT t.v FROM UNNEST(a) AS t (v) WHERE t.v > 1 ORDER BY t.v DO SET r = r || ' ' || e.v; END FOR;
END;
-- call: p
-- out: r = '2label3label 214 5 4 9'
-- behaviour: LEAVE and ITERATE out of nested blocks with handlers and cursors
CREATE PROCEDURE p (OUT r VARCHAR(99))
BEGIN
  DECLARE done BOOLEAN DEFAULT FALSE; DECLARE v INTEGER; DECLARE w VARCHAR(9);
  DECLARE c CURSOR FOR SELECT id FROM item ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET r = ''; OPEN c;
  rows: LOOP
    FETCH c INTO v;
    IF done THEN LEAVE rows; END IF;
    deep: BEGIN
      DECLARE d CURSOR FOR SELECT note FROM child WHERE parent_id = v ORDER BY id;
      OPEN d;
      notes: LOOP
        FETCH d INTO w;
        IF done THEN SET done = FALSE; SET r = r || '/'; LEAVE deep; END IF;
        IF w = 'b' THEN ITERATE notes; END IF;
        IF w = 'c' THEN SET r = r || 'C'; ITERATE rows; END IF;
        SET r = r || w;
      END LOOP;
    END;
  END LOOP;
  CLOSE c;
END;
-- call: p
-- out: r = 'a/C/'
-- behaviour: COMMIT and ROLLBACK in a loop, and what is seen after them
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < 4 DO
    SET i = i + 1;
    INSERT INTO log (line) VALUES ('l' || i);
    IF MOD(i, 2) = 0 THEN ROLLBACK; ELSE COMMIT; END IF;
  END WHILE;
  SELECT COUNT(*) INTO n FROM log;
END;
-- call: p
-- out: n = 2
-- data: SELECT line FROM log ORDER BY n : ['l1'] ['l3']
-- behaviour: INOUT and OUT with expressions, subqueries and the same variable
CREATE PROCEDURE add (IN a INTEGER, INOUT b INTEGER, OUT c INTEGER) BEGIN SET c = a + b; SET b = b * 2; SET a = 0; END;
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  DECLARE x INTEGER DEFAULT 5; DECLARE y INTEGER;
  CALL add(x, x, y); SET r = x || ' ' || y;
  CALL add((SELECT MAX(id) FROM item) + x, y, x); SET r = r || ' ' || x || ' ' || y;
END;
-- call: p
-- out: r = '10 10 23 20'
