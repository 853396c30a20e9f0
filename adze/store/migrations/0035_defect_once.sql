-- What is noted for later without signal is sent until an answer comes: each counts once.
-- depends: 0034_once_on_a_phone

ALTER TABLE defect
    ADD COLUMN once text,
    ADD CONSTRAINT defect_once_length CHECK (length(once) <= 60),
    ADD CONSTRAINT defect_once UNIQUE (plan_id, once);
