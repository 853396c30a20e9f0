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
