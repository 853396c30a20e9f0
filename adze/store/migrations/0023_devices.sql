-- Devices that send readings by themselves, and the alarms that they raise.
-- depends: 0022_trace

CREATE TABLE device (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    name       text NOT NULL,
    run        text NOT NULL DEFAULT '',
    at_m       double precision NOT NULL DEFAULT 0,
    token_hash bytea NOT NULL UNIQUE,
    alarm_kv   double precision NOT NULL,
    silent_min integer NOT NULL,
    quiet_from time,
    quiet_to   time,
    made_at    timestamptz NOT NULL DEFAULT now(),
    made_by    bigint REFERENCES account ON DELETE SET NULL,
    CONSTRAINT device_name_length CHECK (length(name) BETWEEN 1 AND 60),
    CONSTRAINT device_alarm_range CHECK (alarm_kv BETWEEN 0 AND 20),
    CONSTRAINT device_silent_range CHECK (silent_min BETWEEN 10 AND 10080)
);
CREATE INDEX device_plan_id ON device (plan_id, id);

CREATE TABLE device_reading (
    device_id bigint NOT NULL REFERENCES device ON DELETE CASCADE,
    at        timestamptz NOT NULL,
    kv        real NOT NULL,
    amps      real,
    battery_v real,
    PRIMARY KEY (device_id, at)
);

CREATE TABLE device_alarm (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    device_id  bigint NOT NULL REFERENCES device ON DELETE CASCADE,
    kind       text NOT NULL,
    since      timestamptz NOT NULL,
    worst      double precision NOT NULL,
    told_worst double precision,
    over_at    timestamptz,
    CONSTRAINT device_alarm_kind CHECK (kind IN ('low', 'fast', 'battery', 'silent'))
);
CREATE UNIQUE INDEX device_alarm_going ON device_alarm (device_id, kind) WHERE over_at IS NULL;
CREATE INDEX device_alarm_device_id ON device_alarm (device_id, id DESC);
