"""Clients of the application, signed in, and what the scripts of a plan's pages do."""

import re
from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient

from adze.web.app import Application


@pytest.fixture
def client(application: Application) -> TestClient:
    """A browser of its own on the application."""
    return TestClient(application, follow_redirects=False, raise_server_exceptions=False)


GOOD = "eleven grey geese"


def word(html: str) -> str:
    found = re.search(r'name="csrf" value="([^"]+)"', html)
    assert found
    return found[1]


@pytest.fixture
def owner(client: TestClient) -> str:
    """Signed in to a new account; its sign-in name."""
    login = f"owner-{uuid4().hex[:8]}"
    data = {"csrf": word(client.get("/sign-up").text), "login": login, "name": "Ann Reach", "password": GOOD}
    assert client.post("/sign-up", data=data).status_code == 303
    return login


@pytest.fixture
def demo(client: TestClient) -> TestClient:
    """A visitor to the demo."""
    csrf = word(client.get("/sign-in").text)
    answer = client.post("/demo", data={"csrf": csrf})
    assert answer.status_code == 303
    return client


@pytest.fixture
def reach(demo: TestClient) -> str:
    """The address of the demo's first plan."""
    found = re.search(r'href="(/plans/\d+)" data-test="plan"', demo.get("/").text)
    assert found
    return found[1]


@pytest.fixture
def plan(demo: TestClient) -> "PlanPage":
    """A fresh farm's blank plan."""
    csrf = word(demo.get("/account").text)
    name = f"Farm {uuid4()}"
    made = demo.post("/farms", data={"csrf": csrf, "name": name})
    assert made.status_code == 303
    return PlanPage(demo, int(made.headers["location"].split("/")[2]))


def said(html: str) -> str:
    """A page's source as it is shown: white space is one space wherever it stands."""
    return " ".join(html.split())


class PlanPage:
    """What the scripts of one plan's pages do."""

    def __init__(self, client: TestClient, plan_id: int) -> None:
        self.client, self.id = client, plan_id
        html = client.get(f"/plans/{plan_id}/ground").text
        self.csrf = re.search(r'data-csrf="([^"]+)"', html)[1]  # type: ignore[index]
        self.state = self.get("/panel/ground").json()

    def get(self, path: str) -> Any:
        return self.client.get(f"/api/plans/{self.id}{path}")

    def send(self, method: str, path: str, **body: Any) -> Any:
        base = {"edition": self.state["edition"], "based_on": self.state["revision"], "stage": "ground"}
        answer = self.client.request(
            method, f"/api/plans/{self.id}{path}", json=base | body, headers={"X-CSRF-Token": self.csrf}
        )
        if answer.status_code == 200:
            self.state = answer.json()
        return answer

    def operate(self, operation: Any) -> Any:
        return self.send("POST", "/operations", operation=operation)

    def do(self, operation: str, **values: Any) -> Any:
        return self.operate({"do": operation, **values})

    def save(self, **changes: Any) -> Any:
        return self.send("PUT", "", document=self.state["document"] | changes, summary="Changed")

    def draw(self) -> None:
        run = {"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 300]]}
        assert self.save(runs=[run], energizer_at=[-5, -5]).status_code == 200
