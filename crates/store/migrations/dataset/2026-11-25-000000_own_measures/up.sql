-- Measures that the user wrote.
CREATE TABLE own_measures (
  id TEXT PRIMARY KEY NOT NULL,
  label TEXT NOT NULL,
  note TEXT NOT NULL,
  unit TEXT,
  formula TEXT NOT NULL
);
