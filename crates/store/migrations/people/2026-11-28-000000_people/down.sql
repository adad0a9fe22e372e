DROP TABLE mappings;
DROP TABLE preferences;
DROP TABLE overrides;
DROP TABLE document_versions;
DROP TABLE documents;
DROP TABLE persons;
