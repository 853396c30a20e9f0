-- By when a fence must stand, and for whom.
-- depends: 0025_photos

ALTER TABLE work_day
    ADD COLUMN ready_by timestamptz,
    ADD COLUMN ready_for text NOT NULL DEFAULT '',
    ADD CONSTRAINT work_day_ready_for_known CHECK (ready_for IN ('', 'stock', 'path', 'crop'));
