DROP TABLE overrides;
DROP TABLE assumption_sets;
