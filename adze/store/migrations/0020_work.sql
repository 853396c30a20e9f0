-- The work on a plan's fence: who is on the crew, its day, what was ticked and noted, a farm's own rates and forecast.
-- depends: 0019_shed

CREATE TABLE crew_member (
    plan_id  bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    place    integer NOT NULL,
    name     text NOT NULL,
    role     text NOT NULL,
    machines boolean NOT NULL,
    PRIMARY KEY (plan_id, place),
    CONSTRAINT crew_member_name_length CHECK (length(name) BETWEEN 1 AND 60),
    CONSTRAINT crew_member_role_length CHECK (length(role) BETWEEN 1 AND 20)
);

CREATE TABLE work_day (
    plan_id   bigint PRIMARY KEY REFERENCES plan ON DELETE CASCADE,
    begins_on date NOT NULL,
    begins_at time NOT NULL,
    day_h     double precision NOT NULL,
    CONSTRAINT work_day_hours_range CHECK (day_h BETWEEN 1 AND 16)
);

CREATE TABLE task_event (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    step       text NOT NULL,
    what       text NOT NULL,
    said       text NOT NULL DEFAULT '',
    note       text NOT NULL DEFAULT '',
    once       text,
    by_account bigint REFERENCES account ON DELETE SET NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT task_event_step_length CHECK (length(step) BETWEEN 1 AND 80),
    CONSTRAINT task_event_what_known CHECK (what IN ('start', 'pause', 'done', 'undone', 'note')),
    CONSTRAINT task_event_said_length CHECK (length(said) <= 200),
    CONSTRAINT task_event_note_length CHECK (length(note) <= 600)
);
CREATE INDEX task_event_plan_id ON task_event (plan_id, id);
CREATE UNIQUE INDEX task_event_once ON task_event (plan_id, once);

CREATE TABLE farm_rate (
    farm_id bigint NOT NULL REFERENCES farm ON DELETE CASCADE,
    kind    text NOT NULL,
    minutes double precision NOT NULL,
    PRIMARY KEY (farm_id, kind),
    CONSTRAINT farm_rate_minutes_range CHECK (minutes > 0 AND minutes <= 1000)
);

ALTER TABLE farm ADD COLUMN forecast jsonb;
ALTER TABLE farm ADD COLUMN forecast_at timestamptz;
