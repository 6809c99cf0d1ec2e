-- Pays growers what they are owed for a vintage, at most so many at a time, and says how many are
-- left, so that the next call goes on.
CREATE PROCEDURE settle_vintage (
  IN  year    INTEGER,
  IN  at_most INTEGER DEFAULT 100,
  OUT paid    INTEGER,
  OUT left_over INTEGER
)
MODIFIES SQL DATA
BEGIN
  DECLARE one  INTEGER;
  DECLARE owed DECIMAL(10, 2);
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE growers CURSOR FOR
    SELECT g.grower_id, amount_owed(g.grower_id, year)
      FROM grower g
     WHERE amount_owed(g.grower_id, year) > 0
     ORDER BY g.grower_id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;

  SET paid = 0;
  SET left_over = 0;
  IF year IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'which vintage is to be settled?';
  END IF;
  OPEN growers;
  FETCH growers INTO one, owed;
  WHILE NOT done DO
    IF paid < at_most THEN
      INSERT INTO payment (grower_id, vintage, amount, paid_on)
      VALUES (one, year, owed, CURRENT_DATE);
      SET paid = paid + 1;
    ELSE
      SET left_over = left_over + 1;
    END IF;
    FETCH growers INTO one, owed;
  END WHILE;
  CLOSE growers;
END;
