ALTER TABLE insider_trades DROP COLUMN superseded_on;
