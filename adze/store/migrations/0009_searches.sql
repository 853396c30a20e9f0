-- A search for a design goes on when the browser leaves: its question, how far it is, and the best so far.
-- depends: 0008_sent_again

CREATE TABLE search (
    id       bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id  bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    number   integer NOT NULL,
    wishes   jsonb NOT NULL,
    program  text NOT NULL,
    asked_by bigint REFERENCES account ON DELETE SET NULL,
    asked_at timestamptz NOT NULL DEFAULT now(),
    state    text NOT NULL DEFAULT 'waiting',
    told     jsonb NOT NULL DEFAULT '{}',
    told_at  timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT search_question_key UNIQUE (plan_id, number, wishes, program),
    CONSTRAINT search_revision_fkey FOREIGN KEY (plan_id, number)
        REFERENCES revision (plan_id, number) ON DELETE CASCADE,
    CONSTRAINT search_state_known CHECK (state IN ('waiting', 'running', 'done', 'stopped', 'failed'))
);
CREATE INDEX search_asked_by ON search (asked_by);
