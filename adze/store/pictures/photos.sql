-- name: add_photo
-- A picture of a plan as the photo of a thing.
INSERT INTO photo (plan_id, picture_id, thing, by_account, east_m, north_m, idempotency_key)
VALUES (%(plan_id)s, %(picture_id)s, %(thing)s, %(by_account)s, %(east_m)s::double precision,
        %(north_m)s::double precision, nullif(%(idempotency_key)s, ''));

-- name: count_photos_by_key
-- How many photos came with a token: none or one.
SELECT count(*) AS photos FROM photo WHERE plan_id = %(plan_id)s AND idempotency_key = %(idempotency_key)s;

-- name: count_photos
-- How many photos a thing has.
SELECT count(*) AS photos FROM photo WHERE plan_id = %(plan_id)s AND thing = %(thing)s;

-- name: list_photos
-- The photos of a plan's things, oldest first.
SELECT p.id, p.picture_id, p.thing, coalesce(a.name, 'somebody who left') AS by_name, p.at, p.east_m, p.north_m
FROM photo p
LEFT JOIN account a ON a.id = p.by_account
WHERE p.plan_id = %(plan_id)s
ORDER BY p.id
LIMIT %(most)s;

-- name: drop_photo
-- A photo taken off, with its picture.
DELETE FROM picture WHERE id = (SELECT picture_id FROM photo WHERE id = %(photo_id)s AND plan_id = %(plan_id)s);
