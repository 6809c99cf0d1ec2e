SELECT count(*) AS sessions FROM pg_stat_activity
 WHERE usename = current_user AND pid <> pg_backend_pid() AND backend_type = 'client backend';
SELECT count(*) AS locks FROM pg_locks WHERE locktype = 'advisory' AND pid <> pg_backend_pid();
