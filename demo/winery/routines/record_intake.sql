-- Weighs in a delivery of grapes and says what grade it is.
CREATE PROCEDURE record_intake (
  IN  plot      LIKE intake.plot_id,
  IN  kilograms LIKE intake.kilograms,
  IN  sugar     LIKE intake.sugar DEFAULT NULL,
  OUT intake_id LIKE intake.intake_id,
  OUT grade     LIKE intake.grade
)
MODIFIES SQL DATA
BEGIN
  DECLARE known INTEGER;

  SELECT COUNT(*) INTO known FROM plot p WHERE p.plot_id = plot;
  IF known = 0 THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no plot ' || plot;
  END IF;

  IF kilograms IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a delivery has a weight';
  END IF;

  INSERT INTO intake (plot_id, picked_on, kilograms, sugar)
  VALUES (plot, CURRENT_DATE, kilograms, sugar);
  SET intake_id = (SELECT MAX(i.intake_id) FROM intake i);
  SET grade = grade_for(sugar);
END;
