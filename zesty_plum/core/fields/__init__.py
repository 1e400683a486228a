"""Things of a room, each field declared once: what it is called, its unit and limits, what stands
where nothing is said, and whether it is private. Forms, files, their schema, error words and the
tables of `docs/formats.md` are derived from that."""
