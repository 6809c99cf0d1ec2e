-- A line for each vessel, the fullest first, gathered in a table of its own.

CREATE PROCEDURE vessel_traffic (IN code VARCHAR(8), OUT came DECIMAL(10, 1), OUT went DECIMAL(10, 1))
READS SQL DATA
BEGIN
  SET came = (SELECT COALESCE(SUM(m.litres), 0) FROM movement m WHERE m.target = vessel_traffic.code);
  SET went = (SELECT COALESCE(SUM(m.litres), 0) FROM movement m WHERE m.source = vessel_traffic.code);
END;

CREATE PROCEDURE cellar_report (OUT vessels INTEGER, OUT held DECIMAL(10, 1))
MODIFIES SQL DATA
BEGIN
  DECLARE came, went DECIMAL(10, 1);
  DECLARE LOCAL TEMPORARY TABLE report_line (
    code   VARCHAR(8) PRIMARY KEY,
    wine   VARCHAR(40),
    litres DECIMAL(8, 1),
    filled INTEGER,
    came   DECIMAL(10, 1),
    went   DECIMAL(10, 1)
  );

  FOR v AS
    SELECT vessel.code, vessel.level_l, vessel.capacity_l, lot.label
      FROM vessel LEFT JOIN lot ON lot.lot_id = vessel.lot_id
  DO
    CALL vessel_traffic(v.code, came, went);
    INSERT INTO report_line
    VALUES (v.code, COALESCE(v.label, 'empty'), v.level_l,
            CAST(v.level_l * 100 / v.capacity_l AS INTEGER),
            came, went);
  END FOR;

  FOR r AS SELECT * FROM report_line ORDER BY filled DESC, code DO
    REPORT RPAD(r.code, 5, ' '), LPAD(CAST(r.litres AS VARCHAR(9)), 9, ' '), ' l ',
           LPAD(CAST(r.filled AS VARCHAR(3)), 4, ' '), ' %  in ', r.came, ', out ', r.went,
           '  ', r.wine;
  END FOR;

  SELECT COUNT(*), SUM(litres) INTO vessels, held FROM report_line;
END;
