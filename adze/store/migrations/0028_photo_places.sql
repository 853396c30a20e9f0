-- Where the camera of a photo stood, in metres of its plan; the picture itself no longer says it.
-- depends: 0027_as_built

ALTER TABLE photo
    ADD COLUMN east_m double precision,
    ADD COLUMN north_m double precision;
