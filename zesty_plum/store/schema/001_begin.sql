-- Slips and their versions. A version is written once and never changed.
CREATE TABLE slip (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    parent_version INTEGER REFERENCES version (id),
    made_at TEXT NOT NULL,
    deleted_at TEXT
);

CREATE TABLE version (
    id INTEGER PRIMARY KEY,
    slip INTEGER NOT NULL REFERENCES slip (id),
    number INTEGER NOT NULL,
    recipe TEXT NOT NULL,
    saved_at TEXT NOT NULL,
    UNIQUE (slip, number)
);

CREATE TRIGGER version_is_kept BEFORE UPDATE ON version
BEGIN
    SELECT RAISE (ABORT, 'a saved version is never changed');
END;

CREATE TRIGGER version_is_not_lost BEFORE DELETE ON version
BEGIN
    SELECT RAISE (ABORT, 'a saved version is never deleted');
END;

-- A person's own pictures; the file lies in the data folder under its id.
CREATE TABLE picture (
    id TEXT PRIMARY KEY,
    file_name TEXT NOT NULL,
    title TEXT NOT NULL,
    finished INTEGER NOT NULL,
    added_at TEXT NOT NULL,
    deleted_at TEXT
);

CREATE INDEX slip_listed ON slip (deleted_at, made_at);
