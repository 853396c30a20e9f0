"""Killed again and again while people write: what was acknowledged is there once, and it comes back by itself."""

import random
import threading
from collections.abc import Iterator
from datetime import datetime

import pytest

from tests.faults.people import Writer
from tests.faults.service import Alone, BehindProxy, Service

KILLS = 50  # of each way to operate it
WRITERS = 3
DEVICE_KILLS = 20
pytestmark = pytest.mark.slow


@pytest.fixture(params=[Alone, BehindProxy])
def service(request: pytest.FixtureRequest) -> Iterator[Service]:
    operated: Service = request.param()
    try:
        operated.ready(120)
        yield operated
    finally:
        operated.stop()


def test_nothing_that_was_acknowledged_is_lost_or_kept_twice(service: Service) -> None:
    writers = [Writer(service.port) for _ in range(WRITERS)]
    over = threading.Event()
    threads = [threading.Thread(target=writer.write, args=(over,)) for writer in writers]
    for thread in threads:
        thread.start()
    chance, back_s = random.Random(20270512), []
    for _ in range(KILLS):
        over.wait(chance.uniform(0.1, 1.5))
        service.kill_one(chance)
        over.wait(0.2)
        back_s.append(service.ready())
    over.set()
    for thread in threads:
        thread.join(60)
        assert not thread.is_alive()
    acknowledged = 0
    with service.database() as connection:
        for writer in writers:
            for table, column, words in (("revision", "summary", writer.saved), ("reading", "note", writer.logged)):
                rows = connection.execute(
                    f"SELECT {column} FROM {table} WHERE plan_id = %s AND {column} LIKE %s",
                    (writer.plan, f"{writer.name}-%"),
                ).fetchall()
                kept = [row[0] for row in rows]
                assert set(words) <= set(kept)
                assert len(kept) == len(set(kept))
                assert len(kept) <= len(words) + 1  # the last may have been kept and not answered
                acknowledged += len(words)
    print(f"{acknowledged} acknowledged through {KILLS} kills; back after at most {max(back_s):.1f} s")
    assert acknowledged > KILLS


def test_no_reading_that_a_device_was_acknowledged_is_lost(service: Service) -> None:
    writer, over = Writer(service.port), threading.Event()
    token = writer.device()
    thread = threading.Thread(target=writer.send_readings, args=(token, over))
    thread.start()
    chance = random.Random(7)
    for _ in range(DEVICE_KILLS):
        over.wait(chance.uniform(0.1, 1.5))
        service.kill_one(chance)
        over.wait(0.2)
        service.ready()
    over.set()
    thread.join(60)
    assert not thread.is_alive()
    with service.database() as connection:
        kept = connection.execute(
            "SELECT r.at FROM device_reading r JOIN device d ON d.id = r.device_id WHERE d.plan_id = %s", (writer.plan,)
        ).fetchall()
    times = {row[0] for row in kept}
    assert {datetime.fromisoformat(at) for at in writer.sent} <= times
    print(f"{len(writer.sent)} readings acknowledged through {DEVICE_KILLS} kills, none lost")
    assert len(writer.sent) > 20 * DEVICE_KILLS


def test_a_search_goes_on_when_its_worker_is_killed() -> None:
    service = BehindProxy()
    try:
        service.ready(120)
        writer, over = Writer(service.port), threading.Event()
        found = writer.ask_json("POST", "/searches", {"wishes": {"supply": "any"}})
        while found["state"] == "waiting" or not found.get("done"):
            found = writer.ask_json("GET", f"/searches/{found['id']}")
        assert found["state"] == "running"
        service.kill_worker()
        for _ in range(600):
            found = writer.ask_json("GET", f"/searches/{found['id']}")
            if found["state"] != "running":
                break
            over.wait(0.2)
        assert found["state"] == "done"
        assert found["done"] == found["total"]
    finally:
        service.stop()
