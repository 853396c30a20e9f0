-- What is taken off can be taken back for a day.
-- depends: 0005_sign_ins_and_verdicts

ALTER TABLE farm ADD COLUMN removed_at timestamptz;
ALTER TABLE plan ADD COLUMN removed_at timestamptz;
-- A farm that is taken off leaves its name free.
ALTER TABLE farm DROP CONSTRAINT farm_name_key;
CREATE UNIQUE INDEX farm_name_key ON farm (account_id, name) WHERE removed_at IS NULL;
CREATE INDEX farm_removed_at ON farm (removed_at) WHERE removed_at IS NOT NULL;
CREATE INDEX plan_removed_at ON plan (removed_at) WHERE removed_at IS NOT NULL;
