-- Assumption sets of the user's own: every version that was saved.
CREATE TABLE assumption_sets (
  name TEXT NOT NULL,
  version INTEGER NOT NULL,
  body TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  PRIMARY KEY (name, version)
);

-- What the user assumes of single companies.
CREATE TABLE overrides (
  company_id TEXT PRIMARY KEY NOT NULL,
  body TEXT NOT NULL,
  saved_at TEXT NOT NULL
);
