-- Bodies that do not ship: every edition of a body's file as it came, never written over.
CREATE TABLE body_file (
  body TEXT NOT NULL,
  edition INTEGER NOT NULL,
  name TEXT NOT NULL,
  text TEXT NOT NULL,
  added_at TEXT NOT NULL,
  PRIMARY KEY (body, edition)
) STRICT;
-- Which of them count; a body that was put away can be taken back.
CREATE TABLE body_kept (
  body TEXT PRIMARY KEY,
  put_away_at TEXT
) STRICT;
