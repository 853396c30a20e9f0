-- One plan shown by a link to somebody without an account, until a date; taken back at once.
-- depends: 0010_history

ALTER TABLE account ADD COLUMN is_guest boolean NOT NULL DEFAULT false;

CREATE TABLE look_link (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    token_hash bytea NOT NULL UNIQUE,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    made_by    bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    made_at    timestamptz NOT NULL DEFAULT now(),
    ends_at    timestamptz NOT NULL
);
CREATE INDEX look_link_plan_id ON look_link (plan_id);
CREATE INDEX look_link_made_by ON look_link (made_by);

CREATE TABLE looker (
    link_id    bigint NOT NULL REFERENCES look_link ON DELETE CASCADE,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    PRIMARY KEY (link_id, account_id)
);
CREATE INDEX looker_account_id ON looker (account_id);

-- Who may do what with a plan: by its farm, or by a link that lets them look.
CREATE VIEW plan_access AS
SELECT p.id AS plan_id, x.account_id, x.role FROM plan p JOIN access x ON x.farm_id = p.farm_id
UNION ALL
SELECT l.plan_id, w.account_id, 1 FROM looker w JOIN look_link l ON l.id = w.link_id WHERE l.ends_at > now();
