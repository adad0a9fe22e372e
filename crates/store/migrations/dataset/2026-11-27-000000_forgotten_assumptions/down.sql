DELETE FROM assumption_sets WHERE forgotten;
ALTER TABLE assumption_sets DROP COLUMN forgotten;
