-- When whoever is signed in last showed that they are the owner: sharing and taking off ask for it.
-- depends: 0013_passkeys

ALTER TABLE session ADD COLUMN confirmed_at timestamptz NOT NULL DEFAULT now();
