-- Documents of large farms are packed and unpacked at every edit: the quicker method halves the time of a save.
-- depends: 0002_pictures_imports

ALTER TABLE revision ALTER COLUMN document SET COMPRESSION lz4;
