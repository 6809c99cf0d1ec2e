-- Looks at every delivery before it is stored: refuses what can't be, completes what is missing.
CREATE TRIGGER intake_is_sound
BEFORE INSERT ON intake
FOR EACH ROW
BEGIN
  IF NEW.sugar NOT BETWEEN 10 AND 35 THEN
    SIGNAL SQLSTATE '45010'
      SET MESSAGE_TEXT = 'a sugar of ' || NEW.sugar || ' Brix can''t be right';
  END IF;
  IF NEW.grade IS NULL THEN
    SET NEW.grade = grade_for(NEW.sugar);
  END IF;
END;
