-- Capsules that every piece may use. A version is a piece with one node, the capsule's instance, in `.glemmo.json` text.
CREATE TABLE capsules (
  id TEXT PRIMARY KEY,
  title TEXT NOT NULL,
  about TEXT NOT NULL DEFAULT '',
  -- The newest version; older ones stay, as pieces were made with them.
  version INTEGER NOT NULL,
  -- Name of the capsule it ships as, if it does.
  shipped TEXT,
  touched_at TEXT NOT NULL,
  deleted_at TEXT
) STRICT;

CREATE UNIQUE INDEX capsules_shipped ON capsules (shipped) WHERE shipped IS NOT NULL;

CREATE TABLE capsule_versions (
  capsule TEXT NOT NULL REFERENCES capsules (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  document TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  PRIMARY KEY (capsule, version)
) STRICT;
