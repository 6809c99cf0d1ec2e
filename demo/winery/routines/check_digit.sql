-- The check digit of a bottle's number: an external routine, from lib/check-digit.jar (its source is
-- in lib-src).
CREATE FUNCTION check_digit (digits VARCHAR(20))
RETURNS INTEGER
LANGUAGE JAVA
DETERMINISTIC
NO SQL
RETURNS NULL ON NULL INPUT
PARAMETER STYLE JAVA
EXTERNAL NAME 'check-digit:CheckDigit.of';

CREATE PROCEDURE complete_number (INOUT number VARCHAR(20), OUT digit INTEGER)
LANGUAGE JAVA
NO SQL
PARAMETER STYLE JAVA
EXTERNAL NAME 'check-digit:CheckDigit.complete';
