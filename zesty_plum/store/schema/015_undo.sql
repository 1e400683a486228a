-- An undo takes back its own change only: of each change of a plan, what it changed, by table, with
-- what stood there before and after. What could be undone ends with the session, so nothing is
-- carried over.

DROP TABLE kit_before;
CREATE TABLE kit_before (
  id INTEGER PRIMARY KEY,
  case_id INTEGER NOT NULL REFERENCES kit_case (id),
  at TEXT NOT NULL,
  changed TEXT NOT NULL
) STRICT;
