-- behaviour: a text that holds the mark that quotes a body elsewhere is a text
CREATE PROCEDURE p (OUT v VARCHAR(80))
BEGIN
  SET v = 'a $body$; DROP TABLE log; -- $body_2$ ' || '$$';
END;
-- call: p
-- out: v = 'a $body$; DROP TABLE log; -- $body_2$ $$'
-- data: SELECT COUNT(*) FROM log : [0]
-- behaviour: a procedure with blanks in its name is called by another
CREATE PROCEDURE "my proc" (IN "the n" INTEGER, OUT "The N" INTEGER) SET "The N" = "the n" + 1;
CREATE PROCEDURE p (OUT v INTEGER) CALL "my proc"(1, v);
-- call: p
-- out: v = 2
-- behaviour: a function with letters of all kinds in its name is called in SQL
CREATE FUNCTION "Über Größe" (a INTEGER) RETURNS INTEGER RETURN a * 2;
CREATE PROCEDURE p (OUT v INTEGER, OUT w INTEGER)
BEGIN
  SET v = "Über Größe"(4);
  SELECT "Über Größe"(price) INTO w FROM tag WHERE code = 'cc';
END;
-- call: p
-- out: v = 8, w = 6
-- behaviour: a trigger with a delimited name fires
CREATE TRIGGER "My Trig" AFTER INSERT ON tag FOR EACH ROW INSERT INTO log (line) VALUES (NEW.code);
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 4);
-- call: p
-- data: SELECT line FROM log : ['dd']
-- behaviour: several triggers with delimited names keep their order
CREATE TRIGGER "z first" BEFORE INSERT ON tag FOR EACH ROW SET NEW.price = NEW.price + 1;
CREATE TRIGGER "A second" BEFORE INSERT ON tag FOR EACH ROW SET NEW.price = NEW.price * 10;
CREATE PROCEDURE p () INSERT INTO tag VALUES ('dd', 4);
-- call: p
-- data: SELECT price FROM tag WHERE code = 'dd' : [41]
-- behaviour: a delimited variable with a quote in its name
CREATE PROCEDURE p (OUT v INTEGER)
BEGIN
  DECLARE "it""s" INTEGER DEFAULT 1;
  SET "it""s" = "it""s" + 1;
  SELECT "it""s" + price INTO v FROM tag WHERE code = 'cc';
END;
-- call: p
-- out: v = 5
-- behaviour: a key is set anew in one row, found by its key
CREATE PROCEDURE p ()
BEGIN
  UPDATE must SET id = id + 10 WHERE id = 1;
  INSERT INTO must VALUES (1, 'a', 'b');
  UPDATE must SET id = id + 10 WHERE id = 1;
END;
-- call: p
-- data: SELECT id FROM must : [11]
-- behaviour: a routine says whose rights it runs with
CREATE PROCEDURE p (OUT v INTEGER) SQL SECURITY INVOKER COMMENT 'it''s one' SET v = 1;
-- call: p
-- out: v = 1
-- behaviour: a function says whose rights it runs with
CREATE FUNCTION f () RETURNS INTEGER DETERMINISTIC SQL SECURITY DEFINER COMMENT 'two' RETURN 2;
CREATE PROCEDURE p (OUT v INTEGER) SET v = f();
-- call: p
-- out: v = 2
-- behaviour: what follows SQL SECURITY is one of two words
CREATE PROCEDURE p () SQL SECURITY NOBODY BEGIN END;
-- problem: syntax 1:36 expected INVOKER or DEFINER after SQL SECURITY
-- behaviour: a characteristic is said once
CREATE PROCEDURE p () DETERMINISTIC NOT DETERMINISTIC BEGIN END;
-- problem: syntax the routine says DETERMINISTIC twice
-- behaviour: a language that nobody reads here is an error
CREATE PROCEDURE p () LANGUAGE PLPGSQL BEGIN END;
-- problem: syntax expected SQL or JAVA after LANGUAGE
