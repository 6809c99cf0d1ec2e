-- A grower who has ever been paid stays in the books.
CREATE TRIGGER grower_has_history
BEFORE DELETE ON grower
REFERENCING OLD ROW AS leaving
FOR EACH ROW
BEGIN
  DECLARE payments INTEGER;

  SELECT COUNT(*) INTO payments FROM payment p WHERE p.grower_id = leaving.grower_id;
  IF payments > 0 THEN
    SIGNAL SQLSTATE '45020'
      SET MESSAGE_TEXT = leaving.name || ' has ' || payments || ' payments and must stay';
  END IF;
END;
