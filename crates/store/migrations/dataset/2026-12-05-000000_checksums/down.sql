DROP TABLE checksums;
