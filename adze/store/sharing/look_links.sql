-- name: add_look_link
-- A link that shows a plan of a farm.
INSERT INTO look_link (token_hash, plan_id, made_by, ends_at)
SELECT %(token_hash)s, p.id, %(made_by)s, now() + %(days)s * interval '1 day'
FROM plan p
WHERE p.id = %(plan_id)s AND p.farm_id = %(farm_id)s AND p.removed_at IS NULL;

-- name: list_look_links
-- The links of a farm that still show a plan.
SELECT l.id, p.name AS plan_name, l.ends_at
FROM look_link l
JOIN plan p ON p.id = l.plan_id
WHERE p.farm_id = %(farm_id)s AND p.removed_at IS NULL AND l.ends_at > now()
ORDER BY l.id;

-- name: remove_look_link
-- A link that shows nothing any more.
DELETE FROM look_link l USING plan p WHERE l.id = %(link_id)s AND p.id = l.plan_id AND p.farm_id = %(farm_id)s;

-- name: get_look_link
-- What a link shows, while it does.
SELECT l.id, l.plan_id, p.name AS plan_name, f.name AS farm_name, a.name AS made_by_name, l.ends_at
FROM look_link l
JOIN plan p ON p.id = l.plan_id AND p.removed_at IS NULL
JOIN farm f ON f.id = p.farm_id AND f.removed_at IS NULL
JOIN account a ON a.id = l.made_by
WHERE l.token_hash = %(token_hash)s AND l.ends_at > now();

-- name: add_looker
-- Somebody looks by a link.
INSERT INTO looker (link_id, account_id) VALUES (%(link_id)s, %(account_id)s) ON CONFLICT DO NOTHING;

-- name: list_plan_names
-- The plans of a farm by name.
SELECT id, name FROM plan WHERE farm_id = %(farm_id)s AND removed_at IS NULL ORDER BY id;
