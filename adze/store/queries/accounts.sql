-- name: add_account
-- A new account; its login must be free.
INSERT INTO account (login, name, password_hash, is_demo)
VALUES (%(login)s, %(name)s, %(password_hash)s, %(is_demo)s)
RETURNING id, login, name, password_hash, is_demo;

-- name: get_account
-- The account of a login.
SELECT id, login, name, password_hash, is_demo
FROM account
WHERE login = %(login)s;

-- name: add_session
-- A signed-in browser.
INSERT INTO session (token_hash, account_id, csrf, ends_at)
VALUES (%(token_hash)s, %(account_id)s, %(csrf)s, now() + %(days)s * interval '1 day');

-- name: get_session
-- Who a browser's token stands for, while it lasts.
SELECT s.account_id, a.login, a.name, s.csrf
FROM session s
JOIN account a ON a.id = s.account_id
WHERE s.token_hash = %(token_hash)s AND s.ends_at > now();

-- name: remove_session
-- Sign out.
DELETE FROM session WHERE token_hash = %(token_hash)s;

-- name: remove_old_sessions
-- Forget sessions that have ended.
DELETE FROM session WHERE ends_at <= now();
