-- Cases: the cameras that somebody really has, each a copy of a body.
CREATE TABLE kit_case (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  body TEXT NOT NULL,
  carried TEXT NOT NULL DEFAULT '',
  letter TEXT NOT NULL DEFAULT '',
  crop REAL NOT NULL DEFAULT 1,
  cards TEXT NOT NULL DEFAULT '',
  batteries INTEGER NOT NULL DEFAULT 0,
  note TEXT NOT NULL DEFAULT '',
  added_at TEXT NOT NULL,
  retired_at TEXT,
  like_case INTEGER REFERENCES kit_case (id),
  came INTEGER
) STRICT;
-- What each slot should hold: a version of a slip as it was when it was put there.
CREATE TABLE kit_slot (
  case_id INTEGER NOT NULL REFERENCES kit_case (id),
  key TEXT NOT NULL,
  slip INTEGER,
  version INTEGER NOT NULL DEFAULT 0,
  recipe TEXT NOT NULL,
  why TEXT NOT NULL DEFAULT '',
  scene TEXT NOT NULL DEFAULT '',
  put_at TEXT NOT NULL,
  left_so TEXT,
  PRIMARY KEY (case_id, key)
) STRICT;
-- Settings beside the look as they should be.
CREATE TABLE kit_beside (
  case_id INTEGER NOT NULL REFERENCES kit_case (id),
  setting TEXT NOT NULL,
  value TEXT NOT NULL,
  PRIMARY KEY (case_id, setting)
) STRICT;
-- What was found in a case, and when; never written over.
CREATE TABLE kit_reading (
  id INTEGER PRIMARY KEY,
  case_id INTEGER NOT NULL REFERENCES kit_case (id),
  read_at TEXT NOT NULL,
  how TEXT NOT NULL,
  card TEXT NOT NULL
) STRICT;
-- A plan as it was before a change, so that the change can be undone.
CREATE TABLE kit_before (
  id INTEGER PRIMARY KEY,
  case_id INTEGER NOT NULL REFERENCES kit_case (id),
  at TEXT NOT NULL,
  slots TEXT NOT NULL,
  beside TEXT NOT NULL
) STRICT;
