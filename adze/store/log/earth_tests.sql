-- name: add_earth_test
-- An earth test as it was read, with what it implied then.
INSERT INTO earth_test (plan_id, run, at_m, season, rods_kv, fence_kv, before_kv, peg_m, rods, tester, school, note,
                        rods_ohm, low_ohm, high_ohm, soil_ohm_m, full_kv, read_by, read_on)
VALUES (%(plan_id)s, %(run)s, %(at_m)s, %(season)s, %(rods_kv)s, %(fence_kv)s, %(before_kv)s::double precision,
        %(peg_m)s, %(rods)s, %(tester)s, %(school)s, %(note)s, %(rods_ohm)s, %(low_ohm)s, %(high_ohm)s,
        %(soil_ohm_m)s, %(full_kv)s, %(read_by)s, %(read_on)s)
RETURNING id, run, at_m, season, rods_kv, fence_kv, before_kv, peg_m, rods, tester, school, note, rods_ohm, low_ohm,
          high_ohm, soil_ohm_m, full_kv, read_on;

-- name: list_earth_tests
-- The earth tests of a plan, newest first.
SELECT id, run, at_m, season, rods_kv, fence_kv, before_kv, peg_m, rods, tester, school, note, rods_ohm, low_ohm,
       high_ohm, soil_ohm_m, full_kv, read_on
FROM earth_test
WHERE plan_id = %(plan_id)s
ORDER BY read_on DESC, id DESC
LIMIT %(most)s;

-- name: add_stray_reading
-- Volts read where animals drink, beside what was forecast there.
INSERT INTO stray_reading (plan_id, landmark, place, volts, season, forecast_v, note, read_by, read_on)
VALUES (%(plan_id)s, %(landmark)s, %(place)s, %(volts)s, %(season)s, %(forecast_v)s::double precision, %(note)s,
        %(read_by)s, %(read_on)s)
RETURNING id, landmark, place, volts, season, forecast_v, note, read_on;

-- name: list_stray_readings
-- The stray volts read on a plan, newest first.
SELECT id, landmark, place, volts, season, forecast_v, note, read_on
FROM stray_reading
WHERE plan_id = %(plan_id)s
ORDER BY read_on DESC, id DESC
LIMIT %(most)s;

-- name: list_last_tests
-- The last day of a test of each season on some plans.
SELECT plan_id, season, max(read_on) AS read_on
FROM earth_test
WHERE plan_id = ANY(%(plans)s)
GROUP BY plan_id, season;
