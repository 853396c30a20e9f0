-- Searches for faults: what was done, in order; what was taken back stays, marked.
-- depends: 0021_log

CREATE TABLE trace_search (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id     bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    season      text NOT NULL,
    is_thorough boolean NOT NULL DEFAULT true,
    hidden      jsonb,
    started_at  timestamptz NOT NULL DEFAULT now(),
    started_by  bigint REFERENCES account ON DELETE SET NULL,
    ended_at    timestamptz,
    result      jsonb,
    CONSTRAINT trace_search_season CHECK (season IN ('dry', 'usual', 'wet'))
);
CREATE INDEX trace_search_plan_id ON trace_search (plan_id, id DESC);

CREATE TABLE trace_event (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    search_id  bigint NOT NULL REFERENCES trace_search ON DELETE CASCADE,
    what       text NOT NULL,
    body       jsonb NOT NULL,
    once       text,
    by_account bigint REFERENCES account ON DELETE SET NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    undone_at  timestamptz,
    CONSTRAINT trace_event_what CHECK
        (what IN ('checked', 'unit', 'lead', 'read', 'rods', 'look', 'skip', 'found', 'sweep')),
    CONSTRAINT trace_event_once_length CHECK (length(once) <= 60),
    UNIQUE (search_id, once)
);
CREATE INDEX trace_event_search_id ON trace_event (search_id, id);
