-- How people sign in to a shared server, and what they let each other see. What is secret is kept as a hash, but for the secret of
-- the second factor, from which codes must be worked out. Times are RFC 3339.

-- A person without a row here cannot sign in.
CREATE TABLE credentials (
  person_id TEXT PRIMARY KEY NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  -- The name in small letters: by it a person signs in.
  key TEXT NOT NULL,
  role TEXT NOT NULL CHECK (role IN ('owner', 'member')),
  -- Argon2id, as a PHC string.
  passphrase TEXT NOT NULL,
  changed_at TEXT NOT NULL,
  -- In base 32; empty without a second factor.
  second_factor TEXT NOT NULL DEFAULT '',
  -- The step of time whose code was used last: a code counts once.
  used_step BIGINT NOT NULL DEFAULT 0
);
CREATE UNIQUE INDEX credentials_key ON credentials (key);

-- Each stands once for the second factor.
CREATE TABLE recovery_codes (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  hash TEXT NOT NULL,
  PRIMARY KEY (person_id, hash)
);

CREATE TABLE sessions (
  -- Of the cookie.
  hash TEXT PRIMARY KEY NOT NULL,
  -- Shown where sessions are listed.
  id TEXT NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  -- When the passphrase was typed last.
  confirmed_at TEXT NOT NULL,
  -- From where, and in which browser.
  address TEXT NOT NULL,
  browser TEXT NOT NULL
);
CREATE INDEX sessions_of_person ON sessions (person_id);

-- Browsers in which a person has signed in: what strangers try does not keep them out.
CREATE TABLE devices (
  hash TEXT PRIMARY KEY NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL
);

-- Links that let somebody choose a passphrase, once.
CREATE TABLE invitations (
  hash TEXT PRIMARY KEY NOT NULL,
  id TEXT NOT NULL,
  -- Who comes back in; empty for somebody new.
  person_id TEXT REFERENCES persons (id) ON DELETE CASCADE,
  role TEXT NOT NULL CHECK (role IN ('owner', 'member')),
  -- Whether whoever comes back has lost the second factor, too: else it is still asked for.
  second_factor_lost BOOLEAN NOT NULL DEFAULT FALSE,
  -- For whom, in the words of whoever invites.
  note TEXT NOT NULL,
  -- Who invites; empty at the terminal.
  made_by TEXT REFERENCES persons (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL,
  ends_at TEXT NOT NULL
);
CREATE UNIQUE INDEX invitations_id ON invitations (id);

-- For scripts.
CREATE TABLE access_tokens (
  hash TEXT PRIMARY KEY NOT NULL,
  id TEXT NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  -- Separated by spaces.
  scopes TEXT NOT NULL,
  made_at TEXT NOT NULL,
  ends_at TEXT NOT NULL,
  used_at TEXT
);
CREATE UNIQUE INDEX access_tokens_id ON access_tokens (id);

-- What was done that others may have to know of. Only added to.
CREATE TABLE audit (
  n INTEGER PRIMARY KEY NOT NULL,
  at TEXT NOT NULL,
  -- Who did it, as known then: an entry outlives its person.
  person_id TEXT NOT NULL,
  name TEXT NOT NULL,
  what TEXT NOT NULL,
  about TEXT NOT NULL,
  address TEXT NOT NULL
);
CREATE INDEX audit_of_person ON audit (person_id, n);
CREATE TRIGGER audit_is_not_changed BEFORE UPDATE ON audit BEGIN
  SELECT RAISE(ABORT, 'the audit log is not changed');
END;
CREATE TRIGGER audit_is_not_shortened BEFORE DELETE ON audit BEGIN
  SELECT RAISE(ABORT, 'the audit log is not shortened');
END;

-- What a person lets everybody on this server read who has the link.
CREATE TABLE shares (
  token TEXT PRIMARY KEY NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  -- "document" or "backtest", and its id.
  kind TEXT NOT NULL,
  object_id TEXT NOT NULL,
  shared_at TEXT NOT NULL
);
CREATE UNIQUE INDEX shares_object ON shares (kind, object_id);
CREATE INDEX shares_of_person ON shares (person_id);

-- Private addresses end, too, and new ones are kept as hashes. The one that ends a digest is in every digest.
ALTER TABLE addresses ADD COLUMN ends_at TEXT NOT NULL DEFAULT '9999-12-31T00:00:00Z';
UPDATE addresses SET ends_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '+366 days') WHERE purpose <> 'end-digest';
