-- By whom a body's file was found whole: a digest of it and of what looked (`bodies.file.digest`),
-- so that it need not be looked at again at every start.
ALTER TABLE body_file ADD COLUMN checked TEXT NOT NULL DEFAULT '';
