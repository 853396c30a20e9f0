"""The log with a thousand farms and a million readings: how long its pages take, how fast devices are taken in.

    python -m bench.log [--farms 1000] [--readings 1000] [--seconds 20]

ADZE_TEST_DATABASE_URL names a PostgreSQL server; a database of its own is filled there and dropped at the end.
Eight clients, each at an account of its own, ask for the panel of Log (readings, round, trends, what is due) of one
farm again and again, as somebody does who works there, and then of farms by chance, each for the first time. Eight
devices then send batches of 500. docs/devices.md holds the figures.
"""

import argparse
import http.client
import json
import os
import random
import re
import secrets
import socket
import statistics
import subprocess
import sys
import threading
import time
import urllib.parse
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import psycopg

from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.demo.farms import DEMO_FARMS
from adze.services.limits.tokens import digest_of
from adze.services.plans.plans import begin_plan
from adze.store.connection import Store, ensure_database, migrate
from adze.store.log import devices
from adze.store.plans import farms

CLIENTS, BATCH = 8, 500
Pages = Callable[[int, random.Random], str]
_READ = """
INSERT INTO reading (plan_id, run, at_m, strand, kv, season, forecast_low_kv, forecast_kv, forecast_high_kv,
                     read_by, read_at)
SELECT %(plan)s, (%(runs)s::text[])[1 + n %% %(many)s], (%(ends)s::float8[])[1 + n %% %(many)s], 1,
       4 + 2 * random(), 'usual', 3.5, 5, 6.5, %(by)s, now() - n * interval '26 hours'
FROM generate_series(1, %(count)s) n
"""


class Client:
    """Somebody at a browser of an account of their own."""

    def __init__(self, port: int) -> None:
        self._link = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
        self._cookie = ""
        self.login = f"bench-{secrets.token_hex(6)}"
        csrf = re.search(r'name="csrf" value="([^"]+)"', self.ask("GET", "/sign-up")[1])
        assert csrf
        form = {"csrf": csrf[1], "login": self.login, "name": "Bench", "password": secrets.token_hex(12)}
        status, _ = self.ask("POST", "/sign-up", urllib.parse.urlencode(form))
        assert status == 303, status

    def ask(self, method: str, path: str, body: str = "") -> tuple[int, str]:
        """The status and the text of an answer."""
        self._link.close()  # one that was idle for long is closed at the other end
        headers = {"Cookie": self._cookie, "Content-Type": "application/x-www-form-urlencoded"}
        self._link.request(method, path, body or None, headers)
        answer = self._link.getresponse()
        text = answer.read().decode(errors="replace")
        for value in answer.headers.get_all("Set-Cookie") or []:
            self._cookie = value.split(";")[0]
        return answer.status, text


def fill(store: Store, logins: list[str], many: int, readings: int) -> tuple[list[list[int]], list[str]]:
    """The plans of each account, `many` in all, with their readings, and the tokens of eight devices."""
    plans: list[list[int]] = [[] for _ in logins]
    tokens = []
    for number in range(many):
        client = number % len(logins)
        demo = DEMO_FARMS[number % len(DEMO_FARMS)].plan
        with store.begin_transaction() as connection:
            account = connection.execute("SELECT id FROM account WHERE login = %s", [logins[client]]).fetchone()
            assert account
            farm = farms.add_farm(connection, account_id=account[0], name=f"Farm {number}")
            own = demo.model_copy(update={"name": f"Fence {number}"})
            plan_id = begin_plan(connection, farm_id=farm.id, name=own.name, made_by=account[0], plan=own)
            connection.execute(_READ, _values(own, plan_id, account[0], readings))
            if number < CLIENTS:
                tokens.append(secrets.token_urlsafe(24))
                made = devices.NewDevice(
                    name="Monitor", run="", at_m=0.0, alarm_kv=0.5, silent_min=10_000, quiet_from=None, quiet_to=None
                )
                devices.add_device(
                    connection, made, plan_id=plan_id, token_hash=digest_of(tokens[-1]), made_by=account[0]
                )
        plans[client].append(plan_id)
    return plans, tokens


def _values(plan: Plan, plan_id: int, account_id: int, count: int) -> dict[str, object]:
    runs = plan.runs[:5]
    return {
        "plan": plan_id, "runs": [run.id for run in runs], "ends": [length_m(run) for run in runs],
        "many": len(runs), "by": account_id, "count": count,
    }  # fmt: skip


def asked(clients: list[Client], pages: Pages, seconds: float, rest: float) -> list[float]:
    """Milliseconds of every answer while all clients ask at once, each so many seconds after its last answer."""
    until = time.perf_counter() + seconds
    taken: list[float] = []

    def one(number: int) -> None:
        chance = random.Random(number)
        while time.perf_counter() < until:
            path = pages(number, chance)
            begun = time.perf_counter()
            status, text = clients[number].ask("GET", path)
            assert status == 200, f"{status} {path} {text[:200]}"
            taken.append(1000 * (time.perf_counter() - begun))
            time.sleep(rest * chance.uniform(0.5, 1.5))

    with ThreadPoolExecutor(len(clients)) as pool:
        list(pool.map(one, range(len(clients))))
    return taken


def sent(port: int, tokens: list[str], seconds: float) -> float:
    """Readings a second that were taken in, from eight devices at once."""
    kept, lock = [0], threading.Lock()
    begun = time.perf_counter()

    def one(token: str) -> None:
        link = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        at = datetime.now(UTC) - timedelta(days=300)
        while time.perf_counter() - begun < seconds:
            rows = [{"at": (at := at + timedelta(seconds=40)).isoformat(), "kv": 5.0} for _ in range(BATCH)]
            head = {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}
            link.request("POST", "/api/devices/readings", json.dumps({"readings": rows}), head)
            told = json.loads(link.getresponse().read())
            with lock:
                kept[0] += told["kept"]

    with ThreadPoolExecutor(len(tokens)) as pool:
        list(pool.map(one, tokens))
    return kept[0] / (time.perf_counter() - begun)


def spread(taken: list[float]) -> str:
    """Count, middle and 95th percentile of milliseconds."""
    ordered = sorted(taken)
    return (
        f"{len(ordered):6} answers, median {statistics.median(ordered):5.0f} ms, "
        f"p95 {ordered[int(0.95 * (len(ordered) - 1))]:5.0f} ms"
    )


def _free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


def _answers(port: int) -> bool:
    with socket.socket() as tried:
        return tried.connect_ex(("127.0.0.1", port)) == 0


def main() -> None:
    """Fill, measure, say."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--farms", type=int, default=1000)
    parser.add_argument("--readings", type=int, default=1000)
    parser.add_argument("--seconds", type=float, default=20)
    given = parser.parse_args()
    server_url = os.environ["ADZE_TEST_DATABASE_URL"]
    url = ensure_database(server_url, f"bench_log_{secrets.token_hex(4)}")
    migrate(url)
    port = _free_port()
    own = {"ADZE_DATABASE_URL": url, "ADZE_PORT": str(port), "ADZE_WORKER": "false", "ADZE_SIGN_UPS_AN_HOUR": "1000"}
    server = subprocess.Popen([sys.executable, "-m", "adze.cli", "serve"], env=os.environ | own)
    while not _answers(port):
        time.sleep(0.1)
    clients = [Client(port) for _ in range(CLIENTS)]
    begun, store = time.perf_counter(), Store(url, 2)
    plans, tokens = fill(store, [client.login for client in clients], given.farms, given.readings)
    store.close()
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute("ANALYZE")
        print(f"{given.farms} farms, {given.farms * given.readings:,} readings in {time.perf_counter() - begun:.0f} s")
    for number, client in enumerate(clients):
        client.ask("GET", f"/api/plans/{plans[number][0]}/panel/log")
    own: Pages = lambda n, _: f"/api/plans/{plans[n][0]}/panel/log"  # noqa: E731
    by_chance: Pages = lambda n, chance: f"/api/plans/{chance.choice(plans[n])}/panel/log"  # noqa: E731
    for words, pages, rest in (
        ("own farm, a look a second   ", own, 1.0),
        ("own farm, without a rest    ", own, 0.0),
        ("any farm, a look in 8 s     ", by_chance, 8.0),
    ):
        print(words, spread(asked(clients, pages, given.seconds, rest)))
    print(f"devices {sent(port, tokens, given.seconds):6.0f} readings a second, in batches of {BATCH}")
    server.terminate()
    server.wait(30)
    with psycopg.connect(server_url, autocommit=True) as connection:
        connection.execute(f'DROP DATABASE "{url.rsplit("/", 1)[1]}" WITH (FORCE)')


if __name__ == "__main__":
    main()
