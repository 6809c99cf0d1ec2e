-- What check says of a routine with mistakes; only for its picture.
CREATE PROCEDURE top_up (IN vessel VARCHAR(8), OUT topped DECIMAL(8, 1))
BEGIN
  DECLARE missing DECIMAL(8, 1);

  SELECT v.capacity_l - v.level_l INTO missng FROM vessel v WHERE v.code = vessel;
  IF missing = NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no vessel ' + vessel;
  END IF;
  UPDATE vessel SET levl = capacity_l WHERE code = vessel;
  CALL note_topping(vessel, missing);
  DELETE FROM bottling;
END;
