-- What the rows of each table add up to (see people/checksums.rs): by it damage on the disk is noticed.
CREATE TABLE checksums (
  of_table TEXT PRIMARY KEY NOT NULL,
  sum BIGINT NOT NULL
);
