-- name: keep_push_key
-- The first key that is kept stays.
INSERT INTO push_key (private_key) VALUES (%(private_key)s) ON CONFLICT DO NOTHING;

-- name: get_push_key
-- The key by which push services know this Adze.
SELECT private_key FROM push_key;

-- name: add_push_browser
-- A browser that is told; it belongs to whoever asked last.
INSERT INTO push_browser (account_id, endpoint, p256dh, auth)
VALUES (%(account_id)s, %(endpoint)s, %(p256dh)s, %(auth)s)
ON CONFLICT (endpoint) DO UPDATE
SET account_id = EXCLUDED.account_id, p256dh = EXCLUDED.p256dh, auth = EXCLUDED.auth, made_at = now()
RETURNING id;

-- name: drop_oldest_push_browsers
-- An account's browsers beyond the newest.
DELETE FROM push_browser WHERE id IN (
    SELECT id FROM push_browser WHERE account_id = %(account_id)s ORDER BY made_at DESC, id DESC OFFSET %(most)s
);

-- name: remove_push_browser
-- A browser is told no longer.
DELETE FROM push_browser WHERE account_id = %(account_id)s AND endpoint = %(endpoint)s;

-- name: list_push_browsers
-- The browsers that are told of a plan's alarms: of the people of its farm who log.
SELECT b.id
FROM plan p
JOIN access x ON x.farm_id = p.farm_id AND x.role > 1
JOIN account a ON a.id = x.account_id
JOIN push_browser b ON b.account_id = a.id
WHERE p.id = %(plan_id)s AND NOT a.is_demo AND NOT a.is_guest
ORDER BY b.id;

-- name: add_push_note
-- Something to be told to a browser.
INSERT INTO push_note (browser_id, title, body, path)
VALUES (%(browser_id)s, %(title)s, %(body)s, %(path)s) RETURNING id;

-- name: get_push_note
-- What is to be told, and to which browser.
SELECT n.id, n.browser_id, n.title, n.body, n.path, n.made_at, b.endpoint, b.p256dh, b.auth
FROM push_note n
JOIN push_browser b ON b.id = n.browser_id
WHERE n.id = %(note_id)s;

-- name: remove_push_note
-- What is told is kept no longer.
DELETE FROM push_note WHERE id = %(note_id)s;

-- name: forget_push_browser
-- A browser whose push service knows it no longer.
DELETE FROM push_browser WHERE id = %(browser_id)s;

-- name: forget_push_notes
-- What could not be told within a day.
DELETE FROM push_note WHERE made_at < now() - interval '1 day';
