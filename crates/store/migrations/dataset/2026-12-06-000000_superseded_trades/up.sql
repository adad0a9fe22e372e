-- The day on which an amendment replaced a trade: it counts until then. A price that is not known is -1: it is part of the key.
ALTER TABLE insider_trades ADD COLUMN superseded_on INTEGER;
