-- Farms are shared with people in a role; who leaves leaves what they wrote.
-- depends: 0006_taken_off

CREATE TABLE member (
    farm_id    bigint NOT NULL REFERENCES farm ON DELETE CASCADE,
    account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    role       integer NOT NULL,
    since      timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (farm_id, account_id),
    CONSTRAINT member_role_known CHECK (role BETWEEN 1 AND 4)
);
CREATE INDEX member_account_id ON member (account_id);

CREATE TABLE invitation (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    token_hash bytea NOT NULL UNIQUE,
    farm_id    bigint NOT NULL REFERENCES farm ON DELETE CASCADE,
    role       integer NOT NULL,
    made_by    bigint NOT NULL REFERENCES account ON DELETE CASCADE,
    made_at    timestamptz NOT NULL DEFAULT now(),
    ends_at    timestamptz NOT NULL,
    taken_by   bigint REFERENCES account ON DELETE SET NULL,
    taken_at   timestamptz,
    CONSTRAINT invitation_role_known CHECK (role BETWEEN 1 AND 4)
);
CREATE INDEX invitation_farm_id ON invitation (farm_id);

-- Who may do what with a farm: 1 reader, 2 crew, 3 editor, 4 owner.
CREATE VIEW access AS
SELECT id AS farm_id, account_id, 4 AS role FROM farm
UNION ALL
SELECT farm_id, account_id, role FROM member;

ALTER TABLE revision      ALTER made_by DROP NOT NULL, DROP CONSTRAINT revision_made_by_fkey,
    ADD CONSTRAINT revision_made_by_fkey FOREIGN KEY (made_by) REFERENCES account ON DELETE SET NULL;
ALTER TABLE reading       ALTER read_by DROP NOT NULL, DROP CONSTRAINT reading_read_by_fkey,
    ADD CONSTRAINT reading_read_by_fkey FOREIGN KEY (read_by) REFERENCES account ON DELETE SET NULL;
ALTER TABLE earth_test    ALTER read_by DROP NOT NULL, DROP CONSTRAINT earth_test_read_by_fkey,
    ADD CONSTRAINT earth_test_read_by_fkey FOREIGN KEY (read_by) REFERENCES account ON DELETE SET NULL;
ALTER TABLE stray_reading ALTER read_by DROP NOT NULL, DROP CONSTRAINT stray_reading_read_by_fkey,
    ADD CONSTRAINT stray_reading_read_by_fkey FOREIGN KEY (read_by) REFERENCES account ON DELETE SET NULL;
ALTER TABLE picture       ALTER made_by DROP NOT NULL, DROP CONSTRAINT picture_made_by_fkey,
    ADD CONSTRAINT picture_made_by_fkey FOREIGN KEY (made_by) REFERENCES account ON DELETE SET NULL;
ALTER TABLE ground_import ALTER made_by DROP NOT NULL, DROP CONSTRAINT ground_import_made_by_fkey,
    ADD CONSTRAINT ground_import_made_by_fkey FOREIGN KEY (made_by) REFERENCES account ON DELETE SET NULL;
CREATE INDEX revision_made_by ON revision (made_by);
CREATE INDEX reading_read_by ON reading (read_by);
