-- Some of October's work, one statement after another; all of it is taken back at the end.
SELECT move_wine('T1', 'C7', 120) AS moved;
CALL record_intake(plot => 20, kilograms => 800, sugar => 23.5);
DO $$
BEGIN
  RAISE NOTICE 'in the journal: %', (SELECT count(*) FROM journal);
END;
$$;
SELECT code, level_l FROM vessel WHERE level_l > 0 ORDER BY code;
