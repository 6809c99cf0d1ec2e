-- behaviour: an INSTEAD OF trigger does an insert into a view its own way
CREATE TRIGGER stock_in INSTEAD OF INSERT ON stock FOR EACH ROW
INSERT INTO item (id, name, qty, price) VALUES (NEW.id, UPPER(NEW.name), NEW.qty, 1);
CREATE PROCEDURE p () INSERT INTO stock (id, name, qty) VALUES (8, 'crate', 4);
-- call: p
-- data: SELECT name, qty, price FROM item WHERE id = 8 : ['CRATE', 4, 1.00]
-- behaviour: an INSTEAD OF trigger sees the old and the new row of an update
CREATE TRIGGER stock_up INSTEAD OF UPDATE ON stock
REFERENCING OLD AS o NEW AS n FOR EACH ROW
BEGIN
  UPDATE item SET qty = n.qty WHERE id = o.id;
  INSERT INTO log (line) VALUES (o.name || ': ' || o.qty || ' -> ' || n.qty);
END;
CREATE PROCEDURE p () UPDATE stock SET qty = qty + 1 WHERE id <= 2;
-- call: p
-- data: SELECT line FROM log ORDER BY line : ['cork: 10 -> 11'] ['label: 20 -> 21']
-- data: SELECT SUM(qty) FROM item : [32]
-- behaviour: an INSTEAD OF trigger takes a delete
CREATE TRIGGER stock_out INSTEAD OF DELETE ON stock FOR EACH ROW
UPDATE item SET qty = NULL WHERE id = OLD.id;
CREATE PROCEDURE p () DELETE FROM stock WHERE id = 1;
-- call: p
-- data: SELECT COUNT(*) FROM item : [3]
-- data: SELECT COUNT(*) FROM stock : [1]
-- behaviour: what an INSTEAD OF trigger raises undoes what it did
CREATE TRIGGER stock_in INSTEAD OF INSERT ON stock FOR EACH ROW
BEGIN
  INSERT INTO log (line) VALUES ('tried');
  SIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = 'closed';
END;
CREATE PROCEDURE p (OUT m VARCHAR(20))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45009' GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
  INSERT INTO stock (id, name, qty) VALUES (9, 'x', 1);
END;
-- call: p
-- out: m = 'closed'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: INSTEAD OF is for views
CREATE TRIGGER t INSTEAD OF INSERT ON item FOR EACH ROW INSERT INTO log (line) VALUES ('x');
-- problem: wrong-declaration
-- behaviour: BEFORE and AFTER are for tables
CREATE TRIGGER t AFTER INSERT ON stock FOR EACH ROW INSERT INTO log (line) VALUES ('x');
-- problem: wrong-declaration
