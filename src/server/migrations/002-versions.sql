-- Earlier states of a piece. `name` is set by the designer and keeps a version for good; the others thin out.
CREATE TABLE versions (
  piece TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL,
  document TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  name TEXT,
  PRIMARY KEY (piece, revision)
) STRICT;

-- A deleted piece can be brought back; it is forgotten after a month.
ALTER TABLE pieces ADD COLUMN deleted_at TEXT;
