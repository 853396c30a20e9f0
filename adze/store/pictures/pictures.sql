-- name: add_picture
-- Keep a picture of a plan.
INSERT INTO picture (plan_id, name, media_type, width_px, height_px, content, made_by)
VALUES (%(plan_id)s, %(name)s, %(media_type)s, %(width_px)s, %(height_px)s, %(content)s, %(made_by)s)
RETURNING id;

-- name: get_picture
-- A picture, only for who may look at its plan.
SELECT p.id, p.name, p.media_type, p.width_px, p.height_px, p.content
FROM picture p
JOIN plan ON plan.id = p.plan_id
JOIN farm ON farm.id = plan.farm_id
JOIN plan_access x ON x.plan_id = plan.id AND x.account_id = %(account_id)s
WHERE p.id = %(picture_id)s AND p.plan_id = %(plan_id)s
  AND plan.removed_at IS NULL AND farm.removed_at IS NULL
LIMIT 1;

-- name: count_pictures
-- How many pictures a plan holds and how large they are together.
SELECT count(*) AS pictures, coalesce(sum(octet_length(content)), 0)::bigint AS bytes
FROM picture
WHERE plan_id = %(plan_id)s;

-- name: list_pictures
-- The pictures of a plan without their content.
SELECT id, name
FROM picture
WHERE plan_id = %(plan_id)s
ORDER BY id;

-- name: copy_picture
-- A picture of a plan, for another plan too.
INSERT INTO picture (plan_id, name, media_type, width_px, height_px, content, made_by)
SELECT %(to)s, name, media_type, width_px, height_px, content, made_by
FROM picture
WHERE id = %(picture_id)s AND plan_id = %(of)s
RETURNING %(picture_id)s::bigint AS old, id AS new;
