-- How much wine a barrel loses in a number of months: 1.5 % of what is in it, month by month.
-- There is a mistake in here. The cases find it, and the debugger shows where it is born.
CREATE OR REPLACE PROCEDURE topping_loss(vessel varchar, months integer, OUT lost numeric)
LANGUAGE plpgsql
AS $$
DECLARE
  level_now numeric(10, 3);
  loss      numeric(10, 3);
BEGIN
  lost := 0;
  SELECT v.level_l INTO level_now FROM vessel v WHERE v.code = vessel;
  IF NOT FOUND THEN
    RAISE EXCEPTION 'there is no vessel %', vessel USING ERRCODE = '45000';
  END IF;

  FOR month IN 0..months LOOP
    loss := level_now * 0.015;
    level_now := level_now - loss;
    lost := lost + loss;
  END LOOP;
  lost := round(lost, 1);
END;
$$;
