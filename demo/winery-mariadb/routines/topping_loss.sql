-- How much wine a barrel loses in a number of months: 1.5 % of what is in it, month by month.
-- There is a mistake in here. The cases find it, and the debugger shows where it is born.
CREATE OR REPLACE PROCEDURE topping_loss (IN p_vessel VARCHAR(8), IN months INT, OUT lost DECIMAL(8, 1))
READS SQL DATA
BEGIN
  DECLARE level_now, loss, total DECIMAL(10, 3) DEFAULT 0;
  DECLARE month INT DEFAULT 0;
  DECLARE EXIT HANDLER FOR NOT FOUND
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no such vessel';

  SELECT level_l INTO level_now FROM vessel WHERE code = p_vessel;
  each_month: WHILE month <= months DO
    SET loss = level_now * 0.015;
    SET level_now = level_now - loss;
    SET total = total + loss;
    SET month = month + 1;
  END WHILE each_month;
  SET lost = total;
END;
