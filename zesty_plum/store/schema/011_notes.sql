-- Trials: a recipe before and after, where, what was looked for, what was seen, and what came of it.
CREATE TABLE trial (
  id INTEGER PRIMARY KEY,
  made_at TEXT NOT NULL,
  slip INTEGER,
  version INTEGER NOT NULL DEFAULT 0,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  scene TEXT NOT NULL DEFAULT '',
  place TEXT NOT NULL DEFAULT '',
  case_id INTEGER,
  asked TEXT NOT NULL DEFAULT '',
  seen TEXT NOT NULL DEFAULT '',
  kept TEXT NOT NULL DEFAULT '',
  next TEXT NOT NULL DEFAULT '',
  answered_at TEXT,
  tags TEXT NOT NULL DEFAULT '[]',
  words TEXT NOT NULL DEFAULT '[]',
  pictures TEXT NOT NULL DEFAULT '[]',
  deleted_at TEXT
) STRICT;
-- Plans of one change at a time, and what was marked in them.
CREATE TABLE single (
  id INTEGER PRIMARY KEY,
  made_at TEXT NOT NULL,
  name TEXT NOT NULL,
  slip INTEGER,
  base TEXT NOT NULL,
  dial TEXT NOT NULL,
  places TEXT NOT NULL,
  lights TEXT NOT NULL,
  marks TEXT NOT NULL DEFAULT '[]',
  deleted_at TEXT
) STRICT;
