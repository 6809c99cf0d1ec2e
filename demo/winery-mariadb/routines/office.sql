-- What a grower is owed for a vintage: weight by grade, at that vintage's prices, less what is paid.
CREATE OR REPLACE FUNCTION amount_owed (p_grower INT, p_year INT) RETURNS DECIMAL(10, 2)
READS SQL DATA
BEGIN
  DECLARE earned, paid DECIMAL(10, 2);
  SELECT SUM(i.kilograms * g.per_kg) INTO earned
    FROM intake i
    JOIN plot p USING (plot_id)
    JOIN grade_price g ON g.grade = i.grade AND g.vintage = p_year
   WHERE p.grower_id = p_grower AND YEAR(i.picked_on) = p_year;
  SELECT SUM(amount) INTO paid FROM payment WHERE grower_id = p_grower AND vintage = p_year;
  RETURN IFNULL(earned, 0) - IFNULL(paid, 0);
END;

-- Pays growers what they are owed for a vintage, at most so many at a time.
CREATE OR REPLACE PROCEDURE settle_vintage (
  IN p_year INT, IN at_most INT, OUT paid INT, OUT left_over INT)
BEGIN
  DECLARE one INT;
  DECLARE owed DECIMAL(10, 2);
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE growers CURSOR FOR
    SELECT grower_id, amount_owed(grower_id, p_year) FROM grower ORDER BY grower_id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;

  SET paid = 0, left_over = 0;
  OPEN growers;
  pay: LOOP
    FETCH growers INTO one, owed;
    IF done THEN
      LEAVE pay;
    END IF;
    IF owed <= 0 THEN
      ITERATE pay;
    END IF;
    IF paid < at_most THEN
      INSERT INTO payment (grower_id, vintage, amount, paid_on) VALUES (one, p_year, owed, CURDATE());
      SET paid = paid + 1;
    ELSE
      SET left_over = left_over + 1;
    END IF;
  END LOOP pay;
  CLOSE growers;
END;

-- A line for each vessel, the fullest first.
CREATE OR REPLACE PROCEDURE cellar_report ()
SELECT v.code, IFNULL(l.label, 'empty') AS wine, v.level_l AS litres,
       CAST(v.level_l * 100 / v.capacity_l AS INTEGER) AS filled
  FROM vessel v LEFT JOIN lot l USING (lot_id)
 ORDER BY filled DESC, v.code;
