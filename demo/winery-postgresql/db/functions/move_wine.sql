-- Moves wine from one vessel to another: two levels and a line of the ledger, or nothing at all.
CREATE OR REPLACE FUNCTION move_wine(source varchar, target varchar, litres numeric)
RETURNS numeric
LANGUAGE plpgsql
AS $$
DECLARE
  touched integer;
BEGIN
  IF litres IS NULL OR litres <= 0 THEN
    RAISE EXCEPTION 'litres must be more than nothing' USING ERRCODE = '45000';
  END IF;

  UPDATE vessel SET level_l = level_l - litres
   WHERE code = source AND level_l >= litres;
  GET DIAGNOSTICS touched = ROW_COUNT;
  IF touched <> 1 THEN
    RAISE EXCEPTION '% does not hold % litres', source, litres USING ERRCODE = '45000';
  END IF;

  UPDATE vessel SET level_l = level_l + litres
   WHERE code = target AND level_l + litres <= capacity_l;
  IF NOT FOUND THEN
    RAISE EXCEPTION '% has no room for % litres', target, litres USING ERRCODE = '45000';
  END IF;

  INSERT INTO movement (source, target, litres) VALUES (source, target, litres);
  RETURN litres;
END;
$$;
