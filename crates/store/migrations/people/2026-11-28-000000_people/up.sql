-- What belongs to persons. It refers to companies by id with symbol, ISIN and name as last seen, never by a key into the
-- dataset, which may be swapped. Times are RFC 3339.
CREATE TABLE persons (
  id TEXT PRIMARY KEY NOT NULL,
  name TEXT NOT NULL,
  created_at TEXT NOT NULL,
  -- Grows with every change of what the person computes with: see the triggers.
  revision BIGINT NOT NULL DEFAULT 0
);

-- Screens, column sets, assumption sets, measures: a document and its versions.
CREATE TABLE documents (
  id TEXT PRIMARY KEY NOT NULL,
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  folder TEXT NOT NULL,
  name TEXT NOT NULL,
  -- The newest version.
  version INTEGER NOT NULL,
  created_at TEXT NOT NULL,
  -- Until it is restored.
  deleted_at TEXT
);
CREATE UNIQUE INDEX documents_name ON documents (person_id, kind, name) WHERE deleted_at IS NULL;

CREATE TABLE document_versions (
  document_id TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  -- The documented JSON of its kind.
  body TEXT NOT NULL,
  note TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  PRIMARY KEY (document_id, version)
);

-- What a person assumes of a company.
CREATE TABLE overrides (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  company_id TEXT NOT NULL,
  symbol TEXT NOT NULL,
  isin TEXT NOT NULL,
  name TEXT NOT NULL,
  body TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  PRIMARY KEY (person_id, company_id)
);

CREATE TABLE preferences (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  value TEXT NOT NULL,
  PRIMARY KEY (person_id, key)
);

-- How CSV files with certain headers were mapped the last time.
CREATE TABLE mappings (
  person_id TEXT NOT NULL REFERENCES persons (id) ON DELETE CASCADE,
  signature TEXT NOT NULL,
  mapping TEXT NOT NULL,
  PRIMARY KEY (person_id, signature)
);

CREATE TRIGGER documents_added AFTER INSERT ON documents
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = NEW.person_id; END;
CREATE TRIGGER documents_changed AFTER UPDATE ON documents
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = NEW.person_id; END;
CREATE TRIGGER overrides_added AFTER INSERT ON overrides
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = NEW.person_id; END;
CREATE TRIGGER overrides_changed AFTER UPDATE ON overrides
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = NEW.person_id; END;
CREATE TRIGGER overrides_removed AFTER DELETE ON overrides
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = OLD.person_id; END;
CREATE TRIGGER preferences_added AFTER INSERT ON preferences
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = NEW.person_id; END;
CREATE TRIGGER preferences_changed AFTER UPDATE ON preferences
  BEGIN UPDATE persons SET revision = revision + 1 WHERE id = NEW.person_id; END;
