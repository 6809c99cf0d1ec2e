-- How much wine a barrel loses in a number of months: 1.5 % of what is in it, month by month.
-- There is a mistake in here. The cases find it, and the debugger shows where it is born.
CREATE PROCEDURE topping_loss (
  IN  vessel VARCHAR(8),
  IN  months INTEGER,
  OUT lost   DECIMAL(8, 1)
)
READS SQL DATA
BEGIN
  DECLARE level_now DECIMAL(10, 3);
  DECLARE loss      DECIMAL(10, 3);
  DECLARE month     INTEGER DEFAULT 0;

  SET lost = 0;
  SELECT v.level_l INTO level_now FROM vessel v WHERE v.code = vessel;
  IF level_now IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no vessel ' || vessel;
  END IF;

  WHILE month <= months DO
    SET loss = level_now * 0.015;
    SET level_now = level_now - loss;
    SET lost = lost + loss;
    SET month = month + 1;
  END WHILE;
END;
