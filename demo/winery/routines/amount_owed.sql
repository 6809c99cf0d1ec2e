-- What a grower is owed for a vintage: weight by grade, at that vintage's prices, less what is paid.
CREATE FUNCTION amount_owed (grower INTEGER, year INTEGER)
RETURNS DECIMAL(10, 2)
READS SQL DATA
BEGIN
  DECLARE earned DECIMAL(10, 2);
  DECLARE paid   DECIMAL(10, 2);

  SET earned = (SELECT SUM(i.kilograms * g.per_kg)
                  FROM intake i
                  JOIN plot p ON p.plot_id = i.plot_id
                  JOIN grade_price g ON g.grade = i.grade AND g.vintage = year
                 WHERE p.grower_id = grower
                   AND i.picked_on BETWEEN CAST(year || '-01-01' AS DATE)
                                       AND CAST(year || '-12-31' AS DATE));
  SET paid = (SELECT SUM(y.amount) FROM payment y
               WHERE y.grower_id = grower AND y.vintage = year);
  RETURN COALESCE(earned, 0) - COALESCE(paid, 0);
END;
