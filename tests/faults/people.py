"""People who work over the wire, and send again what was not answered."""

import http.client
import json
import re
import threading
import urllib.parse
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4


class Away(Exception):
    """No answer, or one that says to come again."""


class Writer:
    """Somebody who changes a plan and logs readings, and sends again what was not answered."""

    def __init__(self, port: int) -> None:
        self._port, self._cookies = port, dict[str, str]()
        self.name = f"w{uuid4().hex[:10]}"
        self.saved: list[str] = []
        self.logged: list[str] = []
        self.sent: list[str] = []
        csrf = self._csrf("/sign-up")
        data = {"csrf": csrf, "login": self.name, "name": self.name, "password": "eleven grey geese"}
        assert self._form("/sign-up", data) == 303
        assert self._form("/farms", {"csrf": self._csrf("/"), "name": "Hollow"}) == 303
        self.plan = int(re.findall(r'href="/plans/(\d+)', self._ask("GET", "/")[1])[0])
        html = self._ask("GET", f"/plans/{self.plan}/ground")[1]
        self._token = re.findall(r'data-csrf="([^"]+)"', html)[0]
        state = self._state()
        run = {"id": "line1", "name": "First line", "points": [[0, 0], [400, 0]]}
        assert self._save(state, state["document"] | {"runs": [run]}, "Changed", "0") == 200

    def page(self, path: str) -> int:
        """The status of a page."""
        return self._ask("GET", path)[0]

    def save_lines(self, lines: list[dict[str, Any]]) -> int:
        """The status of a save of other lines."""
        state = self._state()
        return self._save(state, state["document"] | {"runs": lines}, "Changed", uuid4().hex)  # type: ignore[operator]

    def _ask(self, method: str, path: str, body: bytes | None = None, kind: str = "") -> tuple[int, str]:
        line = http.client.HTTPConnection("127.0.0.1", self._port, timeout=20)
        cookies = "; ".join(f"{k}={v}" for k, v in self._cookies.items())
        headers = {"Cookie": cookies, "Connection": "close"} | ({"Content-Type": kind} if kind else {})
        try:
            line.request(method, path, body, headers | {"X-CSRF-Token": getattr(self, "_token", "")})
            answer = line.getresponse()
            text = answer.read().decode()
        except (OSError, http.client.HTTPException) as error:
            raise Away from error
        finally:
            line.close()
        for cookie in answer.headers.get_all("set-cookie") or ():
            name, _, value = cookie.split(";")[0].partition("=")
            self._cookies[name] = value
        if answer.status in (429, 503):
            raise Away
        return answer.status, text

    def _csrf(self, path: str) -> str:
        return re.findall(r'name="csrf" value="([^"]+)"', self._ask("GET", path)[1])[0]

    def _form(self, path: str, data: dict[str, str]) -> int:
        body = urllib.parse.urlencode(data).encode()
        return self._ask("POST", path, body, "application/x-www-form-urlencoded")[0]

    def _state(self) -> dict[str, object]:
        found: dict[str, object] = json.loads(self._ask("GET", f"/api/plans/{self.plan}/panel/ground")[1])
        return found

    def _save(self, state: dict[str, object], document: object, summary: str, once: str) -> int:
        body = {"edition": state["edition"], "based_on": state["revision"], "once": once, "summary": summary}
        sent = json.dumps(body | {"document": document}).encode()
        return self._ask("PUT", f"/api/plans/{self.plan}", sent, "application/json")[0]

    def write(self, until: threading.Event) -> None:
        """A save and a reading in turn; each is sent until it is answered."""
        number = 0
        while not until.is_set():
            number += 1
            word, state = f"{self.name}-{number}", None
            while not until.is_set():
                with suppress(Away):
                    state = state or self._state()
                    document = state["document"] | {"soil_ohm_m": 100 + number}  # type: ignore[operator]
                    assert self._save(state, document, word, word) == 200
                    self.saved.append(word)
                    break
            reading = {"csrf": self._token, "run": "line1", "at_m": "10", "strand": "1", "kv": "5.5", "season": "dry"}
            while not until.is_set():
                with suppress(Away):
                    address = f"/plans/{self.plan}/log/reading"
                    assert self._form(address, reading | {"note": word, "once": word}) == 303
                    self.logged.append(word)
                    break

    def device(self) -> str:
        """A new device's token."""
        body = {"name": "Monitor", "alarm_kv": "0.5", "silent_min": "10000"}
        return str(self.ask_json("POST", "/devices", body)["token"])

    def send_readings(self, token: str, until: threading.Event) -> None:
        """A device that sends batches until each is answered; `sent` holds the times that were acknowledged."""
        at = datetime.now(UTC) - timedelta(days=100)
        while not until.is_set():
            rows = [{"at": (at := at + timedelta(seconds=30)).isoformat(), "kv": 5.5} for _ in range(100)]
            body = json.dumps({"readings": rows}).encode()
            while not until.is_set():
                line = http.client.HTTPConnection("127.0.0.1", self._port, timeout=20)
                head = {"Authorization": f"Bearer {token}", "Content-Type": "application/json", "Connection": "close"}
                with suppress(OSError, http.client.HTTPException):
                    line.request("POST", "/api/devices/readings", body, head)
                    answer = line.getresponse()
                    told = json.loads(answer.read()) if answer.status == 200 else {}
                    if told:
                        assert told["kept"] + told["known"] == len(rows)
                        self.sent += [row["at"] for row in rows]
                        break
                line.close()

    def ask_json(self, method: str, path: str, body: object = None) -> dict[str, Any]:
        """An answer about the plan, asked again until it comes."""
        while True:
            with suppress(Away):
                text = self._ask(
                    method, f"/api/plans/{self.plan}{path}", json.dumps(body).encode(), "application/json"
                )[1]
                found: dict[str, Any] = json.loads(text)
                return found
