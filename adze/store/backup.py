"""The whole database in one file, and back into an empty one: pg_dump's own format beside a manifest.

The file is a ZIP of `manifest.json` (format, migrations, rows and a checksum of each table) and `database.dump`. Both
are of one snapshot; what was restored is counted and summed again before it is let stand.
"""

import json
import shutil
import subprocess
import tempfile
import zipfile
from pathlib import Path
from typing import Any

import psycopg
from psycopg import sql

FORMAT = 1
_TABLES = """
SELECT c.relname
FROM pg_class c
WHERE c.relnamespace = 'public'::regnamespace AND c.relkind = 'r'
ORDER BY c.relname
"""


class BackupError(ValueError):
    """Why a backup or a restore was not made; nothing is left half-done."""


def _program(name: str) -> str:
    found = shutil.which(name) or next(
        (str(path) for path in sorted(Path("/usr/lib/postgresql").glob(f"*/bin/{name}"), reverse=True)), ""
    )
    if not found:
        raise BackupError(f"{name} is not installed; it comes with Debian's postgresql-client")
    return found


def _run(*command: str) -> None:
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        lines = done.stderr.strip().splitlines()
        raise BackupError(f"{Path(command[0]).name}: {lines[-1] if lines else 'failed'}")


def _sums(connection: psycopg.Connection[Any]) -> dict[str, list[int]]:
    """Rows and a checksum of each table; the order of rows does not count."""
    found = {}
    for (table,) in connection.execute(_TABLES).fetchall():
        query = sql.SQL("SELECT count(*), coalesce(sum(hashtextextended(t::text, 0)), 0)::text FROM {} t")
        count, checksum = connection.execute(query.format(sql.Identifier(table))).fetchone() or (0, "0")
        found[table] = [count, int(checksum)]
    return found


def backup(url: str, file: Path) -> dict[str, Any]:
    """Write the database to a file, whole or not at all; what its manifest says. Raises BackupError."""
    part = file.with_name(file.name + ".part")
    try:
        with tempfile.TemporaryDirectory(dir=file.parent) as folder, psycopg.connect(url) as connection:
            dump = Path(folder) / "database.dump"
            connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
            (snapshot,) = connection.execute("SELECT pg_export_snapshot()").fetchone() or ("",)
            _run(_program("pg_dump"), "--format=custom", "--no-owner", f"--snapshot={snapshot}", "-f", str(dump), url)
            migrations = [row[0] for row in connection.execute("SELECT migration_id FROM _yoyo_migration ORDER BY 1")]
            manifest = {"format": FORMAT, "migrations": migrations, "tables": _sums(connection)}
            part.unlink(missing_ok=True)
            part.touch(0o600)  # every account's readings, and the hashes of passwords
            with zipfile.ZipFile(part, "w") as archive:
                archive.writestr("manifest.json", json.dumps(manifest, indent=1))
                archive.write(dump, "database.dump")
        part.replace(file)
    except OSError as error:
        raise BackupError(f"{file}: cannot be written ({error.strerror})") from error
    finally:
        part.unlink(missing_ok=True)
    return manifest


def _manifest(archive: zipfile.ZipFile, known: set[str]) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(archive.read("manifest.json"))
    if found.get("format") != FORMAT:
        raise BackupError(f"was made in format {found.get('format')}; this Adze reads {FORMAT}")
    newer = sorted(set(found["migrations"]) - known)
    if newer:
        raise BackupError(f"was made by a later Adze (it has {newer[-1]}); update Adze first")
    return found


def restore(url: str, file: Path, known: set[str]) -> dict[str, Any]:
    """Read a file into an empty database and verify every table; what its manifest says.

    `known` are the migrations of this program. Raises BackupError; a database that is not empty is left alone, and one
    that does not come out as it went in is emptied again.
    """
    try:
        with zipfile.ZipFile(file) as archive, tempfile.TemporaryDirectory() as folder:
            manifest = _manifest(archive, known)
            with psycopg.connect(url) as connection:
                if connection.execute(_TABLES).fetchone():
                    raise BackupError("the database is not empty; restore into a new one")
            dump = archive.extract("database.dump", folder)
            whole = ("--single-transaction", "--exit-on-error", "--no-owner", "--no-privileges")
            _run(_program("pg_restore"), *whole, "-d", url, dump)
    except (OSError, zipfile.BadZipFile, KeyError, json.JSONDecodeError) as error:
        raise BackupError(f"{file}: is no backup of Adze ({error})") from error
    with psycopg.connect(url) as connection:
        if _sums(connection) != manifest["tables"]:
            connection.execute("DROP SCHEMA public CASCADE")
            connection.execute("CREATE SCHEMA public")
            connection.commit()
            raise BackupError("what was restored is not what was backed up; the database is emptied again")
    return manifest
