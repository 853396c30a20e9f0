-- name: add_account
-- A new account; its login must be free.
INSERT INTO account (login, name, password_hash, is_demo)
VALUES (%(login)s, %(name)s, %(password_hash)s, %(is_demo)s)
RETURNING id, login, name, password_hash, is_demo;

-- name: keep_visitor
-- What a visitor has made becomes an account of one's own; its login must be free.
UPDATE account SET login = %(login)s, name = %(name)s, password_hash = %(password_hash)s, is_demo = false
WHERE id = %(account_id)s AND is_demo
RETURNING id, login, name, password_hash, is_demo;

-- name: add_guest
-- An account for somebody who came by a link to look at a plan.
INSERT INTO account (login, name, password_hash, is_guest)
VALUES (%(login)s, %(name)s, '', true)
RETURNING id, login, name, password_hash, is_demo;

-- name: remove_old_guests
-- Guests whose links are over or taken back.
DELETE FROM account a
WHERE a.is_guest AND NOT EXISTS (
    SELECT FROM looker w JOIN look_link l ON l.id = w.link_id WHERE w.account_id = a.id AND l.ends_at > now()
);

-- name: get_account
-- The account of a login.
SELECT id, login, name, password_hash, is_demo
FROM account
WHERE login = %(login)s;

-- name: change_password
-- Another password for an account.
UPDATE account SET password_hash = %(password_hash)s WHERE id = %(account_id)s;

-- name: remove_account
-- An account with all that it owns.
DELETE FROM account WHERE id = %(account_id)s;

-- name: remove_old_visitors
-- Accounts of visitors to the demo that are a day old, with all that they own.
DELETE FROM account WHERE is_demo AND made_at < now() - interval '1 day';

-- name: add_event
-- Something that its owner should know of an account.
INSERT INTO security_event (account_id, kind, address, device)
VALUES (%(account_id)s, %(kind)s, %(address)s, %(device)s);

-- name: list_events
-- What happened to an account, newest first.
SELECT kind, address, device, at
FROM security_event
WHERE account_id = %(account_id)s
ORDER BY id DESC
LIMIT %(most)s;
