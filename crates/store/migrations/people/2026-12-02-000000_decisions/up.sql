-- What was decided about companies, with an immutable copy of what was seen, and how it was looked at again later.
CREATE TABLE decisions (
    id TEXT PRIMARY KEY NOT NULL,
    person_id TEXT NOT NULL REFERENCES persons (id),
    decided_on TEXT NOT NULL,
    company TEXT NOT NULL,
    order_name TEXT,
    body TEXT NOT NULL,
    made_at TEXT NOT NULL
);
CREATE INDEX decisions_of_person ON decisions (person_id, decided_on);
CREATE TRIGGER decisions_stay BEFORE UPDATE ON decisions BEGIN
    SELECT RAISE(ABORT, 'a decision is not changed');
END;

CREATE TABLE decision_reviews (
    decision_id TEXT NOT NULL REFERENCES decisions (id),
    n INTEGER NOT NULL,
    body TEXT NOT NULL,
    made_at TEXT NOT NULL,
    PRIMARY KEY (decision_id, n)
);
CREATE TRIGGER decision_reviews_stay BEFORE UPDATE ON decision_reviews BEGIN
    SELECT RAISE(ABORT, 'a review is not changed');
END;
