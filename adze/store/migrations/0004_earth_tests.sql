-- Earth tests as they were read, with what they implied then; stray volts read where animals drink.
-- depends: 0003_document_compression

CREATE TABLE earth_test (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    run        text NOT NULL,
    at_m       double precision NOT NULL,
    season     text NOT NULL,
    rods_kv    double precision NOT NULL,
    fence_kv   double precision NOT NULL,
    before_kv  double precision,
    peg_m      double precision NOT NULL,
    rods       integer NOT NULL,
    tester     text NOT NULL,
    school     text NOT NULL,
    note       text NOT NULL DEFAULT '',
    rods_ohm   double precision NOT NULL,
    low_ohm    double precision NOT NULL,
    high_ohm   double precision NOT NULL,
    soil_ohm_m double precision NOT NULL,
    full_kv    double precision NOT NULL,
    read_by    bigint NOT NULL REFERENCES account,
    read_on    date NOT NULL DEFAULT current_date,
    CONSTRAINT earth_test_kv_range
        CHECK (rods_kv BETWEEN 0 AND 20 AND fence_kv BETWEEN 0 AND 20 AND before_kv BETWEEN 0 AND 20),
    CONSTRAINT earth_test_peg_range CHECK (peg_m BETWEEN 0.3 AND 200),
    CONSTRAINT earth_test_season_known CHECK (season IN ('dry', 'usual', 'wet')),
    CONSTRAINT earth_test_note_length CHECK (length(note) <= 300)
);
CREATE INDEX earth_test_plan_id_read_on ON earth_test (plan_id, read_on DESC, id DESC);

CREATE TABLE stray_reading (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    landmark   text NOT NULL,
    place      text NOT NULL,
    volts      double precision NOT NULL,
    season     text NOT NULL,
    forecast_v double precision,
    note       text NOT NULL DEFAULT '',
    read_by    bigint NOT NULL REFERENCES account,
    read_on    date NOT NULL DEFAULT current_date,
    CONSTRAINT stray_reading_volts_range CHECK (volts BETWEEN 0 AND 1000),
    CONSTRAINT stray_reading_season_known CHECK (season IN ('dry', 'usual', 'wet')),
    CONSTRAINT stray_reading_note_length CHECK (length(note) <= 300)
);
CREATE INDEX stray_reading_plan_id_read_on ON stray_reading (plan_id, read_on DESC, id DESC);
