-- Versions are stored as text first and packed (deflate, RFC 1951) in the background. How long the server had been running
-- when one was kept, and how far it has been thinned: what a clock says alone removes nothing.
CREATE TABLE kept_versions (
  piece TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL,
  document TEXT,
  packed BLOB,
  saved_at TEXT NOT NULL,
  name TEXT,
  ran INTEGER NOT NULL DEFAULT 0,
  -- 0: every save, 1: one an hour, 2: one a day.
  tier INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (piece, revision),
  CHECK ((document IS NULL) <> (packed IS NULL))
) STRICT;

INSERT INTO kept_versions (piece, revision, document, saved_at, name)
  SELECT piece, revision, document, saved_at, name FROM versions;
DROP TABLE versions;
ALTER TABLE kept_versions RENAME TO versions;

CREATE INDEX versions_unpacked ON versions (piece) WHERE document IS NOT NULL;

-- Seconds that the server has been running in all when a piece was deleted.
ALTER TABLE pieces ADD COLUMN deleted_ran INTEGER;

-- What the background work remembers: `running`, seconds; `thinned`, how long it had been running at the last thinning.
CREATE TABLE upkeep (
  name TEXT PRIMARY KEY,
  value INTEGER NOT NULL
) STRICT;
