-- The weather of a farm day by day: as it was heard of a feed, or read in a rain gauge.
-- depends: 0029_shed_use

CREATE TABLE weather_day (
    farm_id   bigint NOT NULL REFERENCES farm ON DELETE CASCADE,
    day       date NOT NULL,
    rain_mm   double precision NOT NULL,
    mean_c    double precision NOT NULL,
    is_stormy boolean NOT NULL DEFAULT false,
    gauge_mm  double precision,
    PRIMARY KEY (farm_id, day),
    CONSTRAINT weather_day_rain_range CHECK (rain_mm BETWEEN 0 AND 2000),
    CONSTRAINT weather_day_gauge_range CHECK (gauge_mm BETWEEN 0 AND 2000),
    CONSTRAINT weather_day_mean_range CHECK (mean_c BETWEEN -80 AND 70)
);
