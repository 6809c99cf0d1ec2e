-- The grade of a delivery by its sugar, in degrees Brix. Unknown sugar, unknown grade.
CREATE OR REPLACE FUNCTION grade_for(sugar numeric) RETURNS char(1)
LANGUAGE sql IMMUTABLE
AS $$
  SELECT CASE WHEN sugar >= 22.0 THEN 'A' WHEN sugar >= 19.5 THEN 'B' WHEN sugar IS NOT NULL THEN 'C' END
$$;

-- Looks at every delivery before it is stored: refuses what can't be, completes what is missing.
CREATE OR REPLACE FUNCTION intake_is_sound() RETURNS trigger
LANGUAGE plpgsql
AS $$
BEGIN
  IF NEW.sugar NOT BETWEEN 10 AND 35 THEN
    RAISE EXCEPTION 'a sugar of % Brix can''t be right', NEW.sugar USING ERRCODE = '45010';
  END IF;
  NEW.grade := coalesce(NEW.grade, grade_for(NEW.sugar));
  RETURN NEW;
END;
$$;

CREATE TRIGGER intake_is_sound BEFORE INSERT ON intake
FOR EACH ROW EXECUTE FUNCTION intake_is_sound();

-- Weighs in a delivery of grapes and says what grade it is.
CREATE OR REPLACE PROCEDURE record_intake(
  plot integer, kilograms numeric, sugar numeric DEFAULT NULL,
  INOUT intake_id integer DEFAULT NULL, INOUT grade char DEFAULT NULL)
LANGUAGE plpgsql
AS $$
#variable_conflict use_variable
BEGIN
  PERFORM 1 FROM plot p WHERE p.plot_id = plot;
  IF NOT FOUND THEN
    RAISE EXCEPTION 'there is no plot %', plot USING ERRCODE = '45000';
  END IF;
  INSERT INTO intake AS i (plot_id, picked_on, kilograms, sugar)
  VALUES (plot, current_date, kilograms, sugar)
  RETURNING i.intake_id, i.grade INTO intake_id, grade;
END;
$$;
