-- name: list_crew
-- The crew of a plan, in their order.
SELECT name, role, may FROM crew_member WHERE plan_id = %(plan_id)s ORDER BY place;

-- name: clear_crew
-- Nobody is on the crew of a plan.
DELETE FROM crew_member WHERE plan_id = %(plan_id)s;

-- name: add_crew_member
-- Somebody on the crew.
INSERT INTO crew_member (plan_id, place, name, role, may)
VALUES (%(plan_id)s, %(place)s, %(name)s, %(role)s, %(may)s);

-- name: get_day
-- When the work on a plan begins, and how long its day is.
SELECT begins_on, begins_at, day_h, ready_by, ready_for FROM work_day WHERE plan_id = %(plan_id)s;

-- name: set_day
-- When the work on a plan begins.
INSERT INTO work_day (plan_id, begins_on, begins_at, day_h, ready_by, ready_for)
VALUES (%(plan_id)s, %(begins_on)s, %(begins_at)s, %(day_h)s, %(ready_by)s, %(ready_for)s)
ON CONFLICT (plan_id) DO UPDATE
SET begins_on = excluded.begins_on, begins_at = excluded.begins_at, day_h = excluded.day_h,
    ready_by = excluded.ready_by, ready_for = excluded.ready_for;

-- name: add_task_event
-- What was done at a step; one with a token that is kept already is that one.
INSERT INTO task_event (plan_id, step, what, said, note, idempotency_key, by_account, at)
VALUES (%(plan_id)s, %(step)s, %(what)s, %(said)s, %(note)s, nullif(%(idempotency_key)s, ''), %(by_account)s,
        coalesce(%(at)s::timestamptz, now()))
ON CONFLICT (plan_id, idempotency_key) DO UPDATE SET idempotency_key = task_event.idempotency_key
RETURNING id;

-- name: has_event
-- Whether what came with a token is kept already.
SELECT EXISTS (SELECT FROM task_event WHERE plan_id = %(plan_id)s AND idempotency_key = %(idempotency_key)s) AS is_kept;

-- name: list_task_events
-- What was done on a plan's steps, oldest first.
SELECT e.id, e.step, e.what, e.said, e.note, coalesce(a.name, 'somebody who left') AS by_name, e.at
FROM task_event e
LEFT JOIN account a ON a.id = e.by_account
WHERE e.plan_id = %(plan_id)s
ORDER BY e.id
LIMIT %(most)s;

-- name: list_rates
-- The minutes that a farm's own people take.
SELECT kind, minutes FROM farm_rate WHERE farm_id = %(farm_id)s;

-- name: set_rate
-- A farm's own minutes for a kind of work.
INSERT INTO farm_rate (farm_id, kind, minutes) VALUES (%(farm_id)s, %(kind)s, %(minutes)s)
ON CONFLICT (farm_id, kind) DO UPDATE SET minutes = excluded.minutes;

-- name: drop_rate
-- Back to the usual minutes of a kind of work.
DELETE FROM farm_rate WHERE farm_id = %(farm_id)s AND kind = %(kind)s;

-- name: keep_forecast
-- The weather that is forecast for a farm.
UPDATE farm SET forecast = %(forecast)s, forecast_at = now() WHERE id = %(farm_id)s;

-- name: get_forecast
-- The weather that is forecast for a farm, and when that was heard.
SELECT forecast, forecast_at FROM farm WHERE id = %(farm_id)s;

-- name: list_as_built
-- What stands otherwise than drawn, figure by figure.
SELECT b.key, b.figure, coalesce(a.name, 'somebody who left') AS by_name, b.noted_at
FROM as_built b
LEFT JOIN account a ON a.id = b.noted_by
WHERE b.plan_id = %(plan_id)s
ORDER BY b.key;

-- name: note_as_built
-- A figure as it stands, in the place of the one noted before.
INSERT INTO as_built (plan_id, key, figure, noted_by) VALUES (%(plan_id)s, %(key)s, %(figure)s, %(noted_by)s)
ON CONFLICT (plan_id, key) DO UPDATE
SET figure = excluded.figure, noted_by = excluded.noted_by, noted_at = now();

-- name: drop_as_built
-- A figure stands as drawn.
DELETE FROM as_built WHERE plan_id = %(plan_id)s AND key = %(key)s;
