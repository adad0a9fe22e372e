-- For which sessions a saved screen was run, so that it can say what changed since. Nothing is computed with it.
CREATE TABLE runs (
  document_id TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
  -- The session, as YYYY-MM-DD.
  as_of TEXT NOT NULL,
  -- How many companies passed.
  found INTEGER NOT NULL,
  ran_at TEXT NOT NULL,
  PRIMARY KEY (document_id, as_of)
);
