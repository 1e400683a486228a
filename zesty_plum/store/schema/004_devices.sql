-- Devices that were paired with this machine. Of the token that a device holds only a digest is kept.
CREATE TABLE device (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    token TEXT NOT NULL UNIQUE,
    rights TEXT NOT NULL,
    paired_at TEXT NOT NULL,
    seen_at TEXT NOT NULL
);
