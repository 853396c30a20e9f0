-- Mails to be sent, an account's own address once it is confirmed, and the links that mails carry.
-- depends: 0011_look_links

ALTER TABLE account ADD COLUMN mail text;
ALTER TABLE account ADD CONSTRAINT account_mail_shape
    CHECK (mail ~ '^[^@[:space:]]+@[^@[:space:]]+$' AND length(mail) <= 254);

CREATE TABLE mail (
    id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    to_mail text NOT NULL,
    subject text NOT NULL,
    body    text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE mail_link (
    token_hash bytea PRIMARY KEY,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    kind       text NOT NULL,
    mail       text NOT NULL,
    ends_at    timestamptz NOT NULL,
    CONSTRAINT mail_link_kind_known CHECK (kind IN ('confirm', 'reset'))
);
CREATE INDEX mail_link_account_id ON mail_link (account_id);
