-- Passkeys beside the password, and the challenges that they answer.
-- depends: 0012_mail

CREATE TABLE passkey (
    id            bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    account_id    bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    credential_id bytea NOT NULL UNIQUE,
    public_key    bytea NOT NULL,
    sign_count    bigint NOT NULL,
    device        text NOT NULL,
    made_at       timestamptz NOT NULL DEFAULT now(),
    used_at       timestamptz
);
CREATE INDEX passkey_account_id ON passkey (account_id);

CREATE TABLE challenge (
    key        text PRIMARY KEY,
    challenge  bytea NOT NULL,
    account_id bigint REFERENCES account ON DELETE CASCADE,
    ends_at    timestamptz NOT NULL
);
CREATE INDEX challenge_account_id ON challenge (account_id);
