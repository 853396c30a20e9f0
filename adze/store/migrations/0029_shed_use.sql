-- What a mend took from the shed.
-- depends: 0028_photo_places

CREATE TABLE shed_use (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    plan_id    bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    part       text NOT NULL,
    quantity   double precision NOT NULL,
    what_for   text NOT NULL DEFAULT '',
    by_account bigint REFERENCES account ON DELETE SET NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT shed_use_quantity_range CHECK (quantity > 0 AND quantity <= 1000000),
    CONSTRAINT shed_use_what_for_length CHECK (length(what_for) <= 200)
);
CREATE INDEX shed_use_plan_id ON shed_use (plan_id, id DESC);
