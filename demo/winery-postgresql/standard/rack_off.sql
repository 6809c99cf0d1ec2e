-- Empties a vessel into the casks, each as far as it has room. In the standard language, beside the
-- server's own: what moves wine is PL/pgSQL.
CREATE PROCEDURE rack_off(IN emptied VARCHAR(8), OUT moved DECIMAL(8, 1), OUT moves INTEGER)
BEGIN
  DECLARE rest DECIMAL(8, 1);
  DECLARE part DECIMAL(8, 1);

  SET moved = 0, moves = 0;
  SET rest = (SELECT level_l FROM vessel WHERE code = emptied);
  IF rest IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no such vessel';
  END IF;

  casks: FOR cask AS SELECT code, capacity_l - level_l AS room FROM vessel
                      WHERE kind = 'cask' AND code <> emptied AND level_l < capacity_l
                      ORDER BY code DO
    IF rest <= 0 THEN
      LEAVE casks;
    END IF;
    SET part = smaller(rest, cask.room);
    SET part = move_wine(emptied, cask.code, part);
    SET rest = rest - part, moved = moved + part, moves = moves + 1;
  END FOR casks;
END;

CREATE FUNCTION smaller(a DECIMAL(8, 1), b DECIMAL(8, 1)) RETURNS DECIMAL(8, 1)
BEGIN
  IF b < a THEN
    RETURN b;
  END IF;
  RETURN a;
END;
