-- The time zone in which a farm's times are said.
-- depends: 0015_currency

ALTER TABLE farm ADD COLUMN time_zone text NOT NULL DEFAULT 'UTC';
