-- What got through the fence: which animal, where, how, on which day.
-- depends: 0023_devices

CREATE TABLE passage (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    kind       text NOT NULL,
    count      integer NOT NULL,
    way        text NOT NULL,
    run        text NOT NULL,
    at_m       double precision NOT NULL,
    on_day     date NOT NULL,
    note       text NOT NULL DEFAULT '',
    by_account bigint REFERENCES account ON DELETE SET NULL,
    CONSTRAINT passage_kind_length CHECK (length(kind) BETWEEN 1 AND 40),
    CONSTRAINT passage_count_range CHECK (count BETWEEN 1 AND 10000),
    CONSTRAINT passage_way_known CHECK (way IN ('through', 'under', 'over', 'gate', 'unseen')),
    CONSTRAINT passage_at_range CHECK (at_m >= 0),
    CONSTRAINT passage_note_length CHECK (length(note) <= 300)
);
CREATE INDEX passage_plan_id ON passage (plan_id, on_day DESC, id DESC);
