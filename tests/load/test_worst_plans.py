"""Eight people save the worst plans there are; a ninth reads pages meanwhile."""

import random
import statistics
import threading
import time
from contextlib import suppress

import pytest

from tests.faults.people import Away, Writer
from tests.faults.service import Alone

SAVERS = 8
READING_S = 60
P95_S = 1.0


def tangle(chance: random.Random, points: int) -> list[dict[str, object]]:
    """A scribble: every stretch crosses many others."""
    corners = [[chance.uniform(0, 500), chance.uniform(0, 500)] for _ in range(points)]
    return [{"id": "line1", "name": "First line", "points": corners}]


@pytest.mark.slow
def test_a_reader_is_answered_while_others_save_tangles() -> None:
    service = Alone()
    try:
        service.ready(120)
        reader, savers = Writer(service.port), [Writer(service.port) for _ in range(SAVERS)]
        over = threading.Event()

        def save(saver: Writer, number: int) -> None:
            chance = random.Random(number)
            while not over.is_set():
                with suppress(Away):
                    saver.save_lines(tangle(chance, chance.choice((30, 60, 200))))

        threads = [threading.Thread(target=save, args=row) for row in zip(savers, range(SAVERS), strict=True)]
        for thread in threads:
            thread.start()
        taken_s: list[float] = []
        until = time.monotonic() + READING_S
        while time.monotonic() < until:
            for path in ("/", f"/plans/{reader.plan}/ground", f"/plans/{reader.plan}/history", "/account"):
                begun = time.monotonic()
                assert reader.page(path) == 200
                taken_s.append(time.monotonic() - begun)
        over.set()
        for thread in threads:
            thread.join(120)
        p95_s = statistics.quantiles(taken_s, n=20)[-1]
        print(f"{len(taken_s)} pages, p95 {p95_s * 1e3:.0f} ms, longest {max(taken_s):.1f} s")
        assert p95_s < P95_S
    finally:
        service.stop()
