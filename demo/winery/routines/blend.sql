-- Works out a blend: how many litres of each wine make a quantity, by their parts. The shares come in
-- as they are wished and go out as they add up; where that can't be, they stay as they were.
CREATE PROCEDURE blend (
  IN    total  DECIMAL(8, 1),
  INOUT shares DECIMAL(8, 3) ARRAY[10],
  OUT   litres DECIMAL(8, 1) ARRAY[10]
)
CONTAINS SQL
BEGIN
  DECLARE i     INTEGER DEFAULT 1;
  DECLARE parts DECIMAL(12, 3) DEFAULT 0;
  DECLARE given DECIMAL(10, 1) DEFAULT 0;

  SET litres = CAST(ARRAY[] AS DECIMAL(8, 1) ARRAY[10]);
  WHILE i <= CARDINALITY(shares) DO
    IF shares[i] < 0 THEN
      SIGNAL SQLSTATE '45040' SET MESSAGE_TEXT = 'share ' || i || ' is negative';
    END IF;
    SET parts = parts + shares[i];
    -- What has been changed so far must not be seen by the caller if a later share is wrong.
    SET shares[i] = shares[i] * 1000;
    SET i = i + 1;
  END WHILE;
  IF parts = 0 THEN
    SIGNAL SQLSTATE '45040' SET MESSAGE_TEXT = 'a blend of nothing';
  END IF;

  SET i = 1;
  WHILE i <= CARDINALITY(shares) DO
    SET shares[i] = shares[i] / 1000 / parts;
    SET litres[i] = total * shares[i];
    SET given = given + litres[i];
    SET i = i + 1;
  END WHILE;
  -- What rounding has left over goes to the first.
  SET litres[1] = litres[1] + total - given;
END;
