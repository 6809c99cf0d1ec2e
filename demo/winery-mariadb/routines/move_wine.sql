-- Moves wine from one vessel to another: two levels and a line of the ledger, or nothing at all.
DELIMITER //

CREATE OR REPLACE PROCEDURE move_wine (
  IN  p_source VARCHAR(8),
  IN  p_target VARCHAR(8),
  IN  p_litres DECIMAL(8, 1),
  OUT moved    DECIMAL(8, 1)
)
MODIFIES SQL DATA
BEGIN
  DECLARE said VARCHAR(128);
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    ROLLBACK TO SAVEPOINT before_move;
    RESIGNAL;
  END;

  SAVEPOINT before_move;
  IF p_litres IS NULL OR p_litres <= 0 THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'litres must be more than nothing';
  END IF;

  UPDATE vessel SET level_l = level_l - p_litres
   WHERE code = p_source AND level_l >= p_litres;
  IF ROW_COUNT() <> 1 THEN
    SET said = CONCAT(p_source, ' does not hold ', p_litres, ' litres');
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = said;
  END IF;

  UPDATE vessel SET level_l = level_l + p_litres
   WHERE code = p_target AND level_l + p_litres <= capacity_l;
  IF ROW_COUNT() <> 1 THEN
    SET said = CONCAT(p_target, ' has no room for ', p_litres, ' litres');
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = said;
  END IF;

  INSERT INTO movement (source, target, litres) VALUES (p_source, p_target, p_litres);
  SET moved = p_litres;
END //

-- Keeps every change of a level in the journal, old and new.
CREATE OR REPLACE TRIGGER vessel_journal
AFTER UPDATE ON vessel FOR EACH ROW
BEGIN
  IF NOT (NEW.level_l <=> OLD.level_l) THEN
    INSERT INTO journal (who, what, old_value, new_value)
    VALUES ('cellar', CONCAT('level of ', NEW.code), OLD.level_l, NEW.level_l);
  END IF;
END //

DELIMITER ;
