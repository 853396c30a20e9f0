-- name: keep_days
-- Days as a feed tells them, in the place of what it told before; a gauge's reading stays.
INSERT INTO weather_day (farm_id, day, rain_mm, mean_c, is_stormy)
SELECT %(farm_id)s, t.day, t.rain_mm, t.mean_c, t.is_stormy
FROM unnest(%(days)s::date[], %(rain_mm)s::float8[], %(mean_c)s::float8[], %(is_stormy)s::boolean[])
     AS t (day, rain_mm, mean_c, is_stormy)
ON CONFLICT (farm_id, day) DO UPDATE
SET rain_mm = excluded.rain_mm, mean_c = excluded.mean_c, is_stormy = excluded.is_stormy;

-- name: keep_gauge
-- What a rain gauge showed on a day; where no feed has told of it, its air is not known.
INSERT INTO weather_day (farm_id, day, rain_mm, gauge_mm)
VALUES (%(farm_id)s, %(day)s, %(gauge_mm)s, %(gauge_mm)s)
ON CONFLICT (farm_id, day) DO UPDATE SET gauge_mm = excluded.gauge_mm;

-- name: list_days
-- The newest days of a farm up to one, what a gauge showed before what a feed told.
SELECT day, coalesce(gauge_mm, rain_mm) AS rain_mm, mean_c, is_stormy
FROM weather_day
WHERE farm_id = %(farm_id)s AND day <= %(until)s
ORDER BY day DESC
LIMIT %(most)s;

-- name: list_hearing_farms
-- Farms that have asked the feed, each with its zone and its newest plan.
SELECT f.id AS farm_id, f.time_zone, max(p.id) AS plan_id
FROM farm f JOIN plan p ON p.farm_id = f.id AND p.removed_at IS NULL
WHERE f.forecast_at IS NOT NULL AND f.removed_at IS NULL AND f.id > %(after)s
GROUP BY f.id
ORDER BY f.id
LIMIT %(most)s;
