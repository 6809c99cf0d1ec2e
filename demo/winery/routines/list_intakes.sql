-- The deliveries, by whatever is asked; a filter that is NULL lets everything through.
CREATE PROCEDURE list_intakes (
  IN wanted_grade CHAR(1)       DEFAULT NULL,
  IN at_least_kg  DECIMAL(9, 1) DEFAULT NULL
)
READS SQL DATA
DYNAMIC RESULT SETS 1
SELECT i.intake_id, g.name, p.variety, i.kilograms, i.sugar, i.grade
  FROM intake i
  JOIN plot p ON p.plot_id = i.plot_id
  JOIN grower g ON g.grower_id = p.grower_id
 WHERE (wanted_grade IS NULL OR i.grade = wanted_grade)
   AND (at_least_kg IS NULL OR i.kilograms >= at_least_kg)
 ORDER BY i.intake_id;
