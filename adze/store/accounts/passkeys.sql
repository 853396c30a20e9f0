-- name: add_challenge
-- A challenge to be answered within minutes; those that are over are forgotten.
WITH over AS (DELETE FROM challenge WHERE ends_at < now())
INSERT INTO challenge (key, challenge, account_id, ends_at)
VALUES (%(key)s, %(challenge)s, %(account_id)s::bigint, now() + interval '5 minutes');

-- name: take_challenge
-- A challenge is answered once.
DELETE FROM challenge
WHERE key = %(key)s AND ends_at > now() AND account_id IS NOT DISTINCT FROM %(account_id)s::bigint
RETURNING challenge;

-- name: add_passkey
-- A passkey of an account.
INSERT INTO passkey (account_id, credential_id, public_key, sign_count, device)
VALUES (%(account_id)s, %(credential_id)s, %(public_key)s, %(sign_count)s, %(device)s);

-- name: list_passkeys
-- The passkeys of an account.
SELECT id, account_id, credential_id, public_key, sign_count, device, made_at, used_at
FROM passkey WHERE account_id = %(account_id)s ORDER BY id;

-- name: get_passkey
-- The passkey of a credential.
SELECT id, account_id, credential_id, public_key, sign_count, device, made_at, used_at
FROM passkey WHERE credential_id = %(credential_id)s;

-- name: use_passkey
-- Note that a passkey was used.
UPDATE passkey SET sign_count = %(sign_count)s, used_at = now() WHERE id = %(passkey_id)s;

-- name: remove_passkey
-- A passkey that lets nobody in any more.
DELETE FROM passkey WHERE id = %(passkey_id)s AND account_id = %(account_id)s;
