-- A farm's own price list, as a plan document says it, for its next plan.
-- depends: 0017_computed_anew

ALTER TABLE farm ADD COLUMN own_prices jsonb;
