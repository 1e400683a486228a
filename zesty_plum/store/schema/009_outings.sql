-- Days that are planned, and the shoots on them; what is said of each as JSON.
CREATE TABLE outing (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  date TEXT NOT NULL,
  said TEXT NOT NULL,
  made_at TEXT NOT NULL,
  deleted_at TEXT
) STRICT;
CREATE TABLE outing_shoot (
  id INTEGER PRIMARY KEY,
  outing INTEGER NOT NULL REFERENCES outing (id),
  said TEXT NOT NULL,
  removed_at TEXT
) STRICT;
