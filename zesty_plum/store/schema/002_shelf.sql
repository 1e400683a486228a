-- The shelf: what slips are found and sorted by. It says nothing that the newest versions do not say; the program writes it
-- beside every change and makes it anew where it is missing.
CREATE TABLE shelf (
    slip INTEGER PRIMARY KEY REFERENCES slip (id),
    version INTEGER NOT NULL REFERENCES version (id),
    saved_at TEXT NOT NULL,
    name TEXT NOT NULL,
    body TEXT NOT NULL,
    style TEXT NOT NULL,
    content TEXT NOT NULL
);

CREATE INDEX shelf_saved ON shelf (saved_at, slip);
CREATE INDEX shelf_name ON shelf (name, slip);
CREATE INDEX shelf_body ON shelf (body, name, slip);
CREATE INDEX shelf_style ON shelf (style, name, slip);
CREATE INDEX shelf_content ON shelf (content);

CREATE TABLE shelf_dial (
    slip INTEGER NOT NULL REFERENCES slip (id),
    dial TEXT NOT NULL,
    number REAL,
    words TEXT NOT NULL,
    PRIMARY KEY (dial, slip)
) WITHOUT ROWID;

CREATE INDEX shelf_dial_of ON shelf_dial (slip);

CREATE VIRTUAL TABLE shelf_text USING fts5 (
    name, note, author, body, style, intent, light, tag, dials,
    tokenize = "unicode61 remove_diacritics 2", prefix = '2 3'
);

CREATE TABLE tag (
    slip INTEGER NOT NULL REFERENCES slip (id),
    tag TEXT NOT NULL COLLATE NOCASE,
    PRIMARY KEY (slip, tag)
) WITHOUT ROWID;

CREATE INDEX slip_deleted ON slip (deleted_at);
CREATE INDEX slip_varied ON slip (parent_version);

-- What was brought in together: looked at first, then taken in whole, then perhaps taken back.
CREATE TABLE intake (
    id INTEGER PRIMARY KEY,
    made_at TEXT NOT NULL,
    recipes TEXT NOT NULL,
    done TEXT
);
