-- The money in which a farm counts, as it is written beside a figure.
-- depends: 0014_confirmed

ALTER TABLE farm ADD COLUMN currency text NOT NULL DEFAULT '';
ALTER TABLE farm ADD CONSTRAINT farm_currency_length CHECK (length(currency) <= 6);
