-- A set that was deleted can be brought back until the store is opened again.
ALTER TABLE assumption_sets ADD COLUMN forgotten BOOLEAN NOT NULL DEFAULT FALSE;
