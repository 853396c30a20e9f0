-- Who did what on a plan, undo and redo, readings and tests too; a step that is sent again is done once.
-- depends: 0009_searches

CREATE TABLE step (
    id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    number  integer NOT NULL,
    back    boolean NOT NULL,
    once    text,
    made_by bigint REFERENCES account ON DELETE SET NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT step_once_key UNIQUE (plan_id, once)
);
CREATE INDEX step_plan_id ON step (plan_id, made_at DESC);
CREATE INDEX step_made_by ON step (made_by);

ALTER TABLE earth_test ADD COLUMN made_at timestamptz NOT NULL DEFAULT now();
UPDATE earth_test SET made_at = read_on::timestamptz;
ALTER TABLE stray_reading ADD COLUMN made_at timestamptz NOT NULL DEFAULT now();
UPDATE stray_reading SET made_at = read_on::timestamptz;
CREATE INDEX earth_test_read_by ON earth_test (read_by);
CREATE INDEX stray_reading_read_by ON stray_reading (read_by);
