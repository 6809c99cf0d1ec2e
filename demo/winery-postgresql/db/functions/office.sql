-- What a grower is owed for a vintage: weight by grade, at that vintage's prices, less what is paid.
CREATE OR REPLACE FUNCTION amount_owed(grower integer, year integer) RETURNS numeric
LANGUAGE plpgsql STABLE
AS $$
DECLARE
  earned numeric(10, 2);
  paid   numeric(10, 2);
BEGIN
  SELECT sum(i.kilograms * g.per_kg) INTO earned
    FROM intake i
    JOIN plot p USING (plot_id)
    JOIN grade_price g ON g.grade = i.grade AND g.vintage = year
   WHERE p.grower_id = grower AND extract(year FROM i.picked_on) = year;
  SELECT sum(y.amount) INTO paid
    FROM payment y WHERE y.grower_id = grower AND y.vintage = year;
  RETURN coalesce(earned, 0) - coalesce(paid, 0);
END;
$$;

-- Pays growers what they are owed for a vintage, at most so many at a time.
CREATE OR REPLACE PROCEDURE settle_vintage(
  year integer, OUT paid integer, OUT left_over integer, at_most integer DEFAULT 100)
LANGUAGE plpgsql
AS $$
DECLARE
  one record;
BEGIN
  paid := 0;
  left_over := 0;
  IF year IS NULL THEN
    RAISE EXCEPTION 'which vintage is to be settled?' USING ERRCODE = '45000';
  END IF;
  FOR one IN
    SELECT g.grower_id, amount_owed(g.grower_id, year) AS owed
      FROM grower g ORDER BY g.grower_id
  LOOP
    CONTINUE WHEN one.owed <= 0;
    IF paid < at_most THEN
      INSERT INTO payment (grower_id, vintage, amount, paid_on)
      VALUES (one.grower_id, year, one.owed, current_date);
      paid := paid + 1;
    ELSE
      left_over := left_over + 1;
    END IF;
  END LOOP;
END;
$$;

-- A line for each vessel, the fullest first.
CREATE OR REPLACE FUNCTION cellar_report()
RETURNS TABLE (code varchar, wine text, litres numeric, filled integer)
LANGUAGE plpgsql STABLE
AS $$
BEGIN
  RAISE NOTICE 'as of today';
  RETURN QUERY
    SELECT v.code, coalesce(l.label, 'empty'), v.level_l, (v.level_l * 100 / v.capacity_l)::integer
      FROM vessel v LEFT JOIN lot l USING (lot_id)
     ORDER BY 4 DESC, 1;
END;
$$;
