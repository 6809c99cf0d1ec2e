-- behaviour: own gcd in an expression
CREATE FUNCTION gcd (a INTEGER, b INTEGER) RETURNS VARCHAR(20) RETURN 'own ' || b;
CREATE PROCEDURE p (OUT r VARCHAR(40)) BEGIN SET r = gcd(12, 8); END;
-- call: p
-- out: r = 'own 8'
-- behaviour: own concat in an expression
CREATE FUNCTION concat (a INTEGER, b INTEGER) RETURNS VARCHAR(20) RETURN 'own ' || b;
CREATE PROCEDURE p (OUT r VARCHAR(40)) BEGIN SET r = concat(12, 8); END;
-- call: p
-- out: r = 'own 8'
-- behaviour: own instr in an expression
CREATE FUNCTION instr (a VARCHAR(9), b VARCHAR(9)) RETURNS VARCHAR(20) RETURN 'own ' || b;
CREATE PROCEDURE p (OUT r VARCHAR(40)) BEGIN SET r = instr('12', '8'); END;
-- call: p
-- out: r = 'own 8'
-- behaviour: own year in an expression
CREATE FUNCTION year (a INTEGER, b INTEGER) RETURNS VARCHAR(20) RETURN 'own ' || b;
CREATE PROCEDURE p (OUT r VARCHAR(40)) BEGIN SET r = year(12, 8); END;
-- call: p
-- out: r = 'own 8'
-- behaviour: own starts_with in an expression
CREATE FUNCTION starts_with (a VARCHAR(9), b VARCHAR(9)) RETURNS VARCHAR(20) RETURN 'own ' || b;
CREATE PROCEDURE p (OUT r VARCHAR(40)) BEGIN SET r = starts_with('12', '8'); END;
-- call: p
-- out: r = 'own 8'
-- behaviour: own to_char in an expression
CREATE FUNCTION to_char (a INTEGER, b INTEGER) RETURNS VARCHAR(20) RETURN 'own ' || b;
CREATE PROCEDURE p (OUT r VARCHAR(40)) BEGIN SET r = to_char(12, 8); END;
-- call: p
-- out: r = 'own 8'
