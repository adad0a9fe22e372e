CREATE TABLE mappings (
  signature TEXT PRIMARY KEY NOT NULL,
  mapping TEXT NOT NULL
) WITHOUT ROWID;
CREATE TABLE own_measures (
  id TEXT PRIMARY KEY NOT NULL,
  label TEXT NOT NULL,
  note TEXT NOT NULL,
  unit TEXT,
  formula TEXT NOT NULL
);
CREATE TABLE assumption_sets (
  name TEXT NOT NULL,
  version INTEGER NOT NULL,
  body TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  forgotten BOOLEAN NOT NULL DEFAULT FALSE,
  PRIMARY KEY (name, version)
);
CREATE TABLE overrides (
  company_id TEXT PRIMARY KEY NOT NULL,
  body TEXT NOT NULL,
  saved_at TEXT NOT NULL
);
