-- behaviour: a module's variable in a recursion is one for all levels
CREATE MODULE m
  DECLARE deepest INTEGER DEFAULT 0;
  PROCEDURE down (IN n INTEGER)
  BEGIN
    IF n > deepest THEN SET deepest = n; END IF;
    IF n < 4 THEN CALL down(n + 1); END IF;
  END;
  FUNCTION seen () RETURNS INTEGER RETURN deepest;
END MODULE;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN CALL m.down(1); SET n = m.seen(); END;
-- call: p
-- out: n = 4
-- behaviour: two modules have routines and variables of one name
CREATE MODULE a
  DECLARE v INTEGER DEFAULT 1;
  FUNCTION f () RETURNS INTEGER RETURN v;
END MODULE;
CREATE MODULE b
  DECLARE v INTEGER DEFAULT 2;
  FUNCTION f () RETURNS INTEGER RETURN v * 10;
END MODULE;
CREATE PROCEDURE p (OUT r VARCHAR(10)) SET r = a.f() || ' ' || b.f();
-- call: p
-- out: r = '1 20'
-- behaviour: a module's variable is not rolled back by an exception that is handled
CREATE MODULE m
  DECLARE n INTEGER DEFAULT 0;
  PROCEDURE fail () BEGIN SET n = n + 1; SIGNAL SQLSTATE '45001'; END;
  FUNCTION seen () RETURNS INTEGER RETURN n;
END MODULE;
CREATE PROCEDURE p (OUT r INTEGER)
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' BEGIN END;
  CALL m.fail();
  CALL m.fail();
  SET r = m.seen();
END;
-- call: p
-- out: r = 2
-- behaviour: a local variable hides the module's, whose name in full is seen
CREATE MODULE m
  DECLARE v INTEGER DEFAULT 1;
  FUNCTION f () RETURNS VARCHAR(10)
  BEGIN
    DECLARE v INTEGER DEFAULT 2;
    RETURN v || ' ' || m.v;
  END;
END MODULE;
-- call: m.f
-- returns: '2 1'
-- behaviour: a module's condition is signalled and handled by its name in each of its routines
CREATE MODULE m
  DECLARE dry CONDITION FOR SQLSTATE '45020';
  PROCEDURE raise_it () SIGNAL dry SET MESSAGE_TEXT = 'dry';
  FUNCTION handled () RETURNS VARCHAR(10)
  BEGIN
    DECLARE EXIT HANDLER FOR dry RETURN 'handled';
    CALL raise_it();
    RETURN 'no';
  END;
END MODULE;
-- call: m.handled
-- returns: 'handled'
-- call: m.raise_it
-- raises: 45020 dry
-- behaviour: a default of a module's routine uses its constant
CREATE MODULE m
  DECLARE usual CONSTANT INTEGER DEFAULT 12;
  FUNCTION f (a INTEGER DEFAULT 5) RETURNS INTEGER RETURN a + usual;
END MODULE;
CREATE PROCEDURE p (OUT x INTEGER, OUT y INTEGER) BEGIN SET x = m.f(); SET y = m.f(1); END;
-- call: p
-- out: x = 17, y = 13
-- behaviour: a trigger uses a module
CREATE MODULE m
  DECLARE seen INTEGER DEFAULT 0;
  PROCEDURE note (IN t VARCHAR(20)) BEGIN SET seen = seen + 1; INSERT INTO log (line) VALUES (seen || t); END;
END MODULE;
CREATE TRIGGER keep AFTER UPDATE ON parent FOR EACH ROW CALL m.note(NEW.note);
CREATE PROCEDURE p () UPDATE parent SET note = note || '!';
-- call: p
-- data: SELECT line FROM log ORDER BY n : ['1one!'] ['2two!']
-- behaviour: an unknown member of a module is an error
CREATE MODULE m FUNCTION f () RETURNS INTEGER RETURN 1; END MODULE;
CREATE PROCEDURE p (OUT r INTEGER) SET r = m.g();
CREATE PROCEDURE q (OUT r INTEGER) SET r = m.v;
CREATE PROCEDURE s () CALL m.h();
-- problem: unknown-name
-- problem: unknown-name
-- problem: unknown-name
-- behaviour: a module's procedures with state, overloads and private helpers
CREATE MODULE depot
  DECLARE stock INTEGER DEFAULT 5;
  PRIVATE FUNCTION clipped (n INTEGER) RETURNS INTEGER RETURN CASE WHEN n < 0 THEN 0 ELSE n END;
  PROCEDURE take (IN n INTEGER, OUT got INTEGER)
  BEGIN
    SET got = CASE WHEN n > stock THEN stock ELSE clipped(n) END;
    SET stock = stock - got;
  END;
  FUNCTION left_over () RETURNS INTEGER RETURN stock;
END MODULE;
CREATE PROCEDURE p ()
BEGIN
  DECLARE g INTEGER;
  CALL depot.take(3, g); REPORT g, ' ', depot.left_over();
  CALL depot.take(-4, g); REPORT g, ' ', depot.left_over();
  CALL depot.take(9, g); REPORT g, ' ', depot.left_over();
END;
-- call: p
-- says: 3 2
-- says: 0 2
-- says: 2 0
