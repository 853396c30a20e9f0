-- name: add_device
-- A device of a plan.
INSERT INTO device (plan_id, name, run, at_m, token_hash, alarm_kv, silent_min, quiet_from, quiet_to, made_by)
VALUES (%(plan_id)s, %(name)s, %(run)s, %(at_m)s, %(token_hash)s, %(alarm_kv)s, %(silent_min)s,
        %(quiet_from)s::time, %(quiet_to)s::time, %(made_by)s)
RETURNING id, plan_id, name, run, at_m, alarm_kv, silent_min, quiet_from, quiet_to;

-- name: list_devices
-- The devices of a plan.
SELECT id, plan_id, name, run, at_m, alarm_kv, silent_min, quiet_from, quiet_to
FROM device WHERE plan_id = %(plan_id)s ORDER BY id;

-- name: list_every_device
-- Every device that has sent anything, a page of them.
SELECT id, plan_id, name, run, at_m, alarm_kv, silent_min, quiet_from, quiet_to
FROM device d
WHERE id > %(after)s AND EXISTS (SELECT FROM device_reading r WHERE r.device_id = d.id)
ORDER BY id
LIMIT %(most)s;

-- name: get_device_by_token
-- The device that a token is of.
SELECT id, plan_id, name, run, at_m, alarm_kv, silent_min, quiet_from, quiet_to
FROM device WHERE token_hash = %(token_hash)s;

-- name: remove_device
-- A device is taken off, with its readings and alarms.
DELETE FROM device WHERE id = %(id)s AND plan_id = %(plan_id)s RETURNING id;

-- name: add_device_readings
-- A batch of a device's readings; those that are kept already are left as they are.
WITH kept AS (
    INSERT INTO device_reading (device_id, at, kv, amps, battery_v)
    SELECT %(device_id)s, t.at, t.kv, t.amps, t.battery_v
    FROM unnest(%(at)s::timestamptz[], %(kv)s::real[], %(amps)s::real[], %(battery_v)s::real[])
         AS t (at, kv, amps, battery_v)
    ON CONFLICT (device_id, at) DO NOTHING
    RETURNING 1
)
SELECT count(*) AS kept FROM kept;

-- name: list_device_readings
-- The newest readings of a device, newest first.
SELECT at, kv, amps, battery_v FROM device_reading
WHERE device_id = %(device_id)s
ORDER BY at DESC
LIMIT %(most)s;

-- name: list_device_days
-- The least, the middle and the most kV of each day of a device, oldest first.
SELECT date_trunc('day', at) AS day, min(kv)::float8 AS low_kv, max(kv)::float8 AS high_kv,
       percentile_cont(0.5) WITHIN GROUP (ORDER BY kv)::float8 AS kv
FROM device_reading
WHERE device_id = %(device_id)s AND at > now() - interval '400 days'
GROUP BY 1
ORDER BY 1;

-- name: list_going_alarms
-- The alarms of some devices that go on.
SELECT a.id, a.device_id, a.kind, a.since, a.worst, a.told_worst, a.over_at
FROM device_alarm a
WHERE a.device_id = ANY(%(devices)s) AND a.over_at IS NULL
ORDER BY a.id;

-- name: list_plan_alarms
-- The alarms that go on at the devices of some plans.
SELECT d.plan_id, d.name, a.kind, a.since, f.time_zone
FROM device_alarm a
JOIN device d ON d.id = a.device_id
JOIN plan p ON p.id = d.plan_id
JOIN farm f ON f.id = p.farm_id
WHERE d.plan_id = ANY(%(plans)s) AND a.over_at IS NULL
ORDER BY a.since;

-- name: list_past_alarms
-- The alarms of some devices that are over, newest first.
SELECT a.id, a.device_id, a.kind, a.since, a.worst, a.told_worst, a.over_at
FROM device_alarm a
WHERE a.device_id = ANY(%(devices)s) AND a.over_at IS NOT NULL
ORDER BY a.id DESC
LIMIT %(most)s;

-- name: keep_alarm
-- An alarm begins, or goes on and is worse.
INSERT INTO device_alarm (device_id, kind, since, worst)
VALUES (%(device_id)s, %(kind)s, %(since)s, %(worst)s)
ON CONFLICT (device_id, kind) WHERE over_at IS NULL
DO UPDATE SET worst = CASE WHEN excluded.kind = 'silent' THEN greatest(device_alarm.worst, excluded.worst)
                           ELSE least(device_alarm.worst, excluded.worst) END
RETURNING id, device_id, kind, since, worst, told_worst, over_at;

-- name: end_alarms
-- Alarms that hold no more.
UPDATE device_alarm SET over_at = now()
WHERE device_id = %(device_id)s AND over_at IS NULL AND NOT (kind = ANY(%(kinds)s));

-- name: tell_alarm
-- An alarm was told as it stands.
UPDATE device_alarm SET told_worst = worst WHERE id = %(id)s;

-- name: list_alarm_addresses
-- Who is told of a plan's alarms: the people of its farm who log, with a confirmed address.
SELECT a.id AS account_id, a.mail, a.login, a.name
FROM plan p
JOIN access x ON x.farm_id = p.farm_id AND x.role > 1
JOIN account a ON a.id = x.account_id
WHERE p.id = %(plan_id)s AND a.mail IS NOT NULL AND NOT a.is_demo AND NOT a.is_guest
ORDER BY a.id;

-- name: get_time_zone
-- The time zone of a plan's farm.
SELECT f.time_zone AS name FROM plan p JOIN farm f ON f.id = p.farm_id WHERE p.id = %(plan_id)s;
