-- Dials that have no say are no longer found by: what stands on the shelf is written anew at the
-- next start.
DELETE FROM shelf_text;
DELETE FROM shelf_dial;
DELETE FROM shelf;
