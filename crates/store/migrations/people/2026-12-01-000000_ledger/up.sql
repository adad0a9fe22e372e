-- Accounts and what happened in them. All else follows from the events. Days are YYYY-MM-DD, times RFC 3339.

CREATE TABLE accounts (
  id TEXT PRIMARY KEY NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  currency TEXT NOT NULL,
  -- "simulated" or "by_hand".
  kind TEXT NOT NULL,
  -- "first_in_first_out" or "average".
  lots TEXT NOT NULL,
  made_at TEXT NOT NULL
);
CREATE UNIQUE INDEX accounts_name ON accounts (person_id, name);

-- The journal: only added to. Those of one day happen in the order of their numbers.
CREATE TABLE ledger_events (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  n INTEGER NOT NULL,
  account_id TEXT NOT NULL REFERENCES accounts (id),
  date TEXT NOT NULL,
  -- JSON, with decimals as text.
  body TEXT NOT NULL,
  -- By what it is the same event: what a session did is there once.
  key TEXT NOT NULL,
  made_at TEXT NOT NULL,
  PRIMARY KEY (person_id, n)
);
CREATE UNIQUE INDEX ledger_events_key ON ledger_events (person_id, key);

-- The last session that the broker has worked.
CREATE TABLE broker_worked (
  person_id TEXT PRIMARY KEY NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  session TEXT NOT NULL
);
