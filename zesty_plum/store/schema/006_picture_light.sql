-- Under which light a picture was taken, as the scenes' groups are called; empty when not told.
ALTER TABLE picture ADD COLUMN light TEXT NOT NULL DEFAULT '';
