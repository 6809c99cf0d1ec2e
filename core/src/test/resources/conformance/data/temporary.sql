-- behaviour: a temporary table belongs to its block
CREATE PROCEDURE p (OUT total INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE lines (n INTEGER, what VARCHAR(10));
  INSERT INTO lines VALUES (1, 'a'), (2, 'b');
  SELECT SUM(n) INTO total FROM lines;
END;
-- call: p
-- out: total = 3
-- call: p
-- out: total = 3
-- behaviour: a temporary table is empty each time its block begins
CREATE PROCEDURE p (OUT counts VARCHAR(20))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET counts = '';
  WHILE i < 3 DO
    BEGIN
      DECLARE LOCAL TEMPORARY TABLE lines (n INTEGER);
      INSERT INTO lines VALUES (i);
      SET counts = counts || (SELECT COUNT(*) FROM lines);
    END;
    SET i = i + 1;
  END WHILE;
END;
-- call: p
-- out: counts = '111'
-- behaviour: in a recursion each activation has a table of its own
CREATE PROCEDURE p (IN depth INTEGER, INOUT trace VARCHAR(40))
BEGIN
  DECLARE LOCAL TEMPORARY TABLE seen (n INTEGER);
  INSERT INTO seen VALUES (depth), (depth);
  IF depth > 0 THEN CALL p(depth - 1, trace); END IF;
  SET trace = trace || (SELECT COUNT(*) || ':' || MAX(n) || ' ' FROM seen);
END;
-- call: p depth=2, trace=''
-- out: trace = '2:0 2:1 2:2 '
-- behaviour: two routines may give a name to tables of different shape
CREATE PROCEDURE inside (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (word VARCHAR(5));
  INSERT INTO t VALUES ('x'), ('y');
  SELECT COUNT(*) INTO n FROM t WHERE t.word > 'w';
END;
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER);
  INSERT INTO t VALUES (7);
  CALL inside(m);
  SELECT num INTO n FROM t WHERE t.num = 7;
END;
-- call: p
-- out: n = 7, m = 2
-- behaviour: COMMIT empties a temporary table
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER);
  INSERT INTO t VALUES (7);
  COMMIT;
  SELECT COUNT(*) INTO n FROM t;
END;
-- call: p
-- out: n = 0
-- behaviour: ON COMMIT PRESERVE ROWS keeps them
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER) ON COMMIT PRESERVE ROWS;
  INSERT INTO t VALUES (7);
  COMMIT;
  SELECT COUNT(*) INTO n FROM t;
END;
-- call: p
-- out: n = 1
-- behaviour: ROLLBACK takes back what was put into a temporary table
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER) ON COMMIT PRESERVE ROWS;
  INSERT INTO t VALUES (7);
  COMMIT;
  INSERT INTO t VALUES (8);
  ROLLBACK;
  SELECT SUM(num) INTO n FROM t;
END;
-- call: p
-- out: n = 7
-- behaviour: the numbers of a temporary table begin anew
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (id INTEGER GENERATED ALWAYS AS IDENTITY, what VARCHAR(5));
  INSERT INTO t (what) VALUES ('a'), ('b');
  SELECT MAX(id) INTO n FROM t;
END;
-- call: p
-- out: n = 2
-- call: p
-- out: n = 2
-- behaviour: a block that is left by a handler leaves its table empty
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET n = 0;
  WHILE i < 2 DO
    SET i = i + 1;
    BEGIN
      DECLARE LOCAL TEMPORARY TABLE t (num INTEGER PRIMARY KEY);
      DECLARE EXIT HANDLER FOR SQLEXCEPTION SET n = n + 1;
      INSERT INTO t VALUES (1);
      INSERT INTO t VALUES (1);
    END;
  END WHILE;
END;
-- call: p
-- out: n = 2
-- behaviour: a cursor runs over a temporary table
CREATE PROCEDURE p (OUT words VARCHAR(20))
BEGIN
  DECLARE w VARCHAR(5);
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER, word VARCHAR(5));
  DECLARE c CURSOR FOR SELECT word FROM t ORDER BY num DESC;
  INSERT INTO t VALUES (1, 'b'), (2, 'a');
  SET words = '';
  OPEN c;
  FETCH c INTO w;
  SET words = words || w;
  FETCH c INTO w;
  SET words = words || w;
  CLOSE c;
END;
-- call: p
-- out: words = 'ab'
-- behaviour: a temporary table can't take the name of a table
CREATE PROCEDURE p ()
BEGIN
  DECLARE LOCAL TEMPORARY TABLE item (n INTEGER);
END;
-- problem: duplicate-name
-- behaviour: a column that a temporary table has not is found by check
CREATE PROCEDURE p ()
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER);
  INSERT INTO t (nmu) VALUES (1);
END;
-- problem: unknown-name
-- behaviour: a column of a temporary table wins over a variable of its name
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE num INTEGER DEFAULT 5;
  DECLARE LOCAL TEMPORARY TABLE t (num INTEGER);
  INSERT INTO t VALUES (1), (2);
  SELECT COUNT(*) INTO n FROM t WHERE num = num;
END;
-- call: p
-- out: n = 2
-- behaviour: MODULE may stand before the name of a temporary table
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE MODULE.t (num INTEGER);
  INSERT INTO MODULE.t VALUES (4);
  SELECT num INTO n FROM MODULE.t;
END;
-- call: p
-- out: n = 4
-- behaviour: dynamic SQL sees a temporary table
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE t9 (num INTEGER);
  EXECUTE IMMEDIATE 'INSERT INTO t9 VALUES (4)';
  SELECT num INTO n FROM t9;
END;
-- call: p
-- out: n = 4
