-- behaviour: a month later stays within the month's end
CREATE FUNCTION f (d DATE, n INTEGER) RETURNS DATE RETURN d + n * INTERVAL '1' MONTH;
-- call: f d = '2031-01-31', n = 1
-- returns: DATE '2031-02-28'
-- call: f d = '2032-01-31', n = 1
-- returns: DATE '2032-02-29'
-- call: f d = '2031-03-31', n = -1
-- returns: DATE '2031-02-28'
-- call: f d = null, n = 1
-- returns: NULL
-- behaviour: days and years are added and taken away
CREATE PROCEDURE p (IN d DATE, OUT a DATE, OUT b DATE, OUT c DATE)
BEGIN
  SET a = d + INTERVAL '30' DAY; SET b = d - INTERVAL '1' DAY; SET c = INTERVAL '1' YEAR + d;
END;
-- call: p d = '2032-02-29'
-- out: a = DATE '2032-03-30', b = DATE '2032-02-28', c = DATE '2033-02-28'
-- behaviour: hours go to timestamps and times
CREATE PROCEDURE p (IN t TIMESTAMP, OUT a TIMESTAMP, OUT b TIME)
BEGIN
  SET a = t + INTERVAL '1 12:30' DAY TO MINUTE;
  SET b = TIME '23:30:00' + INTERVAL '1' HOUR;
END;
-- call: p t = '2031-10-04 20:00:00'
-- out: a = TIMESTAMP '2031-10-06 08:30:00', b = TIME '00:30:00'
-- behaviour: the difference of two dates is counted in what is said
CREATE PROCEDURE p (IN a DATE, IN b DATE, OUT d INTEGER, OUT m INTEGER, OUT y INTEGER)
BEGIN
  SET d = CAST((a - b) DAY AS INTEGER);
  SET m = CAST((a - b) MONTH AS INTEGER);
  SET y = CAST((a - b) YEAR AS INTEGER);
END;
-- call: p a = '2031-10-04', b = '2030-09-05'
-- out: d = 394, m = 12, y = 1
-- call: p a = '2030-09-05', b = '2031-10-04'
-- out: d = -394, m = -12, y = -1
-- behaviour: the difference of two timestamps in days to seconds
CREATE FUNCTION f (a TIMESTAMP, b TIMESTAMP) RETURNS VARCHAR(30) RETURN CAST((a - b) DAY TO SECOND AS VARCHAR(30));
-- call: f a = '2031-10-04 09:00:00.5', b = '2031-10-01 21:30:00'
-- returns: '2 11:30:00.5'
-- behaviour: intervals are added, multiplied, divided and compared
CREATE PROCEDURE p (OUT a VARCHAR(20), OUT b VARCHAR(20), OUT c BOOLEAN, OUT d VARCHAR(20), OUT e BOOLEAN)
BEGIN
  SET a = CAST(INTERVAL '1' YEAR + INTERVAL '3' MONTH AS VARCHAR(20));
  SET b = CAST(INTERVAL '2' DAY * 1.5 AS VARCHAR(20));
  SET c = INTERVAL '25' HOUR > INTERVAL '1' DAY;
  SET d = CAST(-INTERVAL '1-6' YEAR TO MONTH / 2 AS VARCHAR(20));
  SET e = INTERVAL '12' MONTH = INTERVAL '1' YEAR;
END;
-- call: p
-- out: a = '1-3', b = '3', c = TRUE, d = '-0-9', e = TRUE
-- behaviour: EXTRACT takes the fields of an interval
CREATE PROCEDURE p (OUT d INTEGER, OUT h INTEGER, OUT s DECIMAL(5, 2))
BEGIN
  DECLARE i INTERVAL DAY TO SECOND DEFAULT INTERVAL '3 04:05:06.25' DAY TO SECOND;
  SET d = EXTRACT(DAY FROM i); SET h = EXTRACT(HOUR FROM i); SET s = EXTRACT(SECOND FROM i);
END;
-- call: p
-- out: d = 3, h = 4, s = 6.25
-- behaviour: a text that is no interval is 22007
CREATE FUNCTION f (x VARCHAR(20)) RETURNS INTERVAL DAY RETURN CAST(x AS INTERVAL DAY);
-- call: f x = '12'
-- returns: INTERVAL '12' DAY
-- call: f x = 'soon'
-- raises: 22007
-- behaviour: a date takes no hours, and two dates want a field
CREATE PROCEDURE p (IN d DATE, OUT r DATE) SET r = d + INTERVAL '1' HOUR;
CREATE PROCEDURE q (IN d DATE, OUT r INTEGER) SET r = d - d;
-- problem: wrong-type
-- problem: wrong-type
-- problem: wrong-type
-- behaviour: intervals go to the database and come back
CREATE PROCEDURE p (IN d DATE, OUT r DATE, OUT n INTEGER)
BEGIN
  DECLARE i INTERVAL DAY DEFAULT INTERVAL '3' DAY;
  DECLARE back INTERVAL DAY;
  SELECT d + i, i * 2 INTO r, back;
  SET n = CAST(back AS INTEGER);
END;
-- call: p d = '2031-10-04'
-- out: r = DATE '2031-10-07', n = 6
-- behaviour: OVERLAPS is true where two periods share a moment
CREATE FUNCTION f (a DATE, b DATE, c DATE, d DATE) RETURNS BOOLEAN RETURN (a, b) OVERLAPS (c, d);
-- call: f a='2024-01-01', b='2024-02-01', c='2024-01-15', d='2024-03-01'
-- returns: TRUE
-- call: f a='2024-01-01', b='2024-02-01', c='2024-02-01', d='2024-03-01'
-- returns: FALSE
-- call: f a='2024-02-01', b='2024-01-01', c='2024-01-15', d='2024-01-10'
-- returns: TRUE
-- call: f a='2024-01-01', b='2024-01-01', c='2024-01-01', d='2024-01-01'
-- returns: TRUE
-- call: f a='2024-01-01', b=null, c='2024-01-01', d='2024-03-01'
-- returns: NULL
-- call: f a='2024-01-01', b=null, c='2023-01-01', d='2024-03-01'
-- returns: TRUE
-- call: f a='2024-05-01', b=null, c='2024-01-01', d='2024-03-01'
-- returns: NULL
-- call: f a='2024-01-01', b=null, c='2024-02-01', d='2024-03-01'
-- returns: NULL
-- behaviour: the second value of a period may be an interval
CREATE FUNCTION f (a DATE, c DATE) RETURNS BOOLEAN
RETURN (a, INTERVAL '10' DAY) OVERLAPS (c, INTERVAL '1' MONTH);
-- call: f a='2024-01-05', c='2024-01-14'
-- returns: TRUE
-- call: f a='2024-01-05', c='2024-01-15'
-- returns: FALSE
-- behaviour: OVERLAPS stands in a data statement too
CREATE PROCEDURE p (IN a DATE, OUT n INTEGER)
SELECT COUNT(*) INTO n FROM item
WHERE (a, DATE '2024-02-01') OVERLAPS (DATE '2024-01-15', DATE '2024-03-01');
-- call: p a='2024-01-01'
-- out: n = 3
-- behaviour: EXTRACT takes the displacement of a time zone
CREATE PROCEDURE p (IN t TIMESTAMP WITH TIME ZONE, OUT h INTEGER, OUT zh INTEGER, OUT zm INTEGER)
BEGIN
  SET h = EXTRACT(HOUR FROM t);
  SET zh = EXTRACT(TIMEZONE_HOUR FROM t);
  SET zm = EXTRACT(TIMEZONE_MINUTE FROM t);
END;
-- call: p t = '2031-10-04 10:00:00+02:00'
-- out: h = 10, zh = 2, zm = 0
-- call: p t = '2031-10-04 10:00:00-03:30'
-- out: h = 10, zh = -3, zm = -30
