-- A new grower. What has a default in the table is left to it; the new number is handed out.
CREATE PROCEDURE register_grower (
  IN  name      VARCHAR(60),
  IN  village   VARCHAR(40),
  OUT grower_id INTEGER
)
MODIFIES SQL DATA
BEGIN
  IF name IS NULL OR TRIM(name) = '' THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a grower needs a name';
  END IF;
  IF village IS NULL OR TRIM(village) = '' THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a grower needs a village';
  END IF;

  INSERT INTO grower (name, village) VALUES (name, village);
  SET grower_id = (SELECT MAX(g.grower_id) FROM grower g);
END;
