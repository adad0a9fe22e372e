-- The rest of the dataset's tables, what the user put on companies, and what is kept of imports.
CREATE TABLE officers (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  name TEXT NOT NULL,
  role TEXT NOT NULL,
  -- The smallest day stands for an unknown beginning: a key may not be null.
  since INTEGER NOT NULL,
  until INTEGER,
  birth_year INTEGER,
  PRIMARY KEY (company_id, name, role, since)
) WITHOUT ROWID;

CREATE TABLE events (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  date INTEGER NOT NULL,
  kind TEXT NOT NULL,
  confirmed BOOLEAN NOT NULL,
  PRIMARY KEY (company_id, date, kind)
) WITHOUT ROWID;

CREATE TABLE news (
  id INTEGER PRIMARY KEY NOT NULL,
  -- NULL for the market as a whole.
  company_id TEXT REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  published_at TEXT NOT NULL,
  headline TEXT NOT NULL,
  summary TEXT NOT NULL,
  source TEXT NOT NULL
);
CREATE UNIQUE INDEX news_key ON news (coalesce(company_id, ''), published_at, headline);
CREATE INDEX news_company ON news (company_id);

CREATE TABLE indexes (
  id TEXT PRIMARY KEY NOT NULL,
  name TEXT NOT NULL,
  currency TEXT NOT NULL
);

CREATE TABLE index_members (
  index_id TEXT NOT NULL REFERENCES indexes (id) DEFERRABLE INITIALLY DEFERRED,
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  from_day INTEGER NOT NULL,
  to_day INTEGER,
  PRIMARY KEY (index_id, company_id, from_day)
) WITHOUT ROWID;

CREATE TABLE index_levels (
  index_id TEXT NOT NULL REFERENCES indexes (id) DEFERRABLE INITIALLY DEFERRED,
  date INTEGER NOT NULL,
  level DOUBLE NOT NULL,
  PRIMARY KEY (index_id, date)
) WITHOUT ROWID;

CREATE TABLE annotations (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  value TEXT NOT NULL,
  noted_on INTEGER,
  PRIMARY KEY (company_id, kind, name)
) WITHOUT ROWID;

-- One row an import, whatever became of it; kept so that its report can be read later.
CREATE TABLE imports (
  id INTEGER PRIMARY KEY NOT NULL,
  title TEXT NOT NULL,
  finished_at TEXT NOT NULL,
  outcome TEXT NOT NULL,
  message TEXT NOT NULL,
  row_count BIGINT NOT NULL,
  bad_rows BIGINT NOT NULL,
  report TEXT NOT NULL
);

-- How CSV files with certain headers were mapped the last time.
CREATE TABLE mappings (
  signature TEXT PRIMARY KEY NOT NULL,
  mapping TEXT NOT NULL
) WITHOUT ROWID;
