-- behaviour: elements are counted from 1, and an index outside is 2202E
CREATE FUNCTION f (i INTEGER) RETURNS INTEGER
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[10, 20, 30];
  RETURN a[i];
END;
-- call: f i = 3
-- returns: 30
-- call: f i = 0
-- raises: 2202E
-- call: f i = 4
-- raises: 2202E
-- call: f i = null
-- returns: NULL
-- behaviour: an assignment past the end makes the array longer, up to its maximum
CREATE PROCEDURE p (IN i INTEGER, OUT n INTEGER, OUT gap BOOLEAN)
BEGIN
  DECLARE a INTEGER ARRAY[5] DEFAULT ARRAY[1];
  SET a[i] = 9;
  SET n = CARDINALITY(a);
  SET gap = a[2] IS NULL;
END;
-- call: p i = 4
-- out: n = 4, gap = TRUE
-- call: p i = 6
-- raises: 2202E
-- behaviour: an array is copied when it is assigned
CREATE PROCEDURE p (OUT r VARCHAR(20))
BEGIN
  DECLARE a INTEGER ARRAY DEFAULT ARRAY[1, 2];
  DECLARE b INTEGER ARRAY;
  SET b = a;
  SET b[1] = 9;
  SET r = a[1] || ' ' || b[1];
END;
-- call: p
-- out: r = '1 9'
-- behaviour: an array changed by a callee that fails stays whole in the caller
CREATE PROCEDURE fails (INOUT a INTEGER ARRAY)
BEGIN
  SET a[1] = 99;
  SIGNAL SQLSTATE '45001';
END;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY DEFAULT ARRAY[1, 2];
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' BEGIN END;
  CALL fails(a);
  SET r = a[1];
END;
-- call: p
-- out: r = 1
-- behaviour: an IN array changed by its routine is not changed in the caller
CREATE PROCEDURE callee (IN a INTEGER ARRAY) SET a[1] = 99;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY DEFAULT ARRAY[1, 2];
  CALL callee(a);
  SET r = a[1];
END;
-- call: p
-- out: r = 1
-- behaviour: || puts arrays together, TRIM_ARRAY takes from the end
CREATE PROCEDURE p (OUT n INTEGER, OUT x INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY DEFAULT ARRAY[1, 2] || ARRAY[3, 4];
  SET n = CARDINALITY(TRIM_ARRAY(a, 1));
  SET x = a[4];
END;
-- call: p
-- out: n = 3, x = 4
-- behaviour: the cardinality of a NULL array is NULL, of an empty one 0
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  DECLARE x INTEGER ARRAY;
  SET a = CARDINALITY(x);
  SET x = CAST(ARRAY[] AS INTEGER ARRAY);
  SET b = CARDINALITY(x);
END;
-- call: p
-- out: a = NULL, b = 0
-- behaviour: an element is stored by the rules of its type
CREATE PROCEDURE p (OUT r VARCHAR(3))
BEGIN
  DECLARE a VARCHAR(3) ARRAY DEFAULT ARRAY['a'];
  SET a[1] = 'abcd';
END;
-- call: p
-- raises: 22001
-- behaviour: too long an array is 2202F
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY[2];
  DECLARE b INTEGER ARRAY DEFAULT ARRAY[1, 2, 3];
  SET a = b;
END;
-- call: p
-- raises: 2202F
-- behaviour: a row's fields are set one by one, and a row is copied whole
CREATE PROCEDURE p (OUT r VARCHAR(30))
BEGIN
  DECLARE a ROW(x INTEGER, y VARCHAR(5));
  DECLARE b ROW(x INTEGER, y VARCHAR(5));
  SET a.x = 1;
  SET a.y = 'one';
  SET b = a;
  SET b.x = 2;
  SET r = a.x || a.y || b.x || b.y;
END;
-- call: p
-- out: r = '1one2one'
-- behaviour: rows compare field by field
CREATE PROCEDURE p (IN x INTEGER, OUT same BOOLEAN)
BEGIN
  DECLARE a ROW(x INTEGER, y INTEGER);
  SET a = ROW(1, 2);
  SET same = a = ROW(x, 2);
END;
-- call: p x = 1
-- out: same = TRUE
-- call: p x = 3
-- out: same = FALSE
