-- behaviour: OUT starts as NULL
CREATE PROCEDURE p (OUT a INTEGER, OUT b VARCHAR(5)) SET b = CASE WHEN a IS NULL THEN 'null' ELSE 'set' END;
-- call: p
-- out: a = NULL, b = 'null'
-- behaviour: INOUT takes and gives
CREATE PROCEDURE p (INOUT a INTEGER) SET a = a * 2;
-- call: p a = 21
-- out: a = 42
-- behaviour: a default is taken where no argument is given
CREATE PROCEDURE p (IN a INTEGER DEFAULT 3 + 4, OUT b INTEGER) SET b = a;
-- call: p
-- out: b = 7
-- call: p a = null
-- out: b = NULL
-- behaviour: OUT and INOUT are copied back only when the callee completes
CREATE PROCEDURE fails (OUT a INTEGER, INOUT b INTEGER)
BEGIN
  SET a = 99; SET b = 99;
  SIGNAL SQLSTATE '45001';
END;
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE x INTEGER DEFAULT 1;
  DECLARE y INTEGER DEFAULT 2;
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET r = x || ' ' || y;
  CALL fails(x, y);
END;
-- call: p
-- out: r = '1 2'
-- behaviour: arguments may be given by name, in any order
CREATE PROCEDURE callee (IN a INTEGER, IN b INTEGER DEFAULT 10, OUT c INTEGER) SET c = a - b;
CREATE PROCEDURE p (OUT x INTEGER, OUT y INTEGER)
BEGIN
  CALL callee(b => 1, a => 5, c => x);
  CALL callee(a => 5, c => y);
END;
-- call: p
-- out: x = 4, y = -5
-- behaviour: an IN parameter may be changed, and the caller does not see it
CREATE PROCEDURE callee (IN a INTEGER) SET a = 0;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE x INTEGER DEFAULT 5;
  CALL callee(x);
  SET r = x;
END;
-- call: p
-- out: r = 5
-- behaviour: a value given back is stored by the rules of its target
CREATE PROCEDURE callee (OUT a INTEGER) SET a = 100000;
CREATE PROCEDURE p (OUT r SMALLINT) CALL callee(r);
-- call: p
-- raises: 22003
-- behaviour: one variable may be passed twice
CREATE PROCEDURE callee (IN a INTEGER, INOUT b INTEGER) SET b = a + b;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  SET r = 4;
  CALL callee(r, r);
END;
-- call: p
-- out: r = 8
-- behaviour: RETURN in a procedure leaves it, and what is set is given
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  SET r = 1;
  RETURN;
  SET r = 2;
END;
-- call: p
-- out: r = 1
-- behaviour: a function may call itself
CREATE FUNCTION fact (n BIGINT) RETURNS BIGINT
  RETURN CASE WHEN n <= 1 THEN 1 ELSE n * fact(n - 1) END;
-- call: fact n = 15
-- returns: 1307674368000
-- behaviour: procedures may call each other, each activation with variables of its own
CREATE PROCEDURE is_even (IN n INTEGER, OUT r BOOLEAN)
BEGIN
  IF n = 0 THEN SET r = TRUE; ELSE CALL is_odd(n - 1, r); END IF;
END;
CREATE PROCEDURE is_odd (IN n INTEGER, OUT r BOOLEAN)
BEGIN
  IF n = 0 THEN SET r = FALSE; ELSE CALL is_even(n - 1, r); END IF;
END;
-- call: is_even n = 11
-- out: r = FALSE
-- behaviour: recursion ends at the depth limit, and the message names the cycle
CREATE PROCEDURE ping (IN n INTEGER) CALL pong(n + 1);
CREATE PROCEDURE pong (IN n INTEGER) CALL ping(n + 1);
-- call: ping n = 1
-- raises: UL003 ping
-- behaviour: RETURNS NULL ON NULL INPUT does not run the body
CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURNS NULL ON NULL INPUT
BEGIN
  INSERT INTO log (line) VALUES ('ran');
  RETURN 1;
END;
CREATE FUNCTION g () RETURNS INTEGER RETURN f(NULL);
-- call: g
-- returns: NULL
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a function's result is stored into its type
CREATE FUNCTION f () RETURNS DECIMAL(5, 1) RETURN 2.25;
CREATE FUNCTION g () RETURNS VARCHAR(2) RETURN SUBSTRING('abc' FROM 1);
-- call: f
-- returns: 2.3
-- call: g
-- raises: 22001
-- behaviour: a function is called from inside SQL
CREATE FUNCTION doubled (x INTEGER) RETURNS INTEGER RETURN x * 2;
CREATE PROCEDURE p (OUT n INTEGER) SELECT SUM(doubled(i.id)) INTO n FROM item i WHERE doubled(i.id) > 2;
-- call: p
-- out: n = 10
-- behaviour: a function called from SQL may read data itself
CREATE FUNCTION children (p INTEGER) RETURNS INTEGER
  RETURN (SELECT COUNT(*) FROM child c WHERE c.parent_id = p);
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  SET r = '';
  FOR one AS SELECT pa.id, children(pa.id) AS n FROM parent pa ORDER BY pa.id DO
    SET r = r || one.id || ':' || one.n || ' ';
  END FOR;
END;
-- call: p
-- out: r = '1:2 2:1 '
-- behaviour: a recursive function that queries keeps its statements apart
CREATE FUNCTION down (n INTEGER) RETURNS INTEGER
BEGIN
  DECLARE c INTEGER;
  IF n = 0 THEN RETURN 0; END IF;
  SELECT COUNT(*) + MAX(down(n - 1)) INTO c FROM parent p WHERE p.id <= 2;
  RETURN c;
END;
-- call: down n = 3
-- returns: 6
-- behaviour: LIKE takes a column's type, and a table's
CREATE PROCEDURE p (IN n LIKE item.name, OUT r VARCHAR(40))
BEGIN
  DECLARE one LIKE item;
  SELECT * INTO one FROM item WHERE name = n;
  SET r = one.id || ' ' || one.price;
END;
-- call: p n = 'cork'
-- out: r = '1 0.25'
-- behaviour: a constant keeps its value
CREATE FUNCTION f () RETURNS INTEGER
BEGIN
  DECLARE rate CONSTANT INTEGER DEFAULT 7;
  RETURN rate * 6;
END;
-- call: f
-- returns: 42
-- behaviour: REPORT puts its items together, NULL as NULL
CREATE PROCEDURE p (IN x INTEGER)
BEGIN
  REPORT 'x is ', x, ' and ', 1.50, ' ', TRUE, ' ', DATE '2031-01-02';
  REPORT 'done';
END;
-- call: p x = null
-- says: x is NULL and 1.50 TRUE 2031-01-02
-- says: done
-- behaviour: a plain SELECT hands its rows to the caller
CREATE PROCEDURE p (IN least INTEGER)
BEGIN
  SELECT id, name FROM item WHERE id >= least ORDER BY id;
  SELECT COUNT(*) FROM child;
END;
-- call: p least = 2
-- rows: [2, 'label'] [3, 'bottle']
-- rows: [3]
-- behaviour: inside a data statement a function's arguments may be named too, defaults between them
CREATE FUNCTION f (a INTEGER, b INTEGER DEFAULT 100, c INTEGER DEFAULT 7, d INTEGER DEFAULT 3) RETURNS INTEGER
RETURN a * 1000 + b + c * d;
CREATE PROCEDURE p (IN v INTEGER, OUT x INTEGER, OUT y INTEGER, OUT z INTEGER)
BEGIN
  SELECT f(c => v + id, a => f(b => v, a => 0)) INTO x FROM item WHERE id = 1;
  SELECT MAX(f(id, d => 0)) INTO y FROM item WHERE id = f(b => 1, a => 0, c => 0);
  SELECT f(b => v, a => v) INTO z FROM item WHERE id = 1 AND f(a => 1) > 0;
END;
-- call: p v = 2
-- out: x = 23109, y = 1100, z = 2023
-- behaviour: a named argument that a function does not have, inside a data statement, is an error
CREATE FUNCTION f (a INTEGER, b INTEGER DEFAULT 100) RETURNS INTEGER RETURN a + b;
CREATE PROCEDURE p (OUT x INTEGER) SELECT f(1, bb => 2) INTO x FROM item WHERE id = 1;
-- problem: unknown-name
-- behaviour: an element of an array and a field of a row take what is given back
CREATE PROCEDURE q (INOUT n INTEGER, OUT t VARCHAR(5))
BEGIN SET n = n + 1; SET t = 'ok'; END;
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[1, 2, 3];
  DECLARE w ROW(x INTEGER, s VARCHAR(5));
  DECLARE i INTEGER DEFAULT 2;
  CALL q(a[i], w.s);
  SET w.x = a[2];
  CALL q(w.x, w.s);
  CALL q(a[i + 1], w.s);
  SET r = a[1] || ',' || a[2] || ',' || a[3] || ',' || w.x || ',' || w.s;
END;
-- call: p
-- out: r = '1,3,4,4,ok'
-- behaviour: an element that is not there is 2202E when it should take what is given back
CREATE PROCEDURE q (OUT n INTEGER) BEGIN INSERT INTO log (line) VALUES ('q'); SET n = 1; END;
CREATE PROCEDURE p (OUT r VARCHAR(50))
BEGIN
  DECLARE a INTEGER ARRAY[2] DEFAULT ARRAY[7];
  DECLARE EXIT HANDLER FOR SQLSTATE '2202E' SET r = 'no ' || CARDINALITY(a);
  CALL q(a[3]);
END;
-- call: p
-- out: r = 'no 1'
-- data: SELECT line FROM log : ['q']
