-- behaviour: an alias that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE r INTEGER;
  SELECT keys.a INTO r FROM (SELECT 7 AS a FROM item WHERE id = 1) AS keys;
  RETURN r;
END;
-- call: f
-- returns: 7
-- behaviour: a column alias that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE r INTEGER;
  SELECT x.lines + x.verbose INTO r FROM (SELECT 7 AS lines, 3 verbose FROM item WHERE id = 1) AS x;
  RETURN r;
END;
-- call: f
-- returns: 10
-- behaviour: a loop's column that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE r INTEGER DEFAULT 0;
  FOR x AS SELECT 4 AS keys, 5 AS freeze FROM item WHERE id = 1 DO SET r = r + x.keys + freeze; END FOR;
  RETURN r;
END;
-- call: f
-- returns: 9
-- behaviour: a common table expression that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE r INTEGER DEFAULT 0;
  WITH linear (force, verbose) AS (SELECT 4, 6 FROM item WHERE id = 1) SELECT linear.force + verbose INTO r FROM linear;
  RETURN r;
END;
-- call: f
-- returns: 10
-- behaviour: a variable, a cursor and a label that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE linear INTEGER DEFAULT 0; DECLARE verbose INTEGER DEFAULT 2;
  DECLARE purge CURSOR FOR SELECT 5 AS analyse FROM item WHERE id = 1;
  kill: LOOP OPEN purge; FETCH purge INTO linear; CLOSE purge; LEAVE kill; END LOOP;
  RETURN linear + verbose;
END;
-- call: f
-- returns: 7
-- behaviour: an order by a column alias that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE r INTEGER DEFAULT 0;
  FOR x AS SELECT id AS usage, id * 2 freeze FROM item ORDER BY usage, freeze DO SET r = x.usage * 10 + x.freeze; END FOR;
  RETURN r;
END;
-- call: f
-- returns: 36
-- behaviour: a derived table and its columns that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE r INTEGER;
  SELECT SUM(rank.keys) INTO r FROM (SELECT id FROM item) rank (keys);
  RETURN r;
END;
-- call: f
-- returns: 6
-- behaviour: a condition that a server reserves
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE purge CONDITION FOR SQLSTATE '45001';
  DECLARE usage INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR purge SET usage = usage + 1;
  SIGNAL purge;
  SIGNAL PURGE;
  RETURN Usage;
END;
-- call: f
-- returns: 2
-- behaviour: a temporary table and its columns that a server reserves
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  DECLARE LOCAL TEMPORARY TABLE lines (keys INTEGER, freeze INTEGER);
  INSERT INTO lines (keys, freeze) VALUES (1, 2), (3, 4);
  UPDATE lines SET freeze = Keys + 10 WHERE KEYS = 3;
  DELETE FROM Lines AS ssl WHERE ssl.keys = 1;
  SELECT COUNT(*), MAX(freeze) INTO n, m FROM LINES;
END;
-- call: p
-- out: n = 1, m = 13
-- behaviour: a join over columns that a server reserves
CREATE PROCEDURE p (OUT n INTEGER)
  SELECT SUM(a.x + b.y) INTO n FROM (SELECT id AS keys, 1 AS x FROM item) a JOIN (SELECT id AS keys, 2 AS y FROM item) b USING (keys);
-- call: p
-- out: n = 9
-- behaviour: a recursive common table expression that servers reserve
CREATE PROCEDURE p (OUT n INTEGER)
  WITH RECURSIVE purge (usage, verbose) AS (SELECT 1, 1 UNION ALL SELECT usage + 1, verbose * 2 FROM purge WHERE usage < 5)
  SELECT SUM(purge.verbose) INTO n FROM Purge;
-- call: p
-- out: n = 31
-- behaviour: parameters that servers reserve
CREATE FUNCTION f(freeze INTEGER, long INTEGER, "Int8" INTEGER) RETURNS INTEGER RETURN freeze * 100 + long * 10 + "Int8";
CREATE FUNCTION g(verbose INTEGER) RETURNS INTEGER RETURN f(long => verbose, freeze => 1, "Int8" => 3);
-- call: g verbose = 2
-- returns: 123
-- behaviour: routines that servers reserve
CREATE FUNCTION analyse(a INTEGER) RETURNS INTEGER RETURN a + 1;
CREATE PROCEDURE purge(OUT a INTEGER) SET a = analyse(4);
CREATE FUNCTION g() RETURNS INTEGER BEGIN DECLARE n INTEGER; CALL purge(n); RETURN n + (SELECT analyse(id) FROM item WHERE id = 2); END;
-- call: g
-- returns: 8
-- behaviour: a window by name
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE w INTEGER DEFAULT 3;
  SELECT SUM(x.s) INTO n FROM (SELECT SUM(id) OVER w AS s FROM item WINDOW w AS (ORDER BY id)) x;
END;
-- call: p
-- out: n = 10
-- behaviour: the row of a loop that a server reserves
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  SET n = 0;
  FOR rank AS SELECT id AS lines FROM item DO FOR usage AS SELECT qty AS verbose FROM item i WHERE i.id = rank.lines AND qty IS NOT NULL DO SET n = n + usage.verbose; END FOR; END FOR;
END;
-- call: p
-- out: n = 30
-- behaviour: values that a server reserves for itself
CREATE PROCEDURE p (OUT n INTEGER)
  SELECT COUNT(*) INTO n FROM item AS ssl WHERE ssl.id IN (SELECT general.id FROM item general WHERE general.id = ssl.id AND EXISTS (SELECT 1 FROM parent AS usage WHERE usage.id = general.id));
-- call: p
-- out: n = 2
-- behaviour: a trigger's rows and variables that servers reserve
CREATE TRIGGER kill BEFORE INSERT ON log REFERENCING NEW ROW AS long FOR EACH ROW
BEGIN
  DECLARE verbose VARCHAR(100) DEFAULT long.line;
  SET long.line = verbose || '!';
END;
CREATE PROCEDURE p () INSERT INTO log (line) VALUES ('a');
-- call: p
-- data: SELECT line FROM log : ['a!']
-- behaviour: a row type whose fields servers reserve
CREATE FUNCTION f() RETURNS INTEGER
BEGIN
  DECLARE mod ROW (lines INTEGER, freeze INTEGER);
  SET mod.lines = 4; SET mod.freeze = 5;
  RETURN mod.lines * 10 + mod.freeze;
END;
-- call: f
-- returns: 45
-- behaviour: words that the embedded database reserves
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE sysdate INTEGER DEFAULT 1; DECLARE today INTEGER DEFAULT 2; DECLARE rownum INTEGER DEFAULT 3;
  SET n = 0;
  FOR limit AS SELECT id AS value, 10 AS day, 20 AS key, 30 AS year, 40 AS minus, 50 AS qualify, 60 AS regexp FROM item AS hour WHERE hour.id = 2 DO
    SET n = n + limit.value + limit.day + limit.key + year + minus + qualify + regexp;
  END FOR;
  SELECT n + second.month INTO n FROM (SELECT sysdate + today + rownum AS month FROM item WHERE id = rownum) AS second;
END;
-- call: p
-- out: n = 218
-- behaviour: a change of rows with an alias
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DELETE FROM child /* FROM x */ AS "c d" WHERE "c d".id = 11;
  DELETE FROM child where id = 12;
  DELETE FROM child
  c -- rest
  WHERE EXISTS (SELECT 1 FROM parent p WHERE p.id = c.parent_id AND p.id = 2);
  SELECT COUNT(*) INTO n FROM child;
END;
-- call: p
-- out: n = 0
-- data: SELECT COUNT(*) FROM child : [0]
-- behaviour: windows and names beside them
CREATE PROCEDURE p (OUT r VARCHAR(100))
BEGIN
  DECLARE w INTEGER DEFAULT 100; DECLARE id INTEGER DEFAULT 9; DECLARE s INTEGER DEFAULT 5;
  SET r = '';
  FOR x AS SELECT i.id, SUM(i.id + w) OVER (w ORDER BY i.id) AS a, COUNT(*) OVER w AS b, RANK() OVER (ORDER BY i.id DESC) AS c
      FROM item i WINDOW w AS (PARTITION BY w * 0), s AS (w ORDER BY i.id) ORDER BY i.id DO
    SET r = r || x.a || ',' || x.b || ',' || x.c || ' ';
  END FOR;
END;
-- call: p
-- out: r = '101,3,3 203,3,2 306,3,1 '
-- behaviour: fields of moments and their names
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE day DATE DEFAULT DATE '2026-03-09'; DECLARE key INTEGER DEFAULT 1; DECLARE value INTEGER DEFAULT 2;
  SELECT EXTRACT(YEAR FROM day) + EXTRACT(MONTH FROM x.day) + x.value * key + value INTO n
    FROM (SELECT day + INTERVAL '1' DAY AS day, 5 AS value FROM item WHERE id = 1) x;
END;
-- call: p
-- out: n = 2039
-- behaviour: a variable called like a word of SQL, wherever a value may stand
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER, OUT r VARCHAR(50))
BEGIN
  DECLARE key INTEGER DEFAULT 2; DECLARE first INTEGER DEFAULT 1; DECLARE last INTEGER DEFAULT 3;
  DECLARE next INTEGER DEFAULT 10; DECLARE no INTEGER DEFAULT 5; DECLARE of INTEGER DEFAULT 7;
  SELECT COUNT(*) INTO n FROM item WHERE key = id OR last = id AND NOT first = id;
  SELECT SUM(CASE WHEN id = key THEN next ELSE no END * key) INTO m FROM item WHERE id BETWEEN first AND last;
  SET r = '';
  FOR x AS SELECT DISTINCT key AS a, first + id AS b, CASE key WHEN 2 THEN last END AS c, id * first * last AS d FROM item
      WHERE id IN (first, key) AND of = of ORDER BY d DESC
  DO SET r = r || x.a || x.b || x.c || x.d || ' '; END FOR;
END;
-- call: p
-- out: n = 2, m = 40, r = '2336 2233 '
-- behaviour: columns called like words of SQL
CREATE PROCEDURE p (OUT n INTEGER, OUT r VARCHAR(50))
BEGIN
  DECLARE last INTEGER DEFAULT 100;
  DECLARE LOCAL TEMPORARY TABLE t (key INTEGER, first INTEGER, no INTEGER, value VARCHAR(5), rows INTEGER);
  INSERT INTO t (key, first, no, value, rows) VALUES (1, 2, 3, 'a', last), (4, 5, 6, 'b', last * 2);
  UPDATE t SET no = no + key, rows = first WHERE key = 4;
  SELECT SUM(key + first * no + rows) INTO n FROM t;
  SET r = '';
  FOR x AS SELECT key, value FROM t WHERE first > 0 AND NOT no IS NULL GROUP BY key, value ORDER BY key DESC DO
    SET r = r || x.key || x.value;
  END FOR;
  DELETE FROM t WHERE no NOT IN (3) OR key BETWEEN 4 AND 4;
  SELECT n + COUNT(*) INTO n FROM t;
END;
-- call: p
-- out: n = 167, r = '4b1a'
-- behaviour: the frames of windows, and names like their words
CREATE PROCEDURE p (OUT r VARCHAR(99))
BEGIN
  DECLARE rows INTEGER DEFAULT 3; DECLARE range INTEGER DEFAULT 7; DECLARE unbounded INTEGER DEFAULT 1; DECLARE first INTEGER DEFAULT 2;
  SET r = '';
  FOR x AS SELECT id, SUM(id + range) OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS a,
      COUNT(*) OVER (ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING) AS b, MAX(id * rows) OVER (ORDER BY id ROWS 1 PRECEDING) AS c,
      SUM(first) OVER (PARTITION BY unbounded ORDER BY id DESC RANGE BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS d
      FROM item WHERE rows BETWEEN 1 AND 5 AND range BETWEEN first AND 9 ORDER BY item.id DO
    SET r = r || x.a || ',' || x.b || ',' || x.c || ',' || x.d || ' ';
  END FOR;
END;
-- call: p
-- out: r = '8,3,3,6 17,3,6,4 27,3,9,2 '
-- behaviour: values of the database's own in a query
CREATE PROCEDURE p (OUT n INTEGER)
  SELECT COUNT(*) INTO n FROM item WHERE CURRENT_DATE > DATE '2000-01-01' AND CURRENT_TIMESTAMP > TIMESTAMP '2000-01-01 00:00:00'
    AND NOT CURRENT_USER IS NULL AND qty IN (10, 20) FETCH FIRST 1 ROWS ONLY;
-- call: p
-- out: n = 2
-- behaviour: words of the servers' own as labels, statements and cursors
CREATE PROCEDURE close_all ()
BEGIN
  DECLARE r INTEGER DEFAULT 0;
  DECLARE names INTEGER DEFAULT 3;
  DECLARE password VARCHAR(5) DEFAULT 'x';
  checksum: LOOP SET r = r + 1; IF r > 2 THEN LEAVE checksum; END IF; ITERATE checksum; END LOOP checksum;
  REPORT r, names, password;
  start: BEGIN LEAVE start; END start;
  stop: REPEAT SET r = r - 1; IF r = 1 THEN ITERATE stop; END IF; UNTIL r < 1 END REPEAT stop;
  host: WHILE r < 2 DO SET r = r + 1; LEAVE host; END WHILE host;
  no: FOR x AS SELECT id FROM item DO LEAVE no; END FOR no;
  signed: FOR i IN 1..3 DO LEAVE signed; END FOR signed;
  PREPARE index FROM 'SELECT qty FROM item WHERE id = ?';
  EXECUTE index INTO r USING 2;
  DEALLOCATE PREPARE index;
  REPORT r;
END;
CREATE PROCEDURE p ()
whole: BEGIN
  DECLARE r INTEGER;
  DECLARE next CURSOR FOR SELECT qty FROM item ORDER BY id;
  DECLARE last CURSOR FOR SELECT qty AS over FROM item WHERE qty IS NOT NULL ORDER BY over DESC;
  OPEN next; FETCH next INTO r; CLOSE next;
  REPORT r;
  OPEN last; FETCH last INTO r; CLOSE last;
  REPORT r;
  CALL close_all();
  LEAVE whole;
END whole;
-- call: p
-- says: 10
-- says: 20
-- says: 33x
-- says: 20
-- behaviour: words of the servers' own as routines
CREATE FUNCTION json (json INTEGER) RETURNS INTEGER RETURN json + 1;
CREATE FUNCTION code (a INTEGER) RETURNS INTEGER RETURN a + 1;
CREATE PROCEDURE open (OUT text INTEGER) SET text = json(1) + code(id(0));
CREATE FUNCTION id (a INTEGER) RETURNS INTEGER RETURN a + 2;
CREATE PROCEDURE help () BEGIN DECLARE v INTEGER; CALL open(v); REPORT v; END;
CREATE PROCEDURE p () BEGIN DECLARE v INTEGER; CALL help(); SELECT code(qty) + json(id) INTO v FROM item WHERE id = 1; REPORT v; END;
-- call: p
-- says: 5
-- says: 13
-- behaviour: a name that is a type's elsewhere
CREATE PROCEDURE p ()
BEGIN
  DECLARE timestamp INTEGER DEFAULT 3;
  DECLARE real INTEGER;
  DECLARE clob TIMESTAMP;
  SELECT timestamp + qty INTO real FROM item WHERE id = timestamp - 2;
  REPORT real;
  SELECT CAST(CAST('2031-01-02 10:00:00' AS timestamp) AS TIMESTAMP(0)), MAX(qty) AS timestamp INTO clob, real FROM item AS blob;
  REPORT clob, ' ', real;
  WITH timestamp AS (SELECT qty AS clob FROM item) SELECT MAX(timestamp.clob) INTO timestamp FROM timestamp WHERE timestamp.clob > TIMESTAMP;
  REPORT timestamp;
END;
-- call: p
-- says: 13
-- says: 2031-01-02 10:00:00 20
-- says: 20
