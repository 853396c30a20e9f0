"""The whole database in one file and back; the role that owns it and is no superuser."""

import json
import os
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlsplit
from uuid import uuid4

import psycopg
import pytest

from adze.demo.load import open_demo
from adze.services.accounts.accounts import Caller
from adze.services.jobs.mails import sender
from adze.services.jobs.pushes import deliverer
from adze.services.worker import Duties, back_up
from adze.store.backup import BackupError, backup, restore
from adze.store.connection import Store, ensure_database, known_migrations, migrate
from adze.store.roles import ROLE, ensure_role

COUNT = "SELECT (SELECT count(*) FROM account), (SELECT count(*) FROM revision), (SELECT count(*) FROM reading)"


@pytest.fixture
def new_database() -> Iterator[str]:
    """A database that holds nothing."""
    server, name = os.environ["ADZE_TEST_DATABASE_URL"], f"adze_back_{uuid4().hex[:8]}"
    yield ensure_database(server, name)
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


@pytest.fixture(scope="module")
def full(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, Path]]:
    """A database with the demo farms, and its backup."""
    server, name = os.environ["ADZE_TEST_DATABASE_URL"], f"adze_full_{uuid4().hex[:8]}"
    url = ensure_database(server, name)
    migrate(url)
    store = Store(url, size=1)
    open_demo(store.begin_transaction, Caller("", ""))
    store.close()
    file = tmp_path_factory.mktemp("backup") / "farms.adze"
    backup(url, file)
    yield url, file
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


def counted(url: str) -> tuple[int, ...]:
    with psycopg.connect(url) as connection:
        return connection.execute(COUNT).fetchone() or ()


def test_what_went_in_comes_out_into_an_empty_database(full: tuple[str, Path], new_database: str) -> None:
    url, file = full
    assert file.stat().st_mode & 0o777 == 0o600
    manifest = restore(new_database, file, known_migrations())
    assert counted(new_database) == counted(url)
    assert manifest["tables"]["reading"][0] == counted(url)[2] > 0
    assert migrate(new_database) == 0
    assert [path.name for path in file.parent.iterdir()] == [file.name]


def test_a_database_that_holds_something_is_left_alone(full: tuple[str, Path], new_database: str) -> None:
    migrate(new_database)
    with pytest.raises(BackupError, match="not empty"):
        restore(new_database, full[1], known_migrations())
    assert counted(new_database) == (0, 0, 0)


def changed(file: Path, to: Path, **manifest: object) -> Path:
    with zipfile.ZipFile(file) as old, zipfile.ZipFile(to, "w") as new:
        said = json.loads(old.read("manifest.json")) | manifest
        new.writestr("manifest.json", json.dumps(said))
        new.writestr("database.dump", old.read("database.dump"))
    return to


@pytest.mark.parametrize(
    ("manifest", "says"),
    [
        ({"format": 99}, "format 99"),
        ({"migrations": ["9999_later"]}, "a later Adze"),
        ({"tables": {"account": [5, 5]}}, "is not what was backed up"),
    ],
)
def test_a_backup_that_does_not_fit_is_refused(
    full: tuple[str, Path], new_database: str, tmp_path: Path, manifest: dict[str, object], says: str
) -> None:
    with pytest.raises(BackupError, match=says):
        restore(new_database, changed(full[1], tmp_path / "x", **manifest), known_migrations())
    restore(new_database, full[1], known_migrations())


@pytest.mark.parametrize("content", [b"", b"PK nothing", b"x" * 4000])
def test_what_is_no_backup_is_refused(new_database: str, tmp_path: Path, content: bytes) -> None:
    file = tmp_path / "x"
    file.write_bytes(content)
    with pytest.raises(BackupError, match="is no backup"):
        restore(new_database, file, known_migrations())


def test_a_folder_that_cannot_be_written_is_said(full: tuple[str, Path], tmp_path: Path) -> None:
    with pytest.raises(BackupError, match="cannot be written"):
        backup(full[0], tmp_path / "nowhere" / "x")


def test_the_application_s_role_owns_everything_and_is_no_superuser(new_database: str) -> None:
    """Also what an earlier start made as the superuser."""
    migrate(new_database)
    url = ensure_role(new_database, "it's a secret")
    assert urlsplit(url).username == ROLE
    with psycopg.connect(url) as connection:
        assert connection.execute("SELECT rolsuper OR rolcreatedb FROM pg_roles WHERE rolname = user").fetchone() == (
            False,
        )
        others = connection.execute(
            "SELECT count(*) FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relowner <> user::regrole"
        ).fetchone()
        assert others == (0,)
    assert migrate(url) == 0
    store = Store(url, size=1)
    open_demo(store.begin_transaction, Caller("", ""))
    store.close()
    assert ensure_role(new_database, "another secret")
    with pytest.raises(psycopg.OperationalError):
        psycopg.connect(url)


def test_the_day_s_backup_takes_the_place_of_the_one_a_week_ago(full: tuple[str, Path], tmp_path: Path) -> None:
    store = Store(full[0], size=1)
    try:
        duties = Duties(full[0], store.begin_transaction, sender("", ""), deliverer(""), str(tmp_path))
        for day in (4, 5, 11):
            back_up(duties, datetime(2027, 5, day, 2, 30, tzinfo=UTC))
        back_up(
            Duties(full[0], store.begin_transaction, sender("", ""), deliverer("")), datetime(2027, 5, 6, tzinfo=UTC)
        )
    finally:
        store.close()
    assert sorted(file.name for file in tmp_path.iterdir()) == ["adze-tue.zip", "adze-wed.zip"]
    with zipfile.ZipFile(tmp_path / "adze-tue.zip") as archive:
        assert json.loads(archive.read("manifest.json"))["format"] == 1
