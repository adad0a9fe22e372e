ALTER TABLE events DROP COLUMN announced_on;
