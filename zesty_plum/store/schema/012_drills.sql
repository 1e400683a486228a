-- People who drill their eyes, what they were asked and what they said.
CREATE TABLE eye (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  made_at TEXT NOT NULL,
  screen_at TEXT,
  darks INTEGER NOT NULL DEFAULT 0,
  lights INTEGER NOT NULL DEFAULT 0,
  used INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE TABLE drill (
  id INTEGER PRIMARY KEY,
  eye INTEGER NOT NULL REFERENCES eye (id),
  kind TEXT NOT NULL,
  seed INTEGER NOT NULL,
  many INTEGER NOT NULL,
  fixed INTEGER NOT NULL DEFAULT 0,
  made_at TEXT NOT NULL,
  screen TEXT NOT NULL DEFAULT '',
  deleted_at TEXT
) STRICT;
CREATE TABLE drill_answer (
  drill INTEGER NOT NULL REFERENCES drill (id),
  number INTEGER NOT NULL,
  question TEXT NOT NULL,
  said TEXT NOT NULL,
  right INTEGER NOT NULL,
  measure TEXT NOT NULL DEFAULT '',
  size REAL NOT NULL DEFAULT 0,
  seconds REAL NOT NULL DEFAULT 0,
  at TEXT NOT NULL,
  PRIMARY KEY (drill, number)
) STRICT;
