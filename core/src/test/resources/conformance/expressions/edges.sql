-- behaviour: a text given to a CHAR(n) parameter keeps all its characters, or is too long
CREATE FUNCTION five (a CHAR(5)) RETURNS CHAR(5) RETURN a;
CREATE FUNCTION one (a CHAR(1)) RETURNS CHAR(1) RETURN a;
CREATE PROCEDURE q (IN a CHAR(3), INOUT b CHAR(4)) SET b = a || '!';
CREATE PROCEDURE p ()
BEGIN
  DECLARE l VARCHAR(10) DEFAULT 'abc';
  DECLARE b CHAR(4) DEFAULT 'was';
  REPORT '[', five(l || 'd'), ']';
  REPORT '[', five(TRIM(' ' || l)), ']';
  CALL q(SUBSTRING(l FROM 2), b);
  REPORT '[', b, ']';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22001' REPORT 'too long';
    REPORT one(TRIM(l || l));
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22001' REPORT 'too long again';
    CALL q(l || 'd', b);
  END;
END;
-- call: p
-- says: [abcd ]
-- says: [abc  ]
-- says: [bc !]
-- says: too long
-- says: too long again
-- behaviour: nothing to fill with, and lengths below zero
CREATE PROCEDURE p ()
BEGIN
  DECLARE l VARCHAR(10) DEFAULT 'abc';
  DECLARE e VARCHAR(2) DEFAULT '';
  DECLARE n INTEGER DEFAULT -1;
  REPORT CHAR_LENGTH(RPAD(l, 5, '')), CHAR_LENGTH(LPAD(l, 5, e)), LPAD(l, 2, ''), '[', RPAD(l, n), ']';
  REPORT '[', LPAD(l, n, 'x'), ']', LPAD(l, 5, 'xy'), RPAD(l, n + 6, 'xy'), COALESCE(RPAD(l, 5, NULL), 'none');
  REPORT '[', RPAD(l, 4), ']', '[', LPAD(l, 5, ' '), ']';
END;
-- call: p
-- says: 33ab[]
-- says: []xyabcabcxynone
-- says: [abc ][  abc]
-- behaviour: several intervals after a time of day, which goes round
CREATE PROCEDURE p ()
BEGIN
  DECLARE t TIME(0) DEFAULT TIME '23:00:00';
  REPORT t + INTERVAL '2' HOUR - INTERVAL '1' MINUTE + INTERVAL '1' SECOND;
  SET t = t + INTERVAL '30' HOUR + INTERVAL '30' HOUR;
  REPORT t;
  IF t - INTERVAL '1' HOUR - INTERVAL '11' HOUR = TIME '23:00:00' THEN REPORT 'back'; END IF;
END;
-- call: p
-- says: 00:59:01
-- says: 11:00:00
-- says: back
-- behaviour: a date put to a text, before or behind a comparison
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DATE DEFAULT DATE '2031-05-06';
  DECLARE n INTEGER DEFAULT 7;
  IF '2' < '' || d THEN REPORT 'after'; END IF;
  IF '' || n > '6' || 'x' THEN REPORT 'seven'; END IF;
  IF GREATEST('' || d, 'a') = 'a' THEN REPORT 'a'; END IF;
END;
-- call: p
-- says: after
-- says: seven
-- says: a
-- behaviour: a truth value and bytes read back from a query as they are
CREATE PROCEDURE p (OUT t BOOLEAN, OUT f BOOLEAN, OUT n BOOLEAN, OUT b VARBINARY(4), OUT c VARBINARY(4))
BEGIN
  DECLARE yes BOOLEAN DEFAULT TRUE;
  DECLARE bits VARBINARY(4) DEFAULT X'FF00';
  SELECT yes INTO t FROM item WHERE id = 1;
  SELECT NOT yes INTO f FROM item WHERE id = 1;
  SELECT CAST(NULL AS BOOLEAN) INTO n FROM item WHERE id = 1;
  SELECT bits INTO b FROM item WHERE id = 1;
END;
-- call: p
-- out: t = TRUE, f = FALSE, n = NULL, b = X'FF00', c = NULL
-- behaviour: truth values and bytes made in a query of others
CREATE PROCEDURE p (OUT t BOOLEAN, OUT f BOOLEAN, OUT n BOOLEAN, OUT b VARBINARY(6), OUT c VARBINARY(4))
BEGIN
  DECLARE yes BOOLEAN DEFAULT TRUE;
  DECLARE bits VARBINARY(4) DEFAULT X'FF00';
  SELECT COALESCE(NULL, yes) AS x, CASE WHEN id > 1 THEN TRUE ELSE FALSE END, NOT yes AND id IS NULL, bits || X'4142' joined, COALESCE(bits, X'00') INTO t, f, n, b, c FROM item WHERE id = 1;
  FOR r AS SELECT yes AS so, bits AS also FROM item WHERE id = 1 DO
    IF r.so THEN REPORT 'yes ', r.also; END IF;
  END FOR;
END;
-- call: p
-- out: t = TRUE, f = FALSE, n = FALSE, b = X'FF004142', c = X'FF00'
-- says: yes FF00
-- behaviour: a WHEN that is NULL hides none behind it
CREATE FUNCTION twice (a INTEGER) RETURNS INTEGER RETURN 2 * a;
CREATE PROCEDURE p ()
BEGIN
  DECLARE x VARCHAR(10) DEFAULT 'a';
  DECLARE n VARCHAR(10);
  DECLARE c CHAR(3) DEFAULT 'a';
  DECLARE i INTEGER DEFAULT 5;
  DECLARE j INTEGER;
  DECLARE d DATE DEFAULT DATE '2031-01-01';
  DECLARE e DATE;
  REPORT CASE x WHEN n THEN 'null' WHEN 'a' THEN 'found' ELSE 'none' END;
  REPORT CASE i + 1 WHEN j THEN 'null' /* WHEN 6 THEN */ WHEN j + 1 THEN 'more' WHEN 6 THEN 'six' END;
  REPORT CASE c WHEN n THEN 'null' WHEN x || '  ' THEN 'chars' WHEN 'a' THEN 'late' END;
  REPORT case x when n || 'b' then 'null' when c then 'char' end;
  REPORT CASE d WHEN e THEN 'null' WHEN CASE i WHEN j THEN e WHEN 5 THEN d END THEN 'inner' WHEN d THEN 'day' END;
  REPORT CASE j WHEN j THEN 'null' WHEN i THEN 'i' ELSE 'else' END;
  CASE x WHEN n THEN REPORT 'null'; WHEN 'a' THEN REPORT 'statement'; END CASE;
  SET j = NULLIF(CASE i WHEN j THEN 1 WHEN 5 THEN 2 END, 3);
  REPORT j;
  REPORT CASE i WHEN 4 THEN 'four' WHEN j + NULL THEN 'last' ELSE 'end' END;
END;
-- call: p
-- says: found
-- says: six
-- says: chars
-- says: char
-- says: inner
-- says: else
-- says: statement
-- says: 2
-- says: end
-- behaviour: moments without parts of a second as texts
CREATE PROCEDURE p ()
BEGIN
  DECLARE t TIMESTAMP(6) DEFAULT TIMESTAMP '2031-10-20 10:00:00';
  DECLARE c TIME(3) DEFAULT TIME '10:00:00';
  REPORT TIMESTAMP '2028-02-29 00:00:00' - INTERVAL '45' HOUR;
  REPORT '<' || CAST(TIMESTAMP '2028-02-20 10:00:00' AS VARCHAR(30)) || '>';
  REPORT t, ' ', c, ' ', t + INTERVAL '1' SECOND, ' ', c + INTERVAL '1' HOUR, ' ', COALESCE(t, t), ' ', TIME '10:20:00', ' ', TIME '10:20:00.50';
  REPORT CASE WHEN c > TIME '00:00:00' THEN t ELSE t END, ' ', NULLIF(c, TIME '11:00:00'), ' ', CAST(t AS TIME(6)), ' ', CAST(c AS VARCHAR(20));
END;
-- call: p
-- says: 2028-02-27 03:00:00
-- says: <2028-02-20 10:00:00>
-- says: 2031-10-20 10:00:00 10:00:00 2031-10-20 10:00:01 11:00:00 2031-10-20 10:00:00 10:20:00 10:20:00.5
-- says: 2031-10-20 10:00:00 10:00:00 10:00:00 10:00:00
-- behaviour: the rest of approximate numbers, and SIGN beside digits
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DOUBLE PRECISION DEFAULT 7.5;
  DECLARE f DECIMAL(20, 10) DEFAULT 1234567890.0987654321;
  DECLARE r DECIMAL(20, 10);
  DECLARE k INTEGER;
  SET k = MOD(d, 2);
  REPORT k, ' ', CAST(MOD(10, d) AS DECIMAL(5, 2)), ' ', CAST(-MOD(d, 2.25) AS DECIMAL(5, 2));
  SELECT NULLIF(f, SIGN(qty)), SIGN(qty) / 2 INTO r, k FROM item WHERE id = 1;
  REPORT r, ' ', k;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22012' REPORT 'by zero';
    SET r = MOD(d, 0);
  END;
END;
-- call: p
-- says: 2 2.50 -0.75
-- says: 1234567890.0987654321 0
-- says: by zero
-- behaviour: a WHEN that is NULL in a data statement
CREATE PROCEDURE p ()
BEGIN
  DECLARE n VARCHAR(10);
  DECLARE k INTEGER;
  DECLARE s VARCHAR(10);
  SELECT CASE name WHEN n THEN 'null' WHEN 'cork' THEN 'found' END INTO s FROM item WHERE id = 1;
  REPORT s;
  SELECT CASE price * 4 WHEN qty + NULL THEN 'null' WHEN CASE qty WHEN price - NULL THEN 0 WHEN 10 THEN id END THEN 'inner' END INTO s FROM item WHERE id = 1;
  REPORT s;
  SELECT COUNT(*) INTO k FROM item WHERE CASE id WHEN NULLIF(id, id) THEN 0 WHEN 3 THEN 1 ELSE 2 END = 1;
  REPORT k;
  UPDATE item SET name = CASE name WHEN n THEN 'null' WHEN 'label' THEN 'tag' ELSE name END WHERE id = 2;
  SELECT name INTO s FROM item WHERE id = 2;
  REPORT s;
END;
-- call: p
-- says: found
-- says: inner
-- says: 1
-- says: tag
-- data: SELECT name FROM item WHERE id = 2 : ['tag']
-- behaviour: a variable beside WHENs that may be NULL, in a data statement
CREATE PROCEDURE p ()
BEGIN
  DECLARE x VARCHAR(10) DEFAULT 'cork';
  DECLARE s VARCHAR(10);
  SELECT CASE x WHEN name || NULL THEN 'null' WHEN name THEN 'name' END INTO s FROM item WHERE id = 1;
  REPORT s;
END;
-- call: p
-- says: name
-- behaviour: whole numbers divided in a CASE beside decimals
CREATE PROCEDURE p ()
BEGIN
  DECLARE i INTEGER DEFAULT 100;
  DECLARE c DECIMAL(5, 2) DEFAULT -0.01;
  DECLARE b BOOLEAN;
  SET b = (CASE WHEN i > 100 THEN c ELSE (i / 9223372036854775807) END = ROUND(c, 0));
  REPORT b, ' ', CASE WHEN i > 100 THEN c ELSE (i / 9223372036854775807) END, ' ', i / 9223372036854775807, ' ', ROUND(c, 0), ' ', COALESCE(i / 3, c), ' ', (i / 3) * c;
  REPORT i / -2147483648, ' ', i / 2147483648, ' ', 7 / 2, ' ', -7 / 2, ' ', CASE WHEN i = 100 THEN 7 / 2 ELSE 0.5 END;
END;
-- call: p
-- says: TRUE 0.00 0 0 33.00 -0.33
-- says: 0 0 3 -3 3.0
-- behaviour: what is put together or chosen, beside values of CHAR
CREATE PROCEDURE p ()
BEGIN
  DECLARE l VARCHAR(10) DEFAULT 'abc';
  DECLARE c CHAR(5) DEFAULT 'xbc';
  DECLARE one CHAR(1) DEFAULT 'x';
  REPORT CASE WHEN OVERLAY(l PLACING one FROM 1) || '  ' IN (one, c) THEN 'in' ELSE 'not in' END;
  REPORT CASE WHEN OVERLAY(l PLACING one FROM 1 FOR 1) BETWEEN c AND c THEN 'within' ELSE 'not' END;
  REPORT CASE CASE WHEN l = 'abc' THEN c ELSE one END WHEN OVERLAY(l PLACING one FROM 1) THEN 'same' ELSE 'other' END;
  REPORT CASE WHEN CAST(l AS CHAR(7)) NOT IN ('abc', c) THEN 'not' ELSE 'in' END, CASE WHEN SUBSTRING(c FROM 2) IN ('bc', 'x') THEN 'in' ELSE 'not' END;
END;
-- call: p
-- says: in
-- says: within
-- says: same
-- says: innot
-- behaviour: a moment of whole seconds after an interval, as text
CREATE PROCEDURE p ()
BEGIN
  DECLARE d DATE DEFAULT DATE '2031-10-20';
  DECLARE t TIMESTAMP(0) DEFAULT TIMESTAMP '2031-10-20 10:00:00';
  REPORT CAST(d AS TIMESTAMP(0)) - INTERVAL '45' SECOND;
  REPORT t + INTERVAL '1' DAY, ' ', t - INTERVAL '1' MINUTE + INTERVAL '30' SECOND, ' ', t - INTERVAL '1' MONTH;
  REPORT 'at ' || (t + INTERVAL '90' SECOND), ' ', COALESCE(t + INTERVAL '1' HOUR, t), ' ', CASE WHEN t > t - INTERVAL '1' SECOND THEN t + INTERVAL '1' SECOND END;
END;
-- call: p
-- says: 2031-10-19 23:59:15
-- says: 2031-10-21 10:00:00 2031-10-20 09:59:30 2031-09-20 10:00:00
-- says: at 2031-10-20 10:01:30 2031-10-20 11:00:00 2031-10-20 10:00:01
