CREATE TABLE pieces (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  about TEXT NOT NULL DEFAULT '',
  -- The document as written by the core, `.glemmo.json` text.
  document TEXT NOT NULL,
  -- Counts up with every save; a save names the one it is based on.
  revision INTEGER NOT NULL,
  -- Name of the demo piece it was made from, if any.
  demo TEXT,
  created_at TEXT NOT NULL,
  touched_at TEXT NOT NULL
) STRICT;

CREATE INDEX pieces_touched ON pieces (touched_at DESC);
CREATE UNIQUE INDEX pieces_demo ON pieces (demo) WHERE demo IS NOT NULL;

-- Files brought in, by the SHA-256 of their bytes.
CREATE TABLE assets (
  hash TEXT PRIMARY KEY,
  file TEXT NOT NULL,
  bytes BLOB NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

-- Moving pictures for the shelf: a strip of equal frames side by side.
CREATE TABLE thumbnails (
  piece TEXT PRIMARY KEY REFERENCES pieces (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL,
  type TEXT NOT NULL,
  frames INTEGER NOT NULL,
  bytes BLOB NOT NULL
) STRICT;
