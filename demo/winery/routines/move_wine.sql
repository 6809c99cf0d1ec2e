-- Moves wine from one vessel to another: two levels and a line of the ledger, or nothing at all.
CREATE PROCEDURE move_wine (
  IN  source VARCHAR(8),
  IN  target VARCHAR(8),
  IN  litres DECIMAL(8, 1),
  OUT moved  DECIMAL(8, 1)
)
MODIFIES SQL DATA
BEGIN
  DECLARE touched INTEGER;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    ROLLBACK;
    SET moved = 0;
    RESIGNAL;
  END;

  IF litres IS NULL OR litres <= 0 THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'litres must be more than nothing';
  END IF;

  START TRANSACTION;

  UPDATE vessel SET level_l = level_l - litres
   WHERE code = source AND level_l >= litres;
  GET DIAGNOSTICS touched = ROW_COUNT;
  IF touched <> 1 THEN
    SIGNAL SQLSTATE '45000'
      SET MESSAGE_TEXT = source || ' does not hold ' || litres || ' litres';
  END IF;

  UPDATE vessel SET level_l = level_l + litres
   WHERE code = target AND level_l + litres <= capacity_l;
  GET DIAGNOSTICS touched = ROW_COUNT;
  IF touched <> 1 THEN
    SIGNAL SQLSTATE '45000'
      SET MESSAGE_TEXT = target || ' has no room for ' || litres || ' litres';
  END IF;

  INSERT INTO movement (source, target, litres)
  VALUES (move_wine.source, move_wine.target, move_wine.litres);

  COMMIT;
  SET moved = litres;
END;
