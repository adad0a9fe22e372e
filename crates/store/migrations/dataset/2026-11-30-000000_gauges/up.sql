-- The market at month ends, under what it was computed with: made again when it is not there.
CREATE TABLE gauges (
  settings TEXT NOT NULL,
  date TEXT NOT NULL,
  body TEXT NOT NULL,
  PRIMARY KEY (settings, date)
);
