"""The two commands: what they say when something stands in the way. One clear line each, no trace."""

import os
import socket
import subprocess
import urllib.request
from pathlib import Path

import pytest
from typer.testing import CliRunner

from adze.cli import app
from tests.waiting import until

ROOT = Path(__file__).parents[2]


def start(*words: str, **environment: str) -> subprocess.CompletedProcess[str]:
    clean = {k: v for k, v in os.environ.items() if not k.startswith("ADZE_")}
    return subprocess.run(
        ["./start", *words], cwd=ROOT, capture_output=True, text=True, timeout=120, check=False, env=clean | environment
    )


def last_words(done: subprocess.CompletedProcess[str]) -> str:
    assert done.returncode == 1
    lines = done.stderr.strip().splitlines()
    assert len(lines) == 1, done.stderr
    assert lines[0].startswith("adze: ")
    return lines[0]


@pytest.mark.parametrize("script", ["start", "test", "scripts/lib.sh", ".ci/run"])
def test_scripts_are_sound_bash(script: str) -> None:
    assert subprocess.run(["bash", "-n", ROOT / script], check=False).returncode == 0


@pytest.mark.parametrize("script", ["start", "test", ".ci/run"])
def test_commands_can_be_run(script: str) -> None:
    assert os.access(ROOT / script, os.X_OK)


def test_a_taken_port_is_named(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        assert f"port {port} is taken" in last_words(start("--port", port, "--data", str(tmp_path / "d")))


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--port", "many"), "must be a number"),
        (("--port", "99999"), "must be a number"),
        (("--loud",), "--loud is not understood"),
    ],
)
def test_wrong_words_are_named(words: tuple[str, ...], says: str) -> None:
    assert says in last_words(start(*words))


def free_port() -> str:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return str(found.getsockname()[1])


def test_a_database_folder_of_another_version_is_named() -> None:
    # Not pytest's own folder: the database's user could not enter it.
    folder = Path(subprocess.run(["mktemp", "-d"], capture_output=True, text=True, check=True).stdout.strip())
    (folder / "cluster").mkdir()
    (folder / "cluster" / "PG_VERSION").write_text("9.4\n")
    folder.chmod(0o755)
    said = last_words(start("--port", free_port(), "--data", str(folder)))
    assert "was made by PostgreSQL 9.4" in said
    assert "--data DIR" in said
    assert (folder / "cluster" / "PG_VERSION").read_text() == "9.4\n"


def test_a_folder_with_other_things_is_left_alone() -> None:
    folder = Path(subprocess.run(["mktemp", "-d"], capture_output=True, text=True, check=True).stdout.strip())
    (folder / "cluster").mkdir()
    (folder / "cluster" / "letter.txt").write_text("dear aunt")
    folder.chmod(0o755)
    assert "holds something that is not a database" in last_words(start("--port", free_port(), "--data", str(folder)))
    assert (folder / "cluster" / "letter.txt").read_text() == "dear aunt"


def test_a_folder_that_cannot_be_made_is_named(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    assert "cannot make the data folder" in last_words(
        start("--port", free_port(), "--data", str(tmp_path / "file" / "d"))
    )


def test_no_disk_is_said_with_figures(tmp_path: Path) -> None:
    fake = tmp_path / "df"
    fake.write_text("#!/bin/sh\necho head\necho disk 100 90 2048 99% /\n")
    fake.chmod(0o755)
    said = last_words(start(PATH=f"{tmp_path}:{os.environ['PATH']}"))
    assert "only 2 MB free" in said


def test_preparing_twice_says_it_is_ready() -> None:
    assert "all set up" in start("--prepare").stdout


def answers(port: str, path: str) -> bool:
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}{path}", timeout=2) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False


def test_it_serves_alone_and_ends_all_that_it_started(tmp_path: Path) -> None:
    port, data = free_port(), str(tmp_path / "d")
    clean = {k: v for k, v in os.environ.items() if not k.startswith("ADZE_")}
    with subprocess.Popen(["./start", "--port", port, "--data", data], cwd=ROOT, env=clean) as running:
        try:
            until(lambda: running.poll() is not None or answers(port, "/health/ready"))
            assert running.poll() is None
            assert "another ./start serves the data" in last_words(start("--port", free_port(), "--data", data))
            assert answers(port, "/health/ready")
        finally:
            running.terminate()
        assert running.wait(30) == 0
    assert not answers(port, "/health/live")
    own = [path for root in (Path(data), Path("/var/lib/adze")) for path in root.glob("**/postmaster.pid")]
    assert own == []


def test_a_worker_ends_with_the_application_whose_own_it_is(database_url: str) -> None:
    adze = [str(ROOT / ".venv" / "bin" / "adze"), "worker", "--with-parent"]
    where = os.environ | {"ADZE_DATABASE_URL": database_url}
    with subprocess.Popen(adze, stdin=subprocess.PIPE, stdout=subprocess.PIPE, env=where) as own:
        assert own.stdin
        assert own.stdout
        assert b"taking jobs" in own.stdout.readline()
        own.stdin.close()  # as when the application is killed
        own.wait(30)


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--line", "Nowhere"), "is not on the plan; one of Terraces"),
        (("--line", "Streamside", "--at", "9999"), "Streamside is 650 m long"),
        (("--days", "0"), "give 1 to 400"),
        (("--to", "http://127.0.0.1:1"), "go together"),
    ],
)
def test_a_made_up_device_that_cannot_be_is_named(words: tuple[str, ...], says: str) -> None:
    plan = ROOT / "adze" / "demo" / "hallow_reach.json"
    done = CliRunner().invoke(app, ["simulate", str(plan), *words])
    assert done.exit_code != 0
    assert says in done.output


def test_a_made_up_sensor_reads_its_own_place() -> None:
    plan = str(ROOT / "adze" / "demo" / "hallow_reach.json")
    near, far = (
        CliRunner().invoke(app, ["simulate", plan, "--days", "2", *words]).output.splitlines()
        for words in ((), ("--line", "Streamside", "--at", "600"))
    )
    assert near[0] == far[0] == "at,kv"
    assert len(near) == len(far) > 40
    assert near != far
