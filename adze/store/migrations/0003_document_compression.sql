-- Documents of large farms are packed and unpacked at every edit: the quicker method halves the time of a save.
-- A server built without it keeps the one it has.
-- depends: 0002_pictures_imports

DO $$
BEGIN
    ALTER TABLE revision ALTER COLUMN document SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported OR syntax_error THEN
    RAISE NOTICE 'documents keep the usual compression';
END
$$;
