-- name: ask_search
-- A question, or the one that stands already; one that was stopped or failed begins anew.
INSERT INTO search (plan_id, number, wishes, program, asked_by)
VALUES (%(plan_id)s, %(number)s, %(wishes)s, %(program)s, %(asked_by)s)
ON CONFLICT (plan_id, number, wishes, program) DO UPDATE
SET asked_at = now(), told_at = now(), asked_by = excluded.asked_by,
    state = CASE WHEN search.state IN ('stopped', 'failed') THEN 'waiting' ELSE search.state END,
    told = CASE WHEN search.state IN ('stopped', 'failed') THEN '{}' ELSE search.told END
RETURNING id, state, told;

-- name: get_search
-- How far a search of a plan is.
SELECT id, state, told FROM search WHERE id = %(search_id)s AND plan_id = %(plan_id)s;

-- name: get_latest_search
-- The search that was last asked for a revision.
SELECT id, state, told FROM search WHERE plan_id = %(plan_id)s AND number = %(number)s AND program = %(program)s
ORDER BY asked_at DESC
LIMIT 1;

-- name: count_open_searches
-- How many searches of an account wait or run.
SELECT count(*) AS count FROM search WHERE asked_by = %(account_id)s AND state IN ('waiting', 'running');

-- name: begin_search
-- What a search asks, as a worker takes it; nothing where it was stopped meanwhile.
UPDATE search s SET state = 'running', told_at = now()
FROM revision r
WHERE s.id = %(search_id)s AND s.state IN ('waiting', 'running') AND r.plan_id = s.plan_id AND r.number = s.number
RETURNING s.wishes, r.document::text AS written;

-- name: tell_search
-- How far a running search is.
UPDATE search SET told = %(told)s, told_at = now(), state = %(state)s WHERE id = %(search_id)s AND state = 'running';

-- name: stop_search
-- No further.
UPDATE search SET state = 'stopped'
WHERE id = %(search_id)s AND plan_id = %(plan_id)s AND state IN ('waiting', 'running');

-- name: forget_searches
-- Searches of which nobody has asked for a week.
DELETE FROM search WHERE asked_at < now() - interval '7 days';
