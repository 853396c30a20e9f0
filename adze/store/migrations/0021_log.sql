-- Readings that were wrong are withdrawn, never deleted; upkeep that was done; what was noted to be mended later.
-- depends: 0020_work

ALTER TABLE reading ADD COLUMN is_over boolean NOT NULL DEFAULT false;
ALTER TABLE reading ADD COLUMN withdrawn_at timestamptz;
ALTER TABLE reading ADD COLUMN withdrawn_why text;
ALTER TABLE reading ADD COLUMN corrects bigint REFERENCES reading ON DELETE SET NULL;
ALTER TABLE reading ADD CONSTRAINT reading_withdrawn_why_length CHECK (length(withdrawn_why) <= 200);

CREATE TABLE upkeep_event (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    kind       text NOT NULL,
    done_on    date NOT NULL,
    note       text NOT NULL DEFAULT '',
    by_account bigint REFERENCES account ON DELETE SET NULL,
    CONSTRAINT upkeep_event_kind_length CHECK (length(kind) BETWEEN 1 AND 40),
    CONSTRAINT upkeep_event_note_length CHECK (length(note) <= 300)
);
CREATE INDEX upkeep_event_plan_id ON upkeep_event (plan_id, kind, done_on DESC);

CREATE TABLE defect (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    run        text NOT NULL,
    at_m       double precision NOT NULL,
    words      text NOT NULL,
    noted_on   date NOT NULL,
    mended_on  date,
    by_account bigint REFERENCES account ON DELETE SET NULL,
    CONSTRAINT defect_words_length CHECK (length(words) BETWEEN 1 AND 300),
    CONSTRAINT defect_at_range CHECK (at_m >= 0)
);
CREATE INDEX defect_plan_id ON defect (plan_id, id);
