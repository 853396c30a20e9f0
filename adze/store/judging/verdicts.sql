-- name: keep_verdict
-- How a revision stands by one edition of the rules.
INSERT INTO verdict (plan_id, number, program, status, line, length_m, paths, end_kv)
VALUES (%(plan_id)s, %(number)s, %(program)s, %(status)s, %(line)s, %(length_m)s, %(paths)s, %(end_kv)s)
ON CONFLICT (plan_id, number) DO UPDATE
SET program = excluded.program, status = excluded.status, line = excluded.line, length_m = excluded.length_m,
    paths = excluded.paths, end_kv = excluded.end_kv,
    was_status = CASE WHEN verdict.program <> excluded.program THEN verdict.status ELSE verdict.was_status END,
    was_line = CASE WHEN verdict.program <> excluded.program THEN verdict.line ELSE verdict.was_line END,
    was_end_kv = CASE WHEN verdict.program <> excluded.program THEN verdict.end_kv ELSE verdict.was_end_kv END;

-- name: take_former_verdict
-- What a revision's verdict was by earlier rules; it is told once.
WITH former AS (
    SELECT plan_id, number, status, line, end_kv, was_status, was_line, was_end_kv
    FROM verdict
    WHERE plan_id = %(plan_id)s AND number = %(number)s AND was_status IS NOT NULL
    FOR UPDATE
)
UPDATE verdict v
SET was_status = NULL, was_line = NULL, was_end_kv = NULL
FROM former f
WHERE v.plan_id = f.plan_id AND v.number = f.number
RETURNING f.status, f.line, f.end_kv, f.was_status, f.was_line, f.was_end_kv;

-- name: list_farm_page
-- Farms of an account, what needs a hand first: the worst verdict of their plans, then the order in which they came.
SELECT f.id, f.name, f.note, f.currency, f.time_zone, x.role, a.name AS owner_name, count(*) OVER () AS farms
FROM farm f
JOIN access x ON x.farm_id = f.id AND x.account_id = %(account_id)s
JOIN account a ON a.id = f.account_id
LEFT JOIN plan p ON p.farm_id = f.id AND p.removed_at IS NULL
LEFT JOIN verdict v ON v.plan_id = p.id AND v.number = p.current AND v.program = %(program)s
WHERE f.removed_at IS NULL
GROUP BY f.id, x.role, a.name
ORDER BY min(CASE v.status WHEN 'broken' THEN 0 WHEN 'fails' THEN 1 WHEN 'marginal' THEN 2 WHEN 'unknown' THEN 3
                           WHEN 'holds' THEN 4 ELSE 3 END), f.id
LIMIT %(most)s OFFSET %(skip)s;

-- name: list_cards
-- The plans of some farms as they stand, with their verdict where the rules have given one.
SELECT p.id, p.farm_id, p.name, p.current AS number, r.made_at AS changed_at, v.status, v.line, v.length_m, v.paths
FROM plan p
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
LEFT JOIN verdict v ON v.plan_id = p.id AND v.number = p.current AND v.program = %(program)s
WHERE p.farm_id = ANY(%(farms)s) AND p.removed_at IS NULL
ORDER BY p.id;

-- name: get_current
-- The document of a plan that stands, for whoever judges it.
SELECT p.current AS number, r.document::text AS written
FROM plan p
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
WHERE p.id = %(plan_id)s;
