-- name: add_reading
-- A tester's reading at a place, with what was forecast there; one that is sent again is the one that is kept.
INSERT INTO reading (plan_id, run, at_m, strand, kv, amps, outward, season, note,
                     forecast_low_kv, forecast_kv, forecast_high_kv, read_by, idempotency_key,
                     read_at, is_over, corrects)
VALUES (%(plan_id)s, %(run)s, %(at_m)s, %(strand)s, %(kv)s, %(amps)s::double precision, %(outward)s::boolean,
        %(season)s, %(note)s, %(forecast_low_kv)s::double precision, %(forecast_kv)s::double precision,
        %(forecast_high_kv)s::double precision, %(read_by)s, nullif(%(idempotency_key)s, ''),
        coalesce(%(read_at)s::timestamptz, now()), %(is_over)s, %(corrects)s::bigint)
ON CONFLICT (plan_id, idempotency_key) DO UPDATE SET idempotency_key = excluded.idempotency_key
RETURNING id, run, at_m, strand, kv, amps, outward, season, note,
          forecast_low_kv, forecast_kv, forecast_high_kv, read_at, is_over, corrects, withdrawn_why,
          (SELECT name FROM account WHERE id = read_by) AS read_by_name;

-- name: list_readings
-- The readings of a plan, newest first; those that were withdrawn only where they are asked for.
SELECT id, run, at_m, strand, kv, amps, outward, season, note,
       forecast_low_kv, forecast_kv, forecast_high_kv, read_at, is_over, corrects, withdrawn_why,
       coalesce((SELECT a.name FROM account a WHERE a.id = read_by), 'somebody who left') AS read_by_name
FROM reading
WHERE plan_id = %(plan_id)s AND (%(withdrawn)s OR withdrawn_at IS NULL)
ORDER BY read_at DESC, id DESC
LIMIT %(most)s OFFSET %(skip)s;

-- name: withdraw_reading
-- A reading that was wrong: kept, and counted no more.
UPDATE reading SET withdrawn_at = now(), withdrawn_why = %(why)s
WHERE id = %(id)s AND plan_id = %(plan_id)s AND withdrawn_at IS NULL
RETURNING id;

-- name: get_reading
-- One reading of a plan that counts.
SELECT id, run, at_m, strand, kv, amps, outward, season, note,
       forecast_low_kv, forecast_kv, forecast_high_kv, read_at, is_over, corrects, withdrawn_why,
       coalesce((SELECT a.name FROM account a WHERE a.id = read_by), 'somebody who left') AS read_by_name
FROM reading
WHERE id = %(id)s AND plan_id = %(plan_id)s AND withdrawn_at IS NULL;

-- name: list_last_read
-- The newest moment at which each of some plans was read.
SELECT plan_id, max(read_at) AS read_at
FROM reading
WHERE plan_id = ANY(%(plans)s) AND withdrawn_at IS NULL
GROUP BY plan_id;

-- name: get_stamp
-- What changes whenever a reading of a plan is kept, withdrawn or put right.
SELECT count(*) AS kept, count(*) FILTER (WHERE withdrawn_at IS NULL) AS counting, coalesce(max(id), 0) AS newest
FROM reading WHERE plan_id = %(plan_id)s;

-- name: list_between
-- The readings of a plan that count between two moments, newest first.
SELECT id, run, at_m, strand, kv, amps, outward, season, note,
       forecast_low_kv, forecast_kv, forecast_high_kv, read_at, is_over, corrects, withdrawn_why,
       coalesce((SELECT a.name FROM account a WHERE a.id = read_by), 'somebody who left') AS read_by_name
FROM reading
WHERE plan_id = %(plan_id)s AND withdrawn_at IS NULL AND read_at BETWEEN %(begun)s AND %(ended)s
ORDER BY read_at DESC, id DESC
LIMIT %(most)s;
