DROP TABLE broker_worked;
DROP TABLE ledger_events;
DROP TABLE accounts;
