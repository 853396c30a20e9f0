-- name: add_plan
-- A new plan on a farm; its first revision follows in the same transaction.
INSERT INTO plan (farm_id, name)
VALUES (%(farm_id)s, %(name)s)
RETURNING id;

-- name: list_plans
-- The plans of a farm of an account.
SELECT p.id, p.name, r.document::text AS written
FROM plan p
JOIN farm f ON f.id = p.farm_id
JOIN access x ON x.farm_id = f.id AND x.account_id = %(account_id)s
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
WHERE f.id = %(farm_id)s AND p.removed_at IS NULL AND f.removed_at IS NULL
ORDER BY p.id;

-- name: get_plan
-- A plan as it stands, only for who may look at it, with what undo and redo would bring.
SELECT p.id, p.farm_id, f.name AS farm_name, f.currency, f.time_zone, x.role, p.name, p.edition, p.current,
       r.document::text AS written,
       r.summary, r.parent,
       (SELECT max(n.number) FROM revision n
        WHERE n.plan_id = p.id AND n.parent = p.current AND NOT n.set_aside) AS child
FROM plan p
JOIN farm f ON f.id = p.farm_id
JOIN plan_access x ON x.plan_id = p.id AND x.account_id = %(account_id)s
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
WHERE p.id = %(plan_id)s AND p.removed_at IS NULL AND f.removed_at IS NULL
ORDER BY x.role DESC
LIMIT 1;

-- name: lock_plan
-- Hold a plan's row until the transaction ends, only for who may do something with its farm.
SELECT p.id
FROM plan p
JOIN farm f ON f.id = p.farm_id
JOIN access x ON x.farm_id = f.id AND x.account_id = %(account_id)s
WHERE p.id = %(plan_id)s AND p.removed_at IS NULL AND f.removed_at IS NULL
FOR UPDATE OF p;

-- name: add_revision
-- A revision of a plan after its parent.
INSERT INTO revision (plan_id, number, parent, document, summary, set_aside, made_by, idempotency_key)
SELECT %(plan_id)s::bigint, coalesce(max(number), 0) + 1, %(parent)s::integer, %(document)s, %(summary)s,
       %(set_aside)s, %(made_by)s, nullif(%(idempotency_key)s, '')
FROM revision
WHERE plan_id = %(plan_id)s
RETURNING number, document::text AS written;

-- name: change_current
-- Make a revision the one that stands.
UPDATE plan
SET current = %(number)s, edition = edition + 1, name = coalesce(%(name)s::text, name)
WHERE id = %(plan_id)s
RETURNING edition;

-- name: get_revision
-- One revision's document, with who made it and when.
SELECT r.number, r.parent, r.document, r.summary, r.set_aside,
       coalesce(a.name, 'somebody who left') AS made_by_name, r.made_at
FROM revision r
LEFT JOIN account a ON a.id = r.made_by
WHERE r.plan_id = %(plan_id)s AND r.number = %(number)s;

-- name: list_revisions
-- The last revisions of a plan, newest first.
SELECT r.number, r.parent, r.summary, r.set_aside,
       coalesce(a.name, 'somebody who left') AS made_by_name, r.made_at
FROM revision r
LEFT JOIN account a ON a.id = r.made_by
WHERE r.plan_id = %(plan_id)s
ORDER BY r.number DESC
LIMIT %(most)s;

-- name: get_sent_before
-- The revision that a token was sent with before.
SELECT number, set_aside
FROM revision
WHERE plan_id = %(plan_id)s AND idempotency_key = %(idempotency_key)s;

-- name: list_history
-- Everything that was done on a plan, newest first: changes, steps, readings, tests.
SELECT d.kind, d.number, d.what, d.set_aside, coalesce(a.name, 'somebody who left') AS made_by_name, d.made_at
FROM (
    SELECT 'change' AS kind, number, summary AS what, set_aside, made_by, made_at
    FROM revision WHERE plan_id = %(plan_id)s
    UNION ALL
    SELECT CASE WHEN s.back THEN 'undo' ELSE 'redo' END, s.number, r.summary, false, s.made_by, s.made_at
    FROM step s JOIN revision r ON r.plan_id = s.plan_id AND r.number = s.number
    WHERE s.plan_id = %(plan_id)s
    UNION ALL
    SELECT 'reading', 0, round(kv::numeric, 1) || ' kV' || CASE WHEN note = '' THEN '' ELSE ': ' || note END,
           false, read_by, read_at
    FROM reading WHERE plan_id = %(plan_id)s
    UNION ALL
    SELECT 'test', 0, round(rods_kv::numeric, 1) || ' kV at the rods', false, read_by, made_at
    FROM earth_test WHERE plan_id = %(plan_id)s
    UNION ALL
    SELECT 'stray', 0, round(volts::numeric, 1) || ' V at ' || place, false, read_by, made_at
    FROM stray_reading WHERE plan_id = %(plan_id)s
) d
LEFT JOIN account a ON a.id = d.made_by
ORDER BY d.made_at DESC, d.kind, d.number DESC
LIMIT %(most)s OFFSET %(skip)s;

-- name: add_step
-- An undo or redo, and who did it; nothing where it was sent before.
INSERT INTO step (plan_id, number, back, idempotency_key, made_by)
VALUES (%(plan_id)s, %(number)s, %(back)s, nullif(%(idempotency_key)s, ''), %(made_by)s)
ON CONFLICT (plan_id, idempotency_key) DO NOTHING;

-- name: was_stepped
-- Whether an undo or redo with a token was done before.
SELECT number, false AS set_aside FROM step WHERE plan_id = %(plan_id)s AND idempotency_key = %(idempotency_key)s;
