-- name: add_farm
-- A new farm of an account.
INSERT INTO farm (account_id, name, note)
VALUES (%(account_id)s, %(name)s, %(note)s)
RETURNING id, name, note;

-- name: rename_farm
-- Another name for a farm, the money in which it counts and the zone of its times.
UPDATE farm SET name = %(name)s, currency = coalesce(%(currency)s::text, currency),
    time_zone = coalesce(%(time_zone)s::text, time_zone)
WHERE id = %(farm_id)s AND removed_at IS NULL;

-- name: remove_farm
-- Take a farm off, or take it back.
UPDATE farm SET removed_at = CASE WHEN %(is_removed)s THEN now() END
FROM access x
WHERE x.farm_id = farm.id AND farm.id = %(farm_id)s AND x.account_id = %(account_id)s AND x.role = 4
  AND coalesce(farm.removed_at > now() - interval '1 day', true);

-- name: remove_plan
-- Take a plan off, or take it back.
UPDATE plan p SET removed_at = CASE WHEN %(is_removed)s THEN now() END
FROM access x
WHERE x.farm_id = p.farm_id AND p.id = %(plan_id)s AND x.account_id = %(account_id)s AND x.role >= 3
  AND coalesce(p.removed_at > now() - interval '1 day', true);

-- name: list_removed
-- What an account has taken off and can take back.
SELECT 'farm' AS kind, f.id, f.name, f.removed_at
FROM farm f
JOIN access x ON x.farm_id = f.id AND x.account_id = %(account_id)s AND x.role = 4
WHERE f.removed_at > now() - interval '1 day'
UNION ALL
SELECT 'plan', p.id, f.name || ': ' || p.name, p.removed_at
FROM plan p
JOIN farm f ON f.id = p.farm_id
JOIN access x ON x.farm_id = f.id AND x.account_id = %(account_id)s AND x.role >= 3
WHERE p.removed_at > now() - interval '1 day' AND f.removed_at IS NULL
ORDER BY removed_at DESC;

-- name: forget_removed_farms
-- Farms that were taken off a day ago are gone.
DELETE FROM farm WHERE removed_at < now() - interval '1 day';

-- name: forget_removed_plans
-- Plans that were taken off a day ago are gone.
DELETE FROM plan WHERE removed_at < now() - interval '1 day';

-- name: list_everything
-- All plans of an account with their farms, for taking them out.
SELECT f.id AS farm_id, f.name AS farm_name, p.id, p.name, r.document
FROM farm f
JOIN plan p ON p.farm_id = f.id AND p.removed_at IS NULL
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
WHERE f.account_id = %(account_id)s AND f.removed_at IS NULL
ORDER BY f.id, p.id;

-- name: list_names
-- The farms of an account by name, those taken off too.
SELECT id, name, note FROM farm WHERE account_id = %(account_id)s;

-- name: keep_tester
-- The tester that a farm's kV are read with.
UPDATE farm SET tester = %(tester)s WHERE id = %(farm_id)s AND tester IS DISTINCT FROM %(tester)s;

-- name: get_tester
-- The tester of a farm, if one was ever chosen.
SELECT tester FROM farm WHERE id = %(farm_id)s;

-- name: keep_prices
-- The prices that a farm pays.
UPDATE farm SET own_prices = %(own_prices)s WHERE id = %(farm_id)s AND own_prices IS DISTINCT FROM %(own_prices)s;

-- name: get_prices
-- The prices that a farm pays, if it ever brought a list in.
SELECT own_prices FROM farm WHERE id = %(farm_id)s;
