"""Headers on every answer, health, and what is said while the database is away."""

import os
from collections.abc import Iterator
from uuid import uuid4

import psycopg
import pytest
from fastapi.testclient import TestClient

from adze.settings import Settings
from adze.store.connection import ensure_database, migrate
from adze.store.errors import own_errors
from adze.web.app import create_app
from tests.waiting import until
from tests.web.conftest import PlanPage, word


@pytest.mark.parametrize("path", ["/sign-in", "/nowhere", "/api/plans/1/band", "/health/live", "/plans/abc/volts"])
def test_every_answer_is_guarded(client: TestClient, path: str) -> None:
    headers = client.get(path).headers
    assert "unsafe-inline" not in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["cross-origin-opener-policy"] == "same-origin"
    assert "camera=()" in headers["permissions-policy"]
    assert headers["cache-control"] == "no-store"
    assert "strict-transport-security" not in headers


def test_a_failure_is_guarded_too(demo: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    def fails(*_: object) -> None:
        raise RuntimeError("a secret")

    monkeypatch.setattr("adze.web.routes.plans.farms.farms_view", fails)
    answer = demo.get("/")
    assert answer.status_code == 500
    assert "secret" not in answer.text
    assert answer.headers["cache-control"] == "no-store"
    assert answer.headers["x-content-type-options"] == "nosniff"


def test_over_tls_browsers_are_kept_to_it(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url="https://adze.example") as client:
        assert "max-age" in client.get("/sign-in").headers["strict-transport-security"]


def test_only_the_names_that_are_allowed_are_answered(settings: Settings) -> None:
    own = settings.model_copy(update={"allowed_hosts": "farm.example"})
    with TestClient(create_app(own), base_url="http://farm.example") as client:
        assert client.get("/health/live").status_code == 200
        assert client.get("/health/live", headers={"host": "elsewhere.example"}).status_code == 400


def test_what_is_private_is_kept_nowhere(plan: PlanPage) -> None:
    for path in ("/", f"/plans/{plan.id}/volts", f"/plans/{plan.id}/plan.json", "/account"):
        assert plan.client.get(path).headers["cache-control"] == "no-store"


def test_scripts_are_kept_until_one_changes(client: TestClient) -> None:
    html = client.get("/sign-in").text
    address = html.split('rel="stylesheet" href="')[2].split('"')[0]
    kept = client.get(address)
    assert kept.status_code == 200
    assert "immutable" in kept.headers["cache-control"]
    plain = "/static/" + address.split("/", 3)[3]
    assert client.get(plain).text == kept.text
    assert client.get(plain).headers["cache-control"] == "no-cache"
    assert client.get("/static/e-000000000000/../../settings.py").status_code == 404


def test_no_page_carries_a_style_of_its_own(plan: PlanPage) -> None:
    plan.draw()
    for path in ("ground", "stock", "volts", "paper/ground", "paper/pole", "history", "compare"):
        answer = plan.client.get(f"/plans/{plan.id}/{path}")
        assert answer.status_code == 200
        html = answer.text
        assert "<style" not in html
        assert " style=" not in html


@pytest.fixture
def own_database() -> Iterator[str]:
    """A database that nobody else uses, to be shut."""
    base = os.environ["ADZE_TEST_DATABASE_URL"]
    name = f"adze_away_{uuid4().hex[:8]}"
    url = ensure_database(base, name)
    migrate(url)
    yield url
    with psycopg.connect(base, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


def shut(url: str, *, away: bool) -> None:
    base, _, name = url.rpartition("/")
    with psycopg.connect(f"{base}/postgres", autocommit=True) as connection:
        connection.execute(f"ALTER DATABASE {name} ALLOW_CONNECTIONS {'false' if away else 'true'}")
        if away:
            connection.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s", (name,))


def test_without_its_database_it_says_so_and_comes_back_by_itself(own_database: str) -> None:
    settings = Settings(database_url=own_database, pool_size=2, worker=False)
    with TestClient(create_app(settings), raise_server_exceptions=False, follow_redirects=False) as client:
        csrf = word(client.get("/sign-in").text)
        assert client.get("/health/ready").status_code == 200
        shut(own_database, away=True)
        assert client.get("/health/live").status_code == 200
        assert client.get("/health/ready").status_code == 503
        answer = client.post("/sign-in", data={"csrf": csrf, "login": "ann", "password": "wrong"})
        assert answer.status_code == 503
        assert answer.headers["retry-after"] == "5"
        assert "nothing that was saved is lost" in answer.text
        shut(own_database, away=False)
        until(lambda: client.get("/health/ready").status_code == 200)
        assert client.post("/sign-in", data={"csrf": csrf, "login": "ann", "password": "wrong"}).status_code == 422


def test_a_full_disk_is_said_and_nothing_is_half_done(plan: PlanPage, monkeypatch: pytest.MonkeyPatch) -> None:
    plan.draw()
    before = plan.get("/panel/ground").json()["edition"]

    def full(*_: object, **__: object) -> None:
        with own_errors():
            raise psycopg.errors.DiskFull("no space left on device")

    with monkeypatch.context() as patch:
        patch.setattr("adze.services.plans.plans.plans.change_current", full)
        answer = plan.save(soil="wet_clay")
    assert answer.status_code == 503
    assert "must make room" in answer.json()["message"]
    found = plan.get("/panel/ground").json()
    assert (found["edition"], found["document"]["soil"]) == (before, plan.state["document"]["soil"])
    assert plan.client.get(f"/plans/{plan.id}/history").text.count('data-test="revision"') == 2
