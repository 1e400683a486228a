-- What a camera's owner knows of it: pictures of a charge, and seconds that its clock is ahead.
ALTER TABLE kit_case ADD COLUMN charge INTEGER NOT NULL DEFAULT 0;
ALTER TABLE kit_case ADD COLUMN ahead INTEGER NOT NULL DEFAULT 0;
