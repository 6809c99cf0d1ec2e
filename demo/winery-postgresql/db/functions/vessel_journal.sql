-- Keeps every change of a level in the journal, old and new.
CREATE OR REPLACE FUNCTION vessel_journal() RETURNS trigger
LANGUAGE plpgsql
AS $$
BEGIN
  IF NEW.level_l IS DISTINCT FROM OLD.level_l THEN
    INSERT INTO journal (who, what, old_value, new_value, tags)
    VALUES ('cellar', 'level of ' || NEW.code, OLD.level_l, NEW.level_l, ARRAY['level', NEW.kind::text]);
  END IF;
  RETURN NEW;
END;
$$;

CREATE TRIGGER vessel_journal
AFTER UPDATE OF level_l ON vessel
FOR EACH ROW EXECUTE FUNCTION vessel_journal();
