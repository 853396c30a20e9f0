-- What a verdict was by earlier rules, until that has been told to whoever opens the plan; a farm's tester, as a plan
-- document says it, for its next plan.
-- depends: 0016_time_zone

ALTER TABLE verdict ADD COLUMN end_kv double precision;
ALTER TABLE verdict ADD COLUMN was_status text;
ALTER TABLE verdict ADD COLUMN was_line text;
ALTER TABLE verdict ADD COLUMN was_end_kv double precision;
ALTER TABLE farm ADD COLUMN tester jsonb;
