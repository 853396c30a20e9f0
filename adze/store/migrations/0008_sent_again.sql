-- What is sent again because its answer was lost is kept once: saves and readings carry a token of their own.
-- depends: 0007_people

ALTER TABLE reading ADD COLUMN once text;
ALTER TABLE reading ADD CONSTRAINT reading_once_key UNIQUE (plan_id, once);
ALTER TABLE revision ADD COLUMN once text;
ALTER TABLE revision ADD CONSTRAINT revision_once_key UNIQUE (plan_id, once);
