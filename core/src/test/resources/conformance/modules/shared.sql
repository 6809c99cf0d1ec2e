-- behaviour: the routines of a module see each other, whatever their order
CREATE MODULE m
  FUNCTION a (x INTEGER) RETURNS INTEGER RETURN b(x) + 1;
  FUNCTION b (x INTEGER) RETURNS INTEGER RETURN x * 10;
END MODULE;
-- call: m.a x = 2
-- returns: 21
-- behaviour: from outside a routine is called with its module's name
CREATE MODULE m
  PROCEDURE note (IN x VARCHAR(20)) INSERT INTO log (line) VALUES (x);
  FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;
END MODULE;
CREATE PROCEDURE p (OUT n INTEGER)
BEGIN
  CALL m.note('here');
  SET n = m.twice(4);
END;
-- call: p
-- out: n = 8
-- data: SELECT line FROM log : ['here']
-- behaviour: a module's routine wins over one outside that has its name
CREATE FUNCTION f () RETURNS INTEGER RETURN 1;
CREATE MODULE m
  FUNCTION f () RETURNS INTEGER RETURN 2;
  FUNCTION g () RETURNS INTEGER RETURN f();
END MODULE;
CREATE FUNCTION h () RETURNS INTEGER RETURN f();
-- call: m.g
-- returns: 2
-- call: h
-- returns: 1
-- behaviour: what is private is not seen outside
CREATE MODULE m
  PRIVATE FUNCTION secret () RETURNS INTEGER RETURN 1;
  PRIVATE DECLARE hidden INTEGER DEFAULT 3;
  FUNCTION open_one () RETURNS INTEGER RETURN secret() + hidden;
END MODULE;
CREATE PROCEDURE p (OUT n INTEGER) SET n = m.secret();
CREATE PROCEDURE q (OUT n INTEGER) SET n = m.hidden;
-- problem: private-name
-- problem: private-name
-- behaviour: what is private is seen inside
CREATE MODULE m
  PRIVATE FUNCTION secret () RETURNS INTEGER RETURN 1;
  PRIVATE DECLARE hidden INTEGER DEFAULT 3;
  FUNCTION open_one () RETURNS INTEGER RETURN secret() + hidden;
END MODULE;
-- call: m.open_one
-- returns: 4
-- behaviour: a module's variable lives as long as the session
CREATE MODULE m
  DECLARE calls INTEGER DEFAULT 0;
  PROCEDURE bump () SET calls = calls + 1;
  FUNCTION seen () RETURNS INTEGER RETURN calls;
END MODULE;
CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER)
BEGIN
  CALL m.bump();
  CALL m.bump();
  SET a = m.seen();
  SET m.calls = 10;
  CALL m.bump();
  SET b = m.calls;
END;
-- call: p
-- out: a = 2, b = 11
-- call: m.seen
-- returns: 0
-- behaviour: constants of a module may use those before them, and can't be assigned
CREATE MODULE m
  DECLARE base CONSTANT INTEGER DEFAULT 6;
  DECLARE answer CONSTANT INTEGER DEFAULT base * 7;
  FUNCTION f () RETURNS INTEGER RETURN answer;
END MODULE;
-- call: m.f
-- returns: 42
-- behaviour: an assignment to a module's constant is an error
CREATE MODULE m
  DECLARE base CONSTANT INTEGER DEFAULT 6;
  PROCEDURE p () SET base = 1;
END MODULE;
-- problem: not-assignable
-- behaviour: a module's variable is stored by the rules of its type
CREATE MODULE m
  DECLARE small SMALLINT;
  PROCEDURE p (IN x INTEGER) SET small = x;
END MODULE;
-- call: m.p x = 40000
-- raises: 22003
-- behaviour: a module's variable in SQL is a value, and a column of its name wins
CREATE MODULE m
  DECLARE low INTEGER DEFAULT 2;
  DECLARE id INTEGER DEFAULT 1;
  FUNCTION f () RETURNS INTEGER RETURN (SELECT COUNT(*) FROM item i WHERE i.id >= low AND id = i.id);
END MODULE;
-- call: m.f
-- returns: 2
-- behaviour: a function of a module is called from inside SQL
CREATE MODULE m
  FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;
  FUNCTION total () RETURNS INTEGER RETURN (SELECT SUM(twice(i.id)) FROM item i);
END MODULE;
CREATE PROCEDURE p (OUT n INTEGER) SELECT SUM(m.twice(i.id)) INTO n FROM item i;
-- call: p
-- out: n = 12
-- call: m.total
-- returns: 12
-- behaviour: a condition declared in a module is known to its routines
CREATE MODULE m
  DECLARE too_much CONDITION FOR SQLSTATE '45060';
  PROCEDURE check_it (IN x INTEGER) BEGIN IF x > 5 THEN SIGNAL too_much; END IF; END;
  FUNCTION guarded (x INTEGER) RETURNS VARCHAR(5)
  BEGIN
    DECLARE EXIT HANDLER FOR too_much RETURN 'much';
    CALL check_it(x);
    RETURN 'fine';
  END;
END MODULE;
-- call: m.guarded x = 9
-- returns: 'much'
-- call: m.guarded x = 1
-- returns: 'fine'
-- behaviour: overloads of a module differ in the number of parameters or in their types
CREATE MODULE m
  FUNCTION show (x INTEGER) RETURNS VARCHAR(20) RETURN 'number';
  FUNCTION show (x VARCHAR(20)) RETURNS VARCHAR(20) RETURN 'text';
  FUNCTION show (x INTEGER, y INTEGER) RETURNS VARCHAR(20) RETURN 'two';
  FUNCTION f () RETURNS VARCHAR(60) RETURN show(1) || ' ' || show('a') || ' ' || show(1, 2);
END MODULE;
-- call: m.f
-- returns: 'number text two'
-- behaviour: procedures are chosen by the number of their arguments
CREATE PROCEDURE p (IN a INTEGER, OUT r VARCHAR(5)) SET r = 'one';
CREATE PROCEDURE p (IN a INTEGER, IN b INTEGER, OUT r VARCHAR(5)) SET r = 'two';
CREATE PROCEDURE q (OUT r VARCHAR(12), OUT s VARCHAR(5))
BEGIN
  CALL p(1, r);
  CALL p(1, 2, s);
END;
-- call: q
-- out: r = 'one', s = 'two'
-- behaviour: errors in several routines of a module are all found
CREATE MODULE m
  PROCEDURE a () SET x = ;
  PROCEDURE b () CALL nowhere();
  FUNCTION c () RETURNS INTEGER RETURN 1;
END MODULE;
-- problem: syntax
-- problem: unknown-name
