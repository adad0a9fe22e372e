-- What follows a person from day to day. Nothing is computed with it. Sessions and days are YYYY-MM-DD, times RFC 3339.

-- When a person last looked at what happened, and up to which session.
CREATE TABLE visits (
  person_id TEXT PRIMARY KEY NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  -- The newest session seen in the visit that ended before this one.
  since TEXT,
  -- The newest session seen in this one.
  seen TEXT NOT NULL,
  -- When they looked last.
  looked_at TEXT NOT NULL,
  -- When the visit before this one ended.
  ended_at TEXT
);

-- Lines of the page Today that were put away, with the state in which they were.
CREATE TABLE put_away (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  line TEXT NOT NULL,
  state TEXT NOT NULL,
  put_at TEXT NOT NULL,
  PRIMARY KEY (person_id, line)
);

-- The last session for which alerts and messages were worked out.
CREATE TABLE worked (
  person_id TEXT PRIMARY KEY NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  session TEXT NOT NULL
);

-- What alerts said. A session says a thing of a company once.
CREATE TABLE firings (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  alert_id TEXT NOT NULL,
  session TEXT NOT NULL,
  -- Empty where it is about none.
  company_id TEXT NOT NULL,
  symbol TEXT NOT NULL,
  name TEXT NOT NULL,
  -- The name of the alert, and what is said.
  alert TEXT NOT NULL,
  sentence TEXT NOT NULL,
  fired_at TEXT NOT NULL,
  seen_at TEXT,
  PRIMARY KEY (person_id, alert_id, session, company_id)
);
CREATE INDEX firings_session ON firings (person_id, session);

-- Messages to be sent and those that were. A thing is said in one message.
CREATE TABLE mails (
  id TEXT PRIMARY KEY NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  -- By what it is the same message: "alerts 2026-07-01", "digest 2026-07-01".
  key TEXT NOT NULL,
  -- The session up to which it tells.
  session TEXT NOT NULL,
  recipient TEXT NOT NULL,
  subject TEXT NOT NULL,
  text TEXT NOT NULL,
  html TEXT NOT NULL,
  made_at TEXT NOT NULL,
  sent_at TEXT,
  attempts INTEGER NOT NULL DEFAULT 0,
  -- When to try again; empty when not.
  next_at TEXT,
  problem TEXT NOT NULL DEFAULT ''
);
CREATE UNIQUE INDEX mails_key ON mails (person_id, key);

-- Addresses under which calendars and feeds can be read without being signed in: whoever knows one may read.
CREATE TABLE addresses (
  token TEXT PRIMARY KEY NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  purpose TEXT NOT NULL,
  made_at TEXT NOT NULL
);
CREATE UNIQUE INDEX addresses_purpose ON addresses (person_id, purpose);
