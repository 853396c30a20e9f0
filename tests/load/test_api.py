"""Requests made from the published OpenAPI, well formed and not: no answer is a server error."""

import re
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, seed, settings, strategies
from schemathesis import Case, GenerationMode

from adze.web.app import ROUTERS, Application
from tests.web.conftest import PlanPage, word

MANY = 50_000
ADDRESSES = sorted(
    (method, route.path)
    for router in ROUTERS
    for route in router.routes
    if isinstance(route, APIRoute)
    for method in route.methods
    # What would end the session that asks is tried in tests/web/test_accounts.py.
    if not (method == "POST" and route.path.startswith(("/account/", "/sign-out", "/sign-in", "/sign-up", "/demo")))
)


@pytest.fixture(scope="session")
def client(application: Application) -> TestClient:
    opened = TestClient(application, follow_redirects=False, raise_server_exceptions=False)
    opened.post("/demo", data={"csrf": word(opened.get("/sign-in").text)})
    return opened


@pytest.fixture(scope="session")
def schema(client: TestClient, tmp_path_factory: pytest.TempPathFactory) -> Any:
    published = client.get("/api/openapi.json")
    assert published.status_code == 200
    kept = Path(tmp_path_factory.mktemp("api")) / "openapi.json"
    kept.write_text(published.text)
    return schemathesis.openapi.from_path(kept)


def own_plan(client: TestClient) -> tuple[PlanPage, int]:
    """A farm of its own for one address, with a line, and the farm's id."""
    made = client.post("/farms", data={"csrf": word(client.get("/account").text), "name": "Tried"})
    if made.status_code != 303:  # an earlier one of the name stands still
        client.post("/demo", data={"csrf": word(client.get("/sign-in").text)})
        made = client.post("/farms", data={"csrf": word(client.get("/account").text), "name": "Tried"})
    plan = PlanPage(client, int(made.headers["location"].split("/")[2]))
    plan.draw()
    farm = re.search(r'data-test="farm-(\d+)"', client.get("/").text)
    assert farm
    return plan, int(farm[1])


@pytest.fixture(scope="session")
def read_plan(client: TestClient) -> tuple[PlanPage, int]:
    """One plan and its farm for the addresses that only read."""
    return own_plan(client)


def send(plan: PlanPage, case: Case) -> Any:
    """Send a case as the page's scripts and forms would, on the edition that stands where it names one."""
    how: dict[str, Any] = {"params": case.query or {}, "headers": {"X-CSRF-Token": plan.csrf}}
    body = case.body
    if isinstance(body, dict) and "edition" in body and isinstance(body["edition"], int):
        body = body | {"edition": plan.state["edition"], "based_on": plan.state["revision"]}
    if isinstance(body, (dict, list, str, int, float, bool, type(None))) and case.media_type == "application/json":
        how["json"] = body
    elif isinstance(body, dict):
        how["data"] = {k: str(v) for k, v in body.items()}
    elif isinstance(body, bytes):
        how["content"] = body
    return plan.client.request(case.method, case.formatted_path, **how)


def attack(request: pytest.FixtureRequest, schema: Any, method: str, path: str, *, times: int) -> None:
    operation = schema[path][method]
    if method == "GET":
        plan, farm = request.getfixturevalue("read_plan")
    else:
        plan, farm = own_plan(request.getfixturevalue("client"))
    ours = {"plan_id": plan.id, "farm_id": farm}
    known = {name: value for name, value in ours.items() if "{" + name + "}" in path}
    good, bad = (
        operation.as_strategy(generation_mode=mode, **({"path_parameters": {**known}} if known else {}))
        for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)
    )
    wrong: list[str] = []

    @seed(20_270_512)
    @settings(
        max_examples=times,
        phases=[Phase.generate],
        database=None,
        suppress_health_check=list(HealthCheck),
        deadline=None,
    )
    @given(case=strategies.one_of(good, good, bad))
    def run(case: Case) -> None:
        answer = send(plan, case)
        if answer.status_code >= 500:
            wrong.append(f"{answer.status_code} {case.as_curl_command()[:600]}")
        elif answer.status_code == 200 and "edition" in answer.text[:40]:
            plan.state = answer.json()

    run()
    assert wrong == []


@pytest.mark.parametrize(("method", "path"), ADDRESSES)
def test_a_few_requests_of_each_address(request: pytest.FixtureRequest, schema: Any, method: str, path: str) -> None:
    attack(request, schema, method, path, times=4)


@pytest.mark.slow
@pytest.mark.parametrize(("method", "path"), ADDRESSES)
def test_fifty_thousand_requests(request: pytest.FixtureRequest, schema: Any, method: str, path: str) -> None:
    attack(request, schema, method, path, times=-(-MANY // len(ADDRESSES)))
