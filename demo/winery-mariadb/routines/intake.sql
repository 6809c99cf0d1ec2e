-- The grade of a delivery by its sugar, in degrees Brix. Unknown sugar, unknown grade.
CREATE OR REPLACE FUNCTION grade_for (sugar DECIMAL(4, 1)) RETURNS CHAR(1)
DETERMINISTIC NO SQL
RETURN CASE WHEN sugar >= 22.0 THEN 'A' WHEN sugar >= 19.5 THEN 'B' WHEN sugar IS NOT NULL THEN 'C' END;

-- Looks at every delivery before it is stored: refuses what can't be, completes what is missing.
CREATE OR REPLACE TRIGGER intake_is_sound BEFORE INSERT ON intake FOR EACH ROW
BEGIN
  DECLARE said VARCHAR(128);
  IF NEW.sugar NOT BETWEEN 10 AND 35 THEN
    SET said = CONCAT("a sugar of ", NEW.sugar, " Brix can't be right");
    SIGNAL SQLSTATE '45010' SET MESSAGE_TEXT = said;
  END IF;
  IF NEW.grade IS NULL THEN
    SET NEW.grade = grade_for(NEW.sugar);
  END IF;
END;

-- Weighs in a delivery of grapes and says what grade it is.
CREATE OR REPLACE PROCEDURE record_intake (
  IN p_plot INT, IN p_kilograms DECIMAL(9, 1), IN p_sugar DECIMAL(4, 1),
  OUT o_intake INT, OUT o_grade CHAR(1))
BEGIN
  IF NOT EXISTS (SELECT 1 FROM plot WHERE plot_id = p_plot) THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no such plot';
  END IF;
  INSERT INTO intake (plot_id, picked_on, kilograms, sugar)
  VALUES (p_plot, CURDATE(), p_kilograms, p_sugar);
  SET o_intake = LAST_INSERT_ID();
  SELECT grade INTO o_grade FROM intake WHERE intake_id = o_intake;
END;
