-- Browsers that are told of alarms, the key by which push services know this Adze, what is to be told.
-- depends: 0031_gauge_alone

CREATE TABLE push_key (
    only_one    boolean PRIMARY KEY DEFAULT true CHECK (only_one),
    private_key text NOT NULL
);

CREATE TABLE push_browser (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    endpoint   text NOT NULL UNIQUE,
    p256dh     text NOT NULL,
    auth       text NOT NULL,
    made_at    timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT push_browser_endpoint_length CHECK (length(endpoint) BETWEEN 10 AND 1000)
);
CREATE INDEX push_browser_account_id ON push_browser (account_id);

CREATE TABLE push_note (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    browser_id bigint NOT NULL REFERENCES push_browser ON DELETE CASCADE,
    title      text NOT NULL,
    body       text NOT NULL,
    path       text NOT NULL,
    made_at    timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX push_note_browser_id ON push_note (browser_id);
