-- name: get_open_search
-- The search of a plan that is going on; of practice or in earnest.
SELECT id, season, is_thorough, shows_amps, hidden, started_at, ended_at, result
FROM trace_search
WHERE plan_id = %(plan_id)s AND ended_at IS NULL
ORDER BY id DESC
LIMIT 1;

-- name: lock_plan_searches
-- One search at a time begins on a plan.
SELECT pg_advisory_xact_lock(hashtextextended('trace', %(plan_id)s)) IS NULL AS id;

-- name: add_trace_search
-- A search begins.
INSERT INTO trace_search (plan_id, season, is_thorough, shows_amps, hidden, started_by)
VALUES (%(plan_id)s, %(season)s, %(is_thorough)s, %(shows_amps)s, %(hidden)s, %(started_by)s)
RETURNING id, season, is_thorough, shows_amps, hidden, started_at, ended_at, result;

-- name: add_practised
-- Practice that ended where there was no signal, with what came of it; one with a token that is kept already is none.
INSERT INTO trace_search (plan_id, season, hidden, started_by, ended_at, result)
SELECT %(plan_id)s, %(season)s, %(hidden)s, %(started_by)s, now(), %(result)s
WHERE NOT EXISTS (SELECT 1 FROM trace_search WHERE plan_id = %(plan_id)s AND hidden ->> 'once' = %(idempotency_key)s);

-- name: end_search
-- A search ends, with what came of it.
UPDATE trace_search SET ended_at = now(), result = %(result)s
WHERE id = %(search_id)s AND plan_id = %(plan_id)s AND ended_at IS NULL
RETURNING id;

-- name: list_ended_searches
-- The searches of a plan that ended, newest first.
SELECT id, season, is_thorough, shows_amps, hidden, started_at, ended_at, result
FROM trace_search
WHERE plan_id = %(plan_id)s AND ended_at IS NOT NULL
ORDER BY id DESC
LIMIT %(most)s;

-- name: add_trace_event
-- What was done in a search; one with a token that is kept already is that one.
INSERT INTO trace_event (search_id, what, body, idempotency_key, by_account)
VALUES (%(search_id)s, %(what)s, %(body)s, nullif(%(idempotency_key)s, ''), %(by_account)s)
ON CONFLICT (search_id, idempotency_key) DO UPDATE SET idempotency_key = trace_event.idempotency_key
RETURNING id;

-- name: list_trace_events
-- What was done in a search and stands, oldest first.
SELECT e.id, e.what, e.body, e.at, e.idempotency_key, coalesce(a.name, 'somebody who left') AS by_name
FROM trace_event e
LEFT JOIN account a ON a.id = e.by_account
WHERE e.search_id = %(search_id)s AND e.undone_at IS NULL
ORDER BY e.id;

-- name: undo_trace_event
-- The last of what stands in a search is taken back.
UPDATE trace_event SET undone_at = now()
WHERE id = (SELECT max(id) FROM trace_event WHERE search_id = %(search_id)s AND undone_at IS NULL)
RETURNING id;

-- name: undo_trace_event_of
-- A step is taken back by its token, or by its number where it has none; once.
UPDATE trace_event SET undone_at = now()
WHERE search_id = %(search_id)s AND (idempotency_key = %(token)s OR 'e' || id = %(token)s) AND undone_at IS NULL
RETURNING id;

-- name: get_search_of_step
-- The search in earnest that a step is of, by the step's token or number; also of one that was taken back.
SELECT s.id, s.season, s.is_thorough, s.shows_amps, s.hidden, s.started_at, s.ended_at, s.result
FROM trace_event e
JOIN trace_search s ON s.id = e.search_id
WHERE s.plan_id = %(plan_id)s AND s.hidden IS NULL AND (e.idempotency_key = %(token)s OR 'e' || e.id = %(token)s)
ORDER BY e.id DESC
LIMIT 1;

-- name: list_finds
-- What was found in the searches of a plan that were in earnest, newest first.
SELECT e.id, e.what, e.body, e.at, e.idempotency_key, coalesce(a.name, 'somebody who left') AS by_name
FROM trace_event e
JOIN trace_search s ON s.id = e.search_id
LEFT JOIN account a ON a.id = e.by_account
WHERE s.plan_id = %(plan_id)s AND s.hidden IS NULL AND e.what = 'found' AND e.undone_at IS NULL
ORDER BY e.id DESC
LIMIT %(most)s;
