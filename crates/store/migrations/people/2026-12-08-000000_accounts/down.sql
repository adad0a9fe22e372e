ALTER TABLE addresses DROP COLUMN ends_at;
DROP TABLE shares;
DROP TABLE audit;
DROP TABLE access_tokens;
DROP TABLE invitations;
DROP TABLE devices;
DROP TABLE sessions;
DROP TABLE recovery_codes;
DROP TABLE credentials;
