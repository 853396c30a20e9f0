-- name: add_session
-- A signed-in browser.
INSERT INTO session (token_hash, account_id, csrf, ends_at, address, device)
VALUES (%(token_hash)s, %(account_id)s, %(csrf)s, now() + %(days)s * interval '1 day', %(address)s, %(device)s);

-- name: get_session
-- Who a browser's token stands for, while it lasts and is used.
SELECT s.id, s.account_id, a.login, a.name, a.is_demo, a.is_guest, s.csrf,
       s.seen_at < now() - interval '5 minutes' AS unseen,
       a.is_demo OR s.confirmed_at > now() - interval '5 minutes' AS is_fresh
FROM session s
JOIN account a ON a.id = s.account_id
WHERE s.token_hash = %(token_hash)s AND s.ends_at > now()
  AND s.seen_at > now() - %(idle_days)s * interval '1 day';

-- name: see_session
-- Note that a browser is in use.
UPDATE session SET seen_at = now() WHERE id = %(session_id)s;

-- name: confirm_session
-- Whoever is signed in has shown that they are the owner.
UPDATE session SET confirmed_at = now() WHERE id = %(session_id)s;

-- name: list_sessions
-- The browsers that an account is signed in on, the last used first.
SELECT id, made_at, seen_at, address, device
FROM session
WHERE account_id = %(account_id)s AND ends_at > now()
ORDER BY seen_at DESC;

-- name: remove_session
-- Sign out.
DELETE FROM session WHERE token_hash = %(token_hash)s;

-- name: remove_session_by_id
-- Sign one of an account's browsers out.
DELETE FROM session WHERE id = %(session_id)s AND account_id = %(account_id)s;

-- name: remove_other_sessions
-- Sign all browsers of an account out but one.
DELETE FROM session WHERE account_id = %(account_id)s AND id <> %(session_id)s;

-- name: remove_old_sessions
-- Forget sessions that have ended.
DELETE FROM session WHERE ends_at <= now();
