-- name: get_usage
-- What the account that holds a farm keeps, over all of its farms: plans, and bytes of documents and pictures.
SELECT (SELECT count(*) FROM plan p JOIN farm f ON f.id = p.farm_id WHERE f.account_id = a.account_id) AS plans,
       (SELECT coalesce(sum(pg_column_size(r.document)), 0) FROM revision r JOIN plan p ON p.id = r.plan_id
        JOIN farm f ON f.id = p.farm_id WHERE f.account_id = a.account_id)::bigint
       + (SELECT coalesce(sum(octet_length(c.content)), 0) FROM picture c JOIN plan p ON p.id = c.plan_id
          JOIN farm f ON f.id = p.farm_id WHERE f.account_id = a.account_id)::bigint AS bytes
FROM (SELECT %(account_id)s::bigint AS account_id) a;

-- name: get_holder
-- The account that holds the farm of a plan.
SELECT f.account_id FROM plan p JOIN farm f ON f.id = p.farm_id WHERE p.id = %(plan_id)s;

-- name: get_farm_holder
-- The account that holds a farm.
SELECT account_id FROM farm WHERE id = %(farm_id)s;
