-- behaviour: a NULL bound of a range is 22004, for a handler too
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(20))
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22004' SET r = 'no bound ';
  FOR i IN a .. 3 DO SET r = 'never'; END FOR;
  FOR i IN REVERSE 1 .. a DO SET r = 'never'; END FOR;
  FOR i IN 3 .. 3 DO SET r = r || i; END FOR;
END;
-- call: p a = NULL
-- out: r = 'no bound 3'
-- behaviour: a NULL bound that nobody handles
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(20))
BEGIN
  FOR i IN 1 .. a + 1 DO SET r = 'never'; END FOR;
END;
-- call: p a = NULL
-- raises: 22004
-- behaviour: ranges in ranges of one counter, whose bounds are those of the outer one
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  FOR i IN 1..3 DO
    FOR i IN i..i * 2 DO
      SET r = r || i;
    END FOR;
    SET r = r || '-' || i || ' ';
  END FOR;
END;
-- call: p
-- out: r = '12-1 234-2 3456-3 '
-- behaviour: a range with text around it that looks like its own words
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  for /* DO ; '..' */ i in -- 9..1 DO
    reverse (1) /* .. */ .. LENGTH('FOR') do -- END FOR
    SET r = r || i || 'do';
  end /* x */ for;
  "Turns 1": FOR "my i" IN 1..2 DO
    IF "my i" = 2 THEN LEAVE "Turns 1"; END IF;
    SET r = r || '.' || "my i";
  END FOR "Turns 1";
END;
-- call: p
-- out: r = '3do2do1do.1'
-- behaviour: a range that is a routine's whole body, and is changed in its turns
CREATE PROCEDURE p (INOUT n INTEGER)
FOR i IN n..n + 4 DO
  SET n = n + i;
  SET i = 100;
END FOR;
-- call: p n = 1
-- out: n = 16
-- behaviour: a range of large numbers counts in BIGINT
CREATE PROCEDURE p (IN a INTEGER, OUT n BIGINT)
BEGIN
  SET n = 0;
  FOR i IN a..a + 2 DO
    SET n = n + i * 2;
  END FOR;
  FOR i IN 9223372036854775805 .. 9223372036854775806 DO
    SET n = i;
  END FOR;
END;
-- call: p a = 2147483645
-- out: n = 9223372036854775806
-- behaviour: a bound that fails goes to the handler, which goes on after the loop or leaves
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(60))
BEGIN
  SET r = '';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET r = r || 'left ';
    FOR i IN 1 .. 4 / a DO
      SET r = r || i;
    END FOR;
    SET r = r || ' after ';
  END;
  FOR i IN 1..2 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'h';
      SET r = r || CAST(i / a AS VARCHAR(4));
      INSERT INTO item (id, name) VALUES (i, 'twice');
    END;
  END FOR;
END;
-- call: p a = 0
-- out: r = 'left hhhh'
-- call: p a = 2
-- out: r = '12 after 0h1h'
-- behaviour: rows of a query in a range, and a range in rows
CREATE PROCEDURE p (OUT r VARCHAR(60))
BEGIN
  SET r = '';
  FOR i IN 1..2 DO
    FOR t AS SELECT id FROM item ORDER BY id DO
      FOR j IN REVERSE 1..t.id DO
        SET r = r || i || t.id || j || ' ';
      END FOR;
    END FOR;
  END FOR;
END;
-- call: p
-- out: r = '111 122 121 133 132 131 211 222 221 233 232 231 '
