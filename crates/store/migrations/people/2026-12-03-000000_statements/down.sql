DROP INDEX ledger_events_of_import;
ALTER TABLE ledger_events DROP COLUMN import_id;
DROP TABLE statement_imports;
