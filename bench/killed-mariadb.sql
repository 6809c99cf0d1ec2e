SELECT COUNT(*) AS sessions FROM information_schema.processlist
 WHERE user = SUBSTRING_INDEX(CURRENT_USER(), '@', 1) AND id <> CONNECTION_ID();
