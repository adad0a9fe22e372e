-- What the rows of each owner in a table add up to (see checksums.rs): by it damage on the disk is noticed.
CREATE TABLE checksums (
  owner TEXT NOT NULL,
  of_table TEXT NOT NULL,
  sum BIGINT NOT NULL,
  PRIMARY KEY (owner, of_table)
) WITHOUT ROWID;
