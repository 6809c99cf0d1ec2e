-- The grade of a delivery by its sugar, in degrees Brix. Unknown sugar, unknown grade.
CREATE FUNCTION grade_for (sugar DECIMAL(4, 1))
RETURNS CHAR(1)
DETERMINISTIC
CONTAINS SQL
RETURN CASE
         WHEN sugar IS NULL THEN NULL
         WHEN sugar >= 22.0 THEN 'A'
         WHEN sugar >= 19.5 THEN 'B'
         ELSE 'C'
       END;
