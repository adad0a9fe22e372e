-- Backtests: what was asked, on which data and with which assumptions, and what came of it. One that has no outcome yet waits, and goes
-- on waiting over a restart.
CREATE TABLE backtests (
    id TEXT PRIMARY KEY NOT NULL,
    person_id TEXT NOT NULL REFERENCES persons (id),
    name TEXT NOT NULL,
    screen TEXT NOT NULL,
    settings TEXT NOT NULL,
    state TEXT NOT NULL,
    message TEXT NOT NULL,
    dataset TEXT NOT NULL,
    assumptions TEXT NOT NULL,
    version TEXT NOT NULL,
    asked_at TEXT NOT NULL,
    ended_at TEXT,
    deleted_at TEXT,
    summary TEXT,
    outcome BLOB,
    variants TEXT
);
CREATE INDEX backtests_of_person ON backtests (person_id, asked_at);
CREATE INDEX backtests_waiting ON backtests (state, asked_at);
