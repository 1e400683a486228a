-- Minutes of clips after which a camera stopped of heat in its owner's hands.
ALTER TABLE kit_case ADD COLUMN hot INTEGER NOT NULL DEFAULT 0;
