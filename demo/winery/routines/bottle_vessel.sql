-- Bottles what a vessel holds, as many whole bottles as there are, and empties it by that much.
CREATE PROCEDURE bottle_vessel (
  IN  vessel    VARCHAR(8),
  IN  format_ml INTEGER DEFAULT 750,
  OUT bottles   INTEGER
)
MODIFIES SQL DATA
BEGIN
  DECLARE held   DECIMAL(8, 1);
  DECLARE used_l DECIMAL(8, 1);
  DECLARE EXIT HANDLER FOR NOT FOUND
  BEGIN
    SET bottles = 0;
    REPORT 'there is no vessel ', vessel, ': nothing is bottled';
  END;

  SET bottles = 0;
  IF format_ml IS NULL OR format_ml <= 0 THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a bottle holds some millilitres';
  END IF;
  SELECT v.level_l INTO held FROM vessel v WHERE v.code = vessel;
  SET bottles = TRUNCATE(held * 1000 / format_ml);
  IF bottles = 0 THEN
    REPORT vessel, ' holds ', held, ' litres: not one bottle';
    RETURN;
  END IF;

  SET used_l = bottles * format_ml / 1000.0;
  UPDATE vessel SET level_l = level_l - used_l WHERE code = vessel;
  INSERT INTO bottling (vessel, bottled_on, bottles, format_ml)
  VALUES (vessel, CURRENT_DATE, bottles, format_ml);
  REPORT bottles, ' bottles of ', format_ml, ' ml from ', vessel;
END;
