-- name: add_farm
-- A new farm of an account.
INSERT INTO farm (account_id, name, note)
VALUES (%(account_id)s, %(name)s, %(note)s)
RETURNING id, name, note;

-- name: list_farms
-- The farms of an account, oldest first.
SELECT id, name, note
FROM farm
WHERE account_id = %(account_id)s
ORDER BY id;

-- name: get_farm
-- One farm, only for its own account.
SELECT id, name, note
FROM farm
WHERE id = %(farm_id)s AND account_id = %(account_id)s;
