-- Keeps every change of a level in the journal, old and new.
CREATE TRIGGER vessel_journal
AFTER UPDATE OF level_l ON vessel
REFERENCING OLD ROW AS was NEW ROW AS now
FOR EACH ROW
WHEN (was.level_l <> now.level_l)
INSERT INTO journal (who, what, old_value, new_value)
VALUES ('cellar', 'level of ' || now.code,
        CAST(was.level_l AS VARCHAR(40)), CAST(now.level_l AS VARCHAR(40)));
