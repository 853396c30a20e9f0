-- name: add_upkeep
-- Upkeep that was done, or a storm that passed.
INSERT INTO upkeep_event (plan_id, kind, done_on, note, by_account)
VALUES (%(plan_id)s, %(kind)s, %(done_on)s, %(note)s, %(by_account)s);

-- name: list_last
-- The last day of each kind of upkeep of a plan.
SELECT kind, max(done_on) AS done_on FROM upkeep_event WHERE plan_id = %(plan_id)s GROUP BY kind;

-- name: list_upkeep
-- What was done on a plan's fence, newest first.
SELECT u.kind, u.done_on, u.note, coalesce(a.name, 'somebody who left') AS by_name
FROM upkeep_event u
LEFT JOIN account a ON a.id = u.by_account
WHERE u.plan_id = %(plan_id)s
ORDER BY u.done_on DESC, u.id DESC
LIMIT %(most)s;

-- name: add_defect
-- What is to be mended later.
INSERT INTO defect (plan_id, run, at_m, words, noted_on, by_account, idempotency_key)
VALUES (%(plan_id)s, %(run)s, %(at_m)s, %(words)s, %(noted_on)s, %(by_account)s, nullif(%(idempotency_key)s, ''))
ON CONFLICT (plan_id, idempotency_key) DO NOTHING;

-- name: list_defects
-- What is still to be mended, oldest first.
SELECT d.id, d.run, d.at_m, d.words, d.noted_on, coalesce(a.name, 'somebody who left') AS by_name
FROM defect d
LEFT JOIN account a ON a.id = d.by_account
WHERE d.plan_id = %(plan_id)s AND d.mended_on IS NULL
ORDER BY d.id
LIMIT 500;

-- name: mend_defect
-- It is mended.
UPDATE defect SET mended_on = %(mended_on)s
WHERE id = %(id)s AND plan_id = %(plan_id)s AND mended_on IS NULL
RETURNING id;
