-- Statements that were imported into an account: each can be taken back as a whole.
CREATE TABLE statement_imports (
    id TEXT PRIMARY KEY NOT NULL,
    person_id TEXT NOT NULL REFERENCES persons (id),
    account_id TEXT NOT NULL REFERENCES accounts (id),
    file TEXT NOT NULL,
    imported_at TEXT NOT NULL
);
ALTER TABLE ledger_events ADD COLUMN import_id TEXT REFERENCES statement_imports (id);
CREATE INDEX ledger_events_of_import ON ledger_events (import_id) WHERE import_id IS NOT NULL;
