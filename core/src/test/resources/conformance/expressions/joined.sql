-- behaviour: || binds less than sums and products, in statements and in routines
CREATE PROCEDURE p (IN a INTEGER, OUT v VARCHAR(20), OUT w VARCHAR(20), OUT x VARCHAR(20), OUT y VARCHAR(20))
BEGIN
  SET v = 'x' || 4 / (3 - a) || a * 2 || 'y';
  SET w = (a + 1) / (a) || '-' || (a) * (a + 3);
  SELECT '1' || 4 / a, price || '' || a * 1 INTO x, y FROM tag WHERE code = 'cc';
END;
-- call: p a = 2
-- out: v = 'x44y', w = '1-10', x = '12', y = '32'
-- behaviour: || beside sums in every place of a statement
CREATE PROCEDURE p (IN a INTEGER, OUT v VARCHAR(20))
BEGIN
  INSERT INTO log (line) VALUES ('i' || a + 1 || 'j'), (a * 3 || '');
  INSERT INTO log (line) SELECT 's' || id - 1 || CASE WHEN id > 1 THEN id * 10 ELSE id + 1 END || '.' FROM item WHERE 'k' || id + a = 'k3' ORDER BY '' || -id;
  UPDATE log SET line = line || '/' || n * 0 + a WHERE line LIKE 'i' || a + 1 || '%';
  SELECT MAX(t.line || t.k + 1) INTO v FROM (SELECT line, 2 * 2 AS k FROM log) AS t WHERE t.line IN ('i' || a + 1 || 'j/' || a, 'zz' || 1 / 1);
END;
-- call: p a = 2
-- out: v = 'i3j/25'
-- data: SELECT line FROM log ORDER BY n : ['i3j/2'] ['6'] ['s02.']
-- behaviour: || beside comments and text that hold its own words
CREATE PROCEDURE p (IN a INTEGER)
BEGIN
  INSERT INTO log (line) VALUES ('a || 1 + 2' /* || 3 * 4 */ || a -- || 5 / 1
    + 1 || '*');
  INSERT INTO log (line) SELECT COUNT(*) || ':' || SUM(id) * 2 || MOD(MAX(id), 2) + 1 FROM item;
END;
-- call: p a = 4
-- data: SELECT line FROM log ORDER BY n : ['a || 1 + 25*'] ['3:122']
