"""The wheel, built and installed into a fresh environment, serves pages with their styles, fonts and scripts (slow)."""

import os
import re
import socket
import subprocess
import sys
import tarfile
import urllib.error
import urllib.request
import zipfile
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest

pytestmark = pytest.mark.slow
ROOT = Path(__file__).parents[2]
_ASSETS = ("bootstrap.min.css", "leaflet/leaflet.css", "trace/peaks.wasm", "fonts/bricolage-grotesque.LICENSE")


@pytest.fixture(scope="module")
def built(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("dist")
    subprocess.run([ROOT / "scripts" / "package", folder], check=True)
    return folder


def test_wheel_and_source_archive_hold_the_assets(built: Path) -> None:
    (wheel,) = built.glob("*.whl")
    (source,) = built.glob("*.tar.gz")
    in_wheel = set(zipfile.ZipFile(wheel).namelist())
    with tarfile.open(source) as opened:
        in_source = {name.partition("/")[2] for name in opened.getnames()}
    for name in _ASSETS:
        assert f"adze/web/static/vendor/{name}" in in_wheel & in_source
    for name in ("store/log/readings.sql", "core/tables/data/animals.csv", "web/templates/base.html"):
        assert f"adze/{name}" in in_wheel
    assert not any(name.startswith("tests/") for name in in_wheel)


@pytest.fixture
def installed(built: Path, tmp_path: Path) -> Path:
    """The programs of an environment that holds the wheel and what it needs, and nothing of this checkout."""
    programs = tmp_path / "venv" / "bin"
    subprocess.run([sys.executable, "-m", "venv", programs.parent], check=True)
    pip = [programs / "pip", "install", "-q", "--disable-pip-version-check"]
    subprocess.run([*pip, "--require-hashes", "-r", ROOT / "requirements.txt"], check=True)
    subprocess.run([*pip, "--no-deps", *built.glob("*.whl")], check=True)
    return programs


@pytest.fixture
def address(installed: Path, tmp_path: Path) -> Iterator[str]:
    server, name = os.environ["ADZE_TEST_DATABASE_URL"], f"adze_package_{uuid4().hex[:8]}"
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f"CREATE DATABASE {name}")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    own = {key: value for key, value in os.environ.items() if key != "PYTHONPATH"}
    own |= {"ADZE_DATABASE_URL": f"{server.rpartition('/')[0]}/{name}", "ADZE_PORT": str(port), "ADZE_WORKER": "false"}
    subprocess.run([installed / "adze", "prepare-database"], env=own, cwd=tmp_path, check=True)
    with subprocess.Popen([installed / "adze", "serve"], env=own, cwd=tmp_path) as serving:
        try:
            yield f"http://127.0.0.1:{port}"
        finally:
            serving.terminate()
            serving.wait()
            with psycopg.connect(server, autocommit=True) as connection:
                connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


def fetched(address: str) -> bytes:
    """What an address answers, once the server listens."""
    while True:
        try:
            with urllib.request.urlopen(address) as answer:
                return bytes(answer.read())
        except urllib.error.URLError as error:
            if not isinstance(error.reason, ConnectionRefusedError):
                raise


def test_the_installed_wheel_serves_pages_with_all_that_they_name(address: str) -> None:
    page = fetched(f"{address}/sign-in").decode()
    named = re.findall(r'(?:href|src)="(/static/[^"]+)"', page)
    assert len(named) > 10
    for path in named:
        assert fetched(f"{address}{path}")
