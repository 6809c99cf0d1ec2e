-- An evening in October: wine is moved, a little is bottled, and the levels are looked at.
CALL move_wine('T1', 'C7', 120);
CALL bottle_vessel(vessel => 'C7', format_ml => 375);

BEGIN
  DECLARE owed DECIMAL(10, 2);

  FOR one AS SELECT g.grower_id, g.name FROM grower g WHERE g.active ORDER BY g.name DO
    SET owed = amount_owed(one.grower_id, 2031);
    IF owed > 0 THEN
      REPORT one.name, ' is owed ', owed;
    END IF;
  END FOR;
END;

SELECT code, kind, level_l FROM vessel ORDER BY code;
