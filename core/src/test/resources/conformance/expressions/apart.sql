-- behaviour: divisions of names that stand apart from their dots and brackets
CREATE FUNCTION two (a INTEGER) RETURNS INTEGER RETURN a * 2;
CREATE PROCEDURE p (OUT a DECIMAL(20, 10), OUT b INTEGER, OUT c INTEGER, OUT d DECIMAL(20, 10))
BEGIN
  SELECT i . price / 4 , i. qty / 3, two (i .qty) / 3, i .price / i . qty
    INTO a, b, c, d FROM item AS i WHERE I . ID = 1;
END;
-- call: p
-- out: a = 0.0625000000, b = 3, c = 6, d = 0.0250000000
-- behaviour: divisions behind a bracket, a CAST over lines and keywords
CREATE PROCEDURE p (OUT a DECIMAL(20, 10), OUT b INTEGER)
BEGIN
  SELECT CAST
    ( qty
      AS DECIMAL(8, 2) ) / 4, ( qty ) / ( 3 ) INTO a, b
    FROM item WHERE ( qty ) / 2 = 5;
END;
-- call: p
-- out: a = 2.5000000000, b = 3
