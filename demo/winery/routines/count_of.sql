-- How many rows a table has that a column holds a value in. The names come from outside, so they are
-- looked up before they become part of a statement; the value is passed with a marker.
CREATE PROCEDURE count_of (
  IN  table_name  VARCHAR(40),
  IN  column_name VARCHAR(40),
  IN  wanted      VARCHAR(40),
  OUT how_many    INTEGER
)
READS SQL DATA
BEGIN
  DECLARE known INTEGER;
  DECLARE real_table, real_column VARCHAR(64);

  SET how_many = 0;
  SELECT COUNT(*), MIN(k.table_name), MIN(k.column_name) INTO known, real_table, real_column
    FROM information_schema.columns k
   WHERE UPPER(k.table_name) = UPPER(count_of.table_name)
     AND UPPER(k.column_name) = UPPER(count_of.column_name)
     AND k.table_schema = CURRENT_SCHEMA;
  IF known = 0 THEN
    SIGNAL SQLSTATE '45050'
      SET MESSAGE_TEXT = 'there is no column ' || column_name || ' in ' || table_name;
  END IF;

  -- advice: concatenated-sql off: both names were found in the catalog just now
  PREPARE counting FROM 'SELECT COUNT(*) FROM ' || real_table || ' WHERE ' || real_column || ' = ?';
  EXECUTE counting INTO how_many USING wanted;
END;
