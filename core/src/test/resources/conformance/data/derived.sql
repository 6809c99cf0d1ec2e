-- behaviour: a derived table sees a variable, and not its own columns or its neighbours'
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER, OUT k INTEGER)
BEGIN
  DECLARE dd INTEGER DEFAULT 4; DECLARE qty INTEGER DEFAULT 100; DECLARE note VARCHAR(9) DEFAULT 'v';
  SELECT SUM(x.dd), SUM(x.q), COUNT(x.note) INTO n, m, k
    FROM (SELECT dd + id AS dd, qty AS q, note AS note FROM parent WHERE note = 'one') x
    JOIN item i ON i.id = 1 AND qty = 10;
END;
-- call: p
-- out: n = 5, m = 100, k = 1
-- behaviour: a common table expression sees no table of its query
CREATE PROCEDURE p (OUT n INTEGER, OUT m INTEGER)
BEGIN
  DECLARE qty INTEGER DEFAULT 100; DECLARE dd INTEGER DEFAULT 1;
  WITH c AS (SELECT id, qty AS q, dd AS dd FROM parent), d (dd) AS (SELECT dd + c.dd FROM c WHERE c.id = 2)
  SELECT SUM(c.q + item.qty), MAX(d.dd) INTO n, m FROM c JOIN item ON item.id = c.id CROSS JOIN d;
END;
-- call: p
-- out: n = 230, m = 2
-- behaviour: a row variable in a derived table of its name
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE x ROW (a INTEGER, b INTEGER);
  SET x.a = 3; SET x.b = 5;
  SET n = (SELECT SUM(x.a) FROM (SELECT x.a + x.b + id AS a FROM item) x WHERE EXISTS (SELECT 1 FROM parent WHERE parent.id < x.a));
END;
-- call: p
-- out: n = 30
-- behaviour: a subquery in a derived table sees the derived table's rows
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  DECLARE qty INTEGER DEFAULT 7; DECLARE price INTEGER DEFAULT 50;
  SELECT SUM(x.s) INTO n FROM (SELECT (SELECT MAX(parent.id + qty) FROM parent) + price AS s FROM (SELECT qty FROM item WHERE id < 3) i) x, item WHERE item.id = 2;
END;
-- call: p
-- out: n = 134
