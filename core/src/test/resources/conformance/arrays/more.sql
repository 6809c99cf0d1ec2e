-- behaviour: arrays are compared element by element
CREATE PROCEDURE p (OUT a BOOLEAN, OUT b BOOLEAN, OUT c BOOLEAN)
BEGIN
  DECLARE x INTEGER ARRAY DEFAULT ARRAY[1, 2];
  SET a = x = ARRAY[1, 2];
  SET b = x = ARRAY[1, 2, 3];
  SET c = x <> ARRAY[1, 3];
END;
-- call: p
-- out: a = TRUE, b = FALSE, c = TRUE
-- behaviour: || puts arrays together, TRIM_ARRAY takes from the end
CREATE PROCEDURE p (OUT n INTEGER, OUT last INTEGER, OUT m INTEGER)
BEGIN
  DECLARE x INTEGER ARRAY DEFAULT ARRAY[1, 2] || ARRAY[3];
  SET n = CARDINALITY(x);
  SET last = x[3];
  SET m = CARDINALITY(TRIM_ARRAY(x, 2));
END;
-- call: p
-- out: n = 3, last = 3, m = 1
-- behaviour: an array longer than its type is 2202F, an index past its maximum 2202E
CREATE PROCEDURE p (IN what INTEGER)
BEGIN
  DECLARE x INTEGER ARRAY[3] DEFAULT ARRAY[1, 2, 3];
  IF what = 1 THEN SET x = ARRAY[1, 2, 3] || ARRAY[4]; END IF;
  SET x[what + 2] = 9;
END;
-- call: p what = 1
-- raises: 2202F
-- call: p what = 2
-- raises: 2202E
-- call: p what = -2
-- raises: 2202E
-- behaviour: an array parameter of a function
CREATE FUNCTION total (x INTEGER ARRAY) RETURNS INTEGER
BEGIN
  DECLARE i INTEGER DEFAULT 1;
  DECLARE sum INTEGER DEFAULT 0;
  WHILE i <= CARDINALITY(x) DO
    SET sum = sum + COALESCE(x[i], 0);
    SET i = i + 1;
  END WHILE;
  RETURN sum;
END;
CREATE PROCEDURE p (OUT r INTEGER, OUT s INTEGER)
BEGIN
  SET r = total(ARRAY[1, NULL, 3]);
  SET s = total(TRIM_ARRAY(ARRAY[1, 2], 2));
END;
-- call: p
-- out: r = 4, s = 0
-- behaviour: an array is handed back by a function
CREATE FUNCTION firsts (n INTEGER) RETURNS INTEGER ARRAY
BEGIN
  DECLARE x INTEGER ARRAY DEFAULT ARRAY[];
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < n DO
    SET i = i + 1;
    SET x[i] = i * i;
  END WHILE;
  RETURN x;
END;
CREATE PROCEDURE p (OUT n INTEGER, OUT v INTEGER)
BEGIN
  DECLARE x INTEGER ARRAY;
  SET x = firsts(5);
  SET n = CARDINALITY(x);
  SET v = x[4];
END;
-- call: p
-- out: n = 5, v = 16
-- behaviour: the elements are stored by the element's type
CREATE PROCEDURE p (IN t VARCHAR(10), OUT r VARCHAR(10))
BEGIN
  DECLARE x VARCHAR(3) ARRAY DEFAULT ARRAY['a'];
  SET x[2] = t;
  SET r = x[1] || x[2];
END;
-- call: p t = 'bcd'
-- out: r = 'abcd'
-- call: p t = 'bcde'
-- raises: 22001
-- behaviour: an INOUT array changed in place, and kept whole by a failure
CREATE PROCEDURE bump (INOUT x INTEGER ARRAY, IN stop_at INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 1;
  WHILE i <= CARDINALITY(x) DO
    IF i = stop_at THEN SIGNAL SQLSTATE '45001'; END IF;
    SET x[i] = x[i] + 10;
    SET i = i + 1;
  END WHILE;
END;
CREATE PROCEDURE p (IN stop_at INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE x INTEGER ARRAY DEFAULT ARRAY[1, 2, 3];
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' BEGIN END;
  CALL bump(x, stop_at);
  SET r = x[1] || ' ' || x[2] || ' ' || x[3];
END;
-- call: p stop_at = 9
-- out: r = '11 12 13'
-- call: p stop_at = 2
-- out: r = '1 2 3'
-- behaviour: a row variable takes a whole row of a query, and its fields are set one by one
CREATE PROCEDURE p (OUT r VARCHAR(40))
BEGIN
  DECLARE one LIKE item;
  SELECT * INTO one FROM item WHERE id = 2;
  SET one.name = one.name || 's';
  SET one.id = 70;
  INSERT INTO item VALUES (one.*);
  SET r = one.id || ' ' || one.name || ' ' || one.qty || ' ' || one.price;
END;
-- call: p
-- out: r = '70 labels 20 0.10'
-- data: SELECT name, qty FROM item WHERE id = 70 : ['labels', 20]
-- behaviour: the fields of a row that nothing was stored in are NULL
CREATE PROCEDURE p (OUT r BOOLEAN, OUT s BOOLEAN)
BEGIN
  DECLARE a ROW(x INTEGER, y VARCHAR(5));
  SET r = a.x IS NULL AND a.y IS NULL;
  SET a.x = 1;
  SET s = a.y IS NULL AND a.x = 1;
END;
-- call: p
-- out: r = TRUE, s = TRUE
-- behaviour: a parameter's type is taken from a column
CREATE PROCEDURE p (IN n LIKE item.name, OUT q LIKE item.price)
SELECT price INTO q FROM item WHERE name = n;
-- call: p n = 'cork'
-- out: q = 0.25
-- behaviour: an element of an array that is NULL can't be set: null value in array target
CREATE PROCEDURE p (OUT s CHAR(5), OUT n INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY[4];
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
  SET a[1] = 4;
  SET n = CARDINALITY(a);
END;
-- call: p
-- out: s = '2200E', n = NULL
-- behaviour: nor where nobody handles it, whatever the index
CREATE PROCEDURE p (IN i INTEGER, OUT n INTEGER)
BEGIN
  DECLARE a INTEGER ARRAY[4];
  SET a[i] = 4;
  SET n = CARDINALITY(a);
END;
-- call: p i = 1
-- raises: 2200E
-- call: p i = 9
-- raises: 2200E
-- behaviour: arrays of texts and decimals through loops, calls and comparisons
CREATE FUNCTION total (a DECIMAL(6, 2) ARRAY[5]) RETURNS DECIMAL(10, 2)
BEGIN
  DECLARE s DECIMAL(10, 2) DEFAULT 0;
  FOR i IN 1..CARDINALITY(a) DO SET s = s + COALESCE(a[i], 0); END FOR;
  RETURN s;
END;
CREATE PROCEDURE grow (INOUT t VARCHAR(5) ARRAY[3], IN w VARCHAR(5)) SET t = t || ARRAY[w];
CREATE PROCEDURE p ()
BEGIN
  DECLARE a DECIMAL(6, 2) ARRAY[5] DEFAULT ARRAY[1.5, NULL, 2];
  DECLARE t VARCHAR(5) ARRAY[3] DEFAULT ARRAY['x'];
  DECLARE i INTEGER DEFAULT 4;
  SET a[i] = 10.555;
  SET a[2] = a[1] + a[4];
  REPORT total(a), ' ', a[2], ' ', a[4], ' ', CARDINALITY(a);
  CALL grow(t, 'yy');
  CALL grow(t, NULL);
  REPORT t[1], t[2], COALESCE(t[3], '-'), CARDINALITY(t);
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN DECLARE st CHAR(5); GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; REPORT st, CARDINALITY(t); END;
    CALL grow(t, 'z');
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '2202E' REPORT 'no element ', i;
    SET i = 9;
    REPORT a[i];
  END;
  IF ARRAY['x', 'yy'] = TRIM_ARRAY(t, 1) THEN REPORT 'same'; END IF;
  SET t = ARRAY[];
  REPORT CARDINALITY(t);
END;
-- call: p
-- says: 26.12 12.06 10.56 4
-- says: xyy-3
-- says: 2202F3
-- says: no element 9
-- says: same
-- says: 0
-- behaviour: an element of an array stands in a query like any value
CREATE FUNCTION f (at INTEGER) RETURNS INTEGER READS SQL DATA
BEGIN
  DECLARE marks INTEGER ARRAY[3] DEFAULT ARRAY[4, 6, NULL];
  DECLARE found INTEGER DEFAULT -1;
  SELECT id + marks[1] INTO found FROM (VALUES (1, 5), (2, 6)) AS spot (id, v) WHERE v = marks[at];
  RETURN found;
END;
-- call: f at = 2
-- returns: 6
-- call: f at = 1
-- returns: -1
-- call: f at = 3
-- returns: -1
-- call: f at = 4
-- raises: 2202E
