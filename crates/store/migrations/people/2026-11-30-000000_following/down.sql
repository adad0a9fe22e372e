DROP TABLE addresses;
DROP TABLE mails;
DROP TABLE firings;
DROP TABLE worked;
DROP TABLE put_away;
DROP TABLE visits;
