-- Sign-ins that failed, what happened to an account, the devices signed in; how a revision stands.
-- depends: 0004_earth_tests

ALTER TABLE session
    ADD COLUMN id      bigint GENERATED ALWAYS AS IDENTITY,
    ADD COLUMN made_at timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN seen_at timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN address text NOT NULL DEFAULT '',
    ADD COLUMN device  text NOT NULL DEFAULT '';

CREATE TABLE sign_in_failure (
    login   text NOT NULL,
    address text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sign_in_failure_login ON sign_in_failure (login, at);
CREATE INDEX sign_in_failure_address ON sign_in_failure (address, at);

CREATE TABLE sign_up (
    address text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sign_up_address ON sign_up (address, at);

CREATE TABLE security_event (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    kind       text NOT NULL,
    address    text NOT NULL,
    device     text NOT NULL,
    at         timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX security_event_account_id ON security_event (account_id, id DESC);

-- program is the version of the rules that judged: another one judges again.
CREATE TABLE verdict (
    plan_id   bigint NOT NULL,
    number    integer NOT NULL,
    program   text NOT NULL,
    status    text NOT NULL,
    line      text NOT NULL,
    length_m  double precision NOT NULL,
    paths     text[] NOT NULL,
    PRIMARY KEY (plan_id, number),
    FOREIGN KEY (plan_id, number) REFERENCES revision (plan_id, number) ON DELETE CASCADE
);

-- An account that is taken off takes its farms with it, and who made what is asked only once all of it is gone.
ALTER TABLE revision      ALTER CONSTRAINT revision_made_by_fkey      DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE reading       ALTER CONSTRAINT reading_read_by_fkey       DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE earth_test    ALTER CONSTRAINT earth_test_read_by_fkey    DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE stray_reading ALTER CONSTRAINT stray_reading_read_by_fkey DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE picture       ALTER CONSTRAINT picture_made_by_fkey       DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ground_import ALTER CONSTRAINT ground_import_made_by_fkey DEFERRABLE INITIALLY DEFERRED;
