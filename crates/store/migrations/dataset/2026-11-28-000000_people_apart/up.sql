-- What belongs to persons lies in people.sqlite: it was copied there before this runs.
DROP TABLE own_measures;
DROP TABLE assumption_sets;
DROP TABLE overrides;
DROP TABLE mappings;
DELETE FROM settings WHERE key = 'assumptions';
