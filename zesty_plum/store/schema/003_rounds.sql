-- Blind rounds: recipes and scenes as they were, and answers in order. A round outlives the slips it was made of.
CREATE TABLE blind (
    id INTEGER PRIMARY KEY,
    made_at TEXT NOT NULL,
    person TEXT NOT NULL,
    seed INTEGER NOT NULL,
    recipes TEXT NOT NULL,
    scenes TEXT NOT NULL,
    ended_at TEXT,
    deleted_at TEXT
);

CREATE TABLE blind_answer (
    blind INTEGER NOT NULL REFERENCES blind (id),
    number INTEGER NOT NULL,
    left_look INTEGER NOT NULL,
    right_look INTEGER NOT NULL,
    scene INTEGER NOT NULL,
    won REAL NOT NULL,
    PRIMARY KEY (blind, number)
) WITHOUT ROWID;
