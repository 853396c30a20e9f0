-- name: count_failures
-- Failed sign-ins of the last hour: of this name from this address in a quarter of it, of this name, from this address.
SELECT count(*) FILTER (WHERE of_name AND from_here AND at > now() - interval '15 minutes') AS here,
       coalesce(extract(epoch FROM now() - max(at) FILTER (WHERE of_name AND from_here)), 0)::float AS last_s,
       count(*) FILTER (WHERE of_name) AS of_name,
       count(*) FILTER (WHERE from_here) AS from_address
FROM (
    SELECT at, login = %(login)s AS of_name, address = %(address)s AS from_here
    FROM sign_in_failure
    WHERE at > now() - interval '1 hour' AND (login = %(login)s OR address = %(address)s)
) AS failure;

-- name: add_failure
-- A sign-in that failed.
INSERT INTO sign_in_failure (login, address) VALUES (%(login)s, %(address)s);

-- name: forget_failures
-- A sign-in that succeeded takes back what failed before from the same address.
DELETE FROM sign_in_failure WHERE login = %(login)s AND address = %(address)s;

-- name: forget_old_failures
-- What failed yesterday counts no more.
DELETE FROM sign_in_failure WHERE at < now() - interval '1 day';

-- name: count_sign_ups
-- Accounts made from an address in the last hour.
SELECT count(*) AS made FROM sign_up WHERE address = %(address)s AND at > now() - interval '1 hour';

-- name: add_sign_up
-- An account made from an address.
INSERT INTO sign_up (address) VALUES (%(address)s);

-- name: forget_old_sign_ups
-- Accounts made yesterday count no more.
DELETE FROM sign_up WHERE at < now() - interval '1 day';

-- name: take_turn
-- Tries of one name are counted one after the other, until the transaction ends.
SELECT pg_advisory_xact_lock(hashtextextended(%(login)s, 38));

-- name: forget_last_failure
-- A try that was not made after all.
DELETE FROM sign_in_failure
WHERE ctid = (
    SELECT ctid FROM sign_in_failure WHERE login = %(login)s AND address = %(address)s ORDER BY at DESC LIMIT 1
);

-- name: know_browser
-- A browser that has signed in to an account.
INSERT INTO known_browser (token_hash, account_id) VALUES (%(token_hash)s, %(account_id)s)
ON CONFLICT (token_hash, account_id) DO UPDATE SET seen_at = now();

-- name: knows_browser
-- Whether a browser has signed in to an account within a year.
SELECT count(*) AS made FROM known_browser
WHERE token_hash = %(token_hash)s AND account_id = %(account_id)s AND seen_at > now() - interval '1 year';

-- name: forget_browsers
-- An account's browsers but one are strangers again.
DELETE FROM known_browser WHERE account_id = %(account_id)s AND token_hash <> %(but)s;
