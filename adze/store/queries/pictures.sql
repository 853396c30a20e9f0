-- name: add_picture
-- Keep a picture of a plan.
INSERT INTO picture (plan_id, name, media_type, width_px, height_px, content, made_by)
VALUES (%(plan_id)s, %(name)s, %(media_type)s, %(width_px)s, %(height_px)s, %(content)s, %(made_by)s)
RETURNING id;

-- name: get_picture
-- A picture, only for who may do something with its farm.
SELECT p.id, p.name, p.media_type, p.width_px, p.height_px, p.content
FROM picture p
JOIN plan ON plan.id = p.plan_id
JOIN farm ON farm.id = plan.farm_id
JOIN access x ON x.farm_id = farm.id AND x.account_id = %(account_id)s
WHERE p.id = %(picture_id)s AND p.plan_id = %(plan_id)s
  AND plan.removed_at IS NULL AND farm.removed_at IS NULL;

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
