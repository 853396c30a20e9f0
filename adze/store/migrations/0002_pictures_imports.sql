-- Pictures of a plan (aerial photo, photos of places), and files on their way into it.
-- depends: 0001_accounts_farms_plans

CREATE TABLE picture (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    name       text NOT NULL,
    media_type text NOT NULL,
    width_px   integer NOT NULL,
    height_px  integer NOT NULL,
    content    bytea NOT NULL,
    made_by    bigint NOT NULL REFERENCES account,
    made_at    timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT picture_name_length CHECK (length(name) BETWEEN 1 AND 120),
    CONSTRAINT picture_media_type_known CHECK (media_type IN ('image/jpeg', 'image/png')),
    CONSTRAINT picture_size CHECK (width_px BETWEEN 1 AND 20000 AND height_px BETWEEN 1 AND 20000)
);
CREATE INDEX picture_plan_id ON picture (plan_id);

-- What a file brought, kept between preview and taking; the next file of the plan replaces it.
CREATE TABLE ground_import (
    id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    name    text NOT NULL,
    brought jsonb NOT NULL,
    made_by bigint NOT NULL REFERENCES account,
    made_at timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT ground_import_name_length CHECK (length(name) BETWEEN 1 AND 120)
);
CREATE INDEX ground_import_plan_id ON ground_import (plan_id);
