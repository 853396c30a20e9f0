"""Requests that stand still, answers that take too long, what is watched: by sockets where clients are too polite."""

import contextlib
import json
import logging
import socket
import threading
from collections.abc import Iterator

import pytest
import uvicorn
from fastapi.testclient import TestClient

from adze.core.basics.cache import forget_everything
from adze.core.basics.deadline import DeadlineExceeded
from adze.settings import Settings
from adze.web import header_timeout
from adze.web.app import create_app
from adze.web.header_timeout import PromptProtocol
from adze.web.request_log import set_up_log
from tests.web.conftest import PlanPage


@pytest.fixture
def port(settings: Settings, monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    """The application on a socket, with little patience."""
    monkeypatch.setattr(header_timeout, "HEAD_S", 0.3)
    app = create_app(settings.model_copy(update={"slowest_body_s": 0.3}))
    config = uvicorn.Config(app, port=0, http=PromptProtocol, log_level="error", ws="none")
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        thread.join(0.02)
    yield server.servers[0].sockets[0].getsockname()[1]
    server.should_exit = True
    thread.join(10)


def talk(port: int, sent: bytes) -> bytes:
    """Send and hold still; all that is answered until the other side closes."""
    with socket.create_connection(("127.0.0.1", port), timeout=5) as line:
        line.sendall(sent)
        heard = b""
        while more := line.recv(4096):
            heard += more
    return heard


@pytest.mark.parametrize("sent", [b"", b"GET /health/live HTTP/1.1\r\nHost: a"])
def test_a_head_that_does_not_come_is_given_up(port: int, sent: bytes) -> None:
    assert talk(port, sent) == b""


def test_a_body_that_stands_still_is_given_up(port: int) -> None:
    head = b"POST /sign-in HTTP/1.1\r\nHost: a\r\nContent-Length: 90\r\n"
    head += b"Content-Type: application/x-www-form-urlencoded\r\n\r\ncsrf="
    heard = talk(port, head)
    assert heard.startswith(b"HTTP/1.1 408")
    assert b"did not come" in heard


def test_a_body_that_trickles_is_given_up(port: int) -> None:
    head = b"POST /sign-in HTTP/1.1\r\nHost: a\r\nContent-Length: 900\r\n"
    head += b"Content-Type: application/x-www-form-urlencoded\r\n\r\n"
    with socket.create_connection(("127.0.0.1", port), timeout=5) as line:
        line.sendall(head)
        line.settimeout(0.1)
        heard = b""
        for _ in range(60):  # a byte each tenth of a second: never as still as 0.3 s
            line.sendall(b"a")
            with contextlib.suppress(TimeoutError):
                heard = line.recv(4096)
                break
    assert heard.startswith(b"HTTP/1.1 408")


def test_who_comes_whole_is_answered(port: int) -> None:
    heard = talk(port, b"GET /health/live HTTP/1.1\r\nHost: a\r\nConnection: close\r\n\r\n")
    assert heard.startswith(b"HTTP/1.1 200")


def test_an_answer_that_takes_too_long_is_stopped_and_said(settings: Settings, plan: PlanPage) -> None:
    plan.draw()
    hurried = create_app(settings.model_copy(update={"longest_answer_s": -1.0}))
    with TestClient(hurried, cookies=dict(plan.client.cookies)) as client:
        forget_everything()
        answer = client.get(f"/api/plans/{plan.id}/ways")
        assert answer.status_code == 503
        assert "takes too long" in answer.json()["message"]
        assert int(answer.headers["retry-after"]) > 0


def test_what_is_saved_stays_where_its_forecast_takes_too_long(plan: PlanPage, monkeypatch: pytest.MonkeyPatch) -> None:
    def late(*_: object) -> None:
        raise DeadlineExceeded

    monkeypatch.setattr("adze.web.workbench.state", late)
    saved = plan.save(soil="wet_clay")
    assert saved.status_code == 200
    assert "too long on so large a plan" in saved.json()["panel"]
    assert plan.state["document"]["soil"] == "wet_clay"


def test_figures_are_given_where_the_settings_allow_it(settings: Settings) -> None:
    with TestClient(create_app(settings)) as client:
        assert client.get("/health/metrics").status_code == 404
    with TestClient(create_app(settings.model_copy(update={"metrics": True}))) as client:
        client.get("/plans/77/volts", follow_redirects=False)
        text = client.get("/health/metrics").text
    assert 'http_requests_total{method="GET",route="/plans/{plan_id}/{stage}",status="303"}' in text
    assert "/plans/77" not in text


def test_a_request_is_a_line_of_json(client: TestClient, capsys: pytest.CaptureFixture[str]) -> None:
    root = logging.getLogger()
    before = root.handlers[:], root.level
    try:
        set_up_log("json")
        client.get("/health/live")
        lines = [json.loads(line) for line in capsys.readouterr().err.splitlines()]
    finally:
        root.handlers[:], root.level = before
    (line,) = [row for row in lines if row["name"] == "adze.requests"]
    assert (line["route"], line["status"]) == ("/health/live", 200)
    assert line["ms"] >= 0
