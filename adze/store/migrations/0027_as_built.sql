-- What stands otherwise than drawn, figure by figure; and which machines each of a crew may use.
-- depends: 0026_ready_by

CREATE TABLE as_built (
    plan_id  bigint NOT NULL REFERENCES plan ON DELETE CASCADE,
    key      text NOT NULL,
    figure   text NOT NULL,
    noted_by bigint REFERENCES account ON DELETE SET NULL,
    noted_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (plan_id, key),
    CONSTRAINT as_built_key_length CHECK (length(key) BETWEEN 1 AND 100),
    CONSTRAINT as_built_figure_length CHECK (length(figure) BETWEEN 1 AND 200)
);

ALTER TABLE crew_member ADD COLUMN may text[] NOT NULL DEFAULT '{}';
UPDATE crew_member SET may = ARRAY['driver', 'auger', 'digger', 'hammer'] WHERE machines;
ALTER TABLE crew_member DROP COLUMN machines;
ALTER TABLE crew_member ADD CONSTRAINT crew_member_may_known
    CHECK (may <@ ARRAY['driver', 'auger', 'digger', 'hammer']);
