-- Browsers that have signed in to an account before: what strangers fail at shuts none of them out.
-- depends: 0036_idempotency_key

CREATE TABLE known_browser (
    token_hash bytea NOT NULL,
    account_id bigint NOT NULL REFERENCES account (id) ON DELETE CASCADE,
    seen_at    timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (token_hash, account_id)
);
CREATE INDEX known_browser_account ON known_browser (account_id);
