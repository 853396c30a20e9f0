-- Photos of what was done, found or is to be mended; `thing` names it: step:terraces/ends, defect:12, passage:3.
-- depends: 0024_passages

CREATE TABLE photo (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    picture_id bigint NOT NULL REFERENCES picture ON DELETE CASCADE,
    thing      text NOT NULL,
    by_account bigint REFERENCES account ON DELETE SET NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT photo_thing_known CHECK (thing ~ '^(step|defect|passage|trace):.{1,80}$'),
    CONSTRAINT photo_once UNIQUE (picture_id)
);
CREATE INDEX photo_plan_id ON photo (plan_id, thing, id);
