-- A rain gauge tells rain alone: what the air was on such a day is not known.
-- depends: 0030_weather_days

ALTER TABLE weather_day ALTER COLUMN mean_c DROP NOT NULL;
