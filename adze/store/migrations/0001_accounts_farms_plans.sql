-- Accounts, their farms, plans as revisions of one document, and readings.
-- depends:

CREATE TABLE account (
    id            bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    login         text NOT NULL,
    name          text NOT NULL,
    password_hash text NOT NULL,
    is_demo       boolean NOT NULL DEFAULT false,
    made_at       timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT account_login_key UNIQUE (login),
    CONSTRAINT account_login_shape CHECK (login = lower(login) AND length(login) BETWEEN 3 AND 80),
    CONSTRAINT account_name_length CHECK (length(name) BETWEEN 1 AND 80)
);

CREATE TABLE session (
    token_hash bytea PRIMARY KEY,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    csrf       text NOT NULL,
    ends_at    timestamptz NOT NULL
);
CREATE INDEX session_account_id ON session (account_id);

CREATE TABLE farm (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    name       text NOT NULL,
    note       text NOT NULL DEFAULT '',
    made_at    timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT farm_name_key UNIQUE (account_id, name),
    CONSTRAINT farm_name_length CHECK (length(name) BETWEEN 1 AND 80)
);

-- current is the revision that stands; edition grows with every change of it, undo and redo too.
CREATE TABLE plan (
    id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    farm_id bigint NOT NULL REFERENCES farm ON DELETE CASCADE,
    name    text NOT NULL,
    current integer NOT NULL DEFAULT 1,
    edition integer NOT NULL DEFAULT 1,
    made_at timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT plan_name_length CHECK (length(name) BETWEEN 1 AND 80)
);
CREATE INDEX plan_farm_id ON plan (farm_id);

-- A revision set aside lost a clash of two editors; it is kept so that nothing is lost.
CREATE TABLE revision (
    plan_id   bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    number    integer NOT NULL,
    parent    integer,
    document  jsonb NOT NULL,
    summary   text NOT NULL,
    set_aside boolean NOT NULL DEFAULT false,
    made_by   bigint NOT NULL REFERENCES account,
    made_at   timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (plan_id, number),
    CONSTRAINT revision_parent_fkey FOREIGN KEY (plan_id, parent) REFERENCES revision (plan_id, number),
    CONSTRAINT revision_summary_length CHECK (length(summary) BETWEEN 1 AND 200),
    CONSTRAINT revision_is_plan CHECK (document ->> 'format' IS NOT DISTINCT FROM 'adze-plan')
);
ALTER TABLE plan ADD CONSTRAINT plan_current_fkey FOREIGN KEY (id, current)
    REFERENCES revision (plan_id, number) DEFERRABLE INITIALLY DEFERRED;

CREATE TABLE reading (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id     bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    run         text NOT NULL,
    at_m        double precision NOT NULL,
    strand      integer NOT NULL,
    kv          double precision NOT NULL,
    amps        double precision,
    outward     boolean,
    season      text NOT NULL,
    note        text NOT NULL DEFAULT '',
    forecast_low_kv  double precision,
    forecast_kv      double precision,
    forecast_high_kv double precision,
    read_by     bigint NOT NULL REFERENCES account,
    read_at     timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT reading_kv_range CHECK (kv BETWEEN 0 AND 20),
    CONSTRAINT reading_amps_range CHECK (amps BETWEEN 0 AND 500),
    CONSTRAINT reading_at_range CHECK (at_m >= 0),
    CONSTRAINT reading_season_known CHECK (season IN ('dry', 'usual', 'wet')),
    CONSTRAINT reading_note_length CHECK (length(note) <= 300)
);
CREATE INDEX reading_plan_id_read_at ON reading (plan_id, read_at DESC);
