"""The record of practice: counted, in order, and the lesson that fits what the last search cost."""

import json
import random
import subprocess
from pathlib import Path
from typing import Any

import pytest

from adze.core.practice.record import lesson, practice_record

SCRIPT = Path(__file__).parents[2] / "js" / "practice_lesson.js"
GOOD = {
    "practice": True, "faults": 1, "left": 0, "restored": True, "minutes": 30, "readings": 5, "metres": 900,
    "advice_minutes": 30, "walking_minutes": 60,
}  # fmt: skip


def test_searches_of_the_real_fence_are_no_practice() -> None:
    assert practice_record([{"minutes": 4}, {}]) is None


def test_the_oldest_comes_first_and_all_are_counted() -> None:
    found = practice_record([GOOD, GOOD | {"minutes": 60, "restored": False, "left": 1}, GOOD | {"minutes": 90}])
    assert found is not None
    assert (found.times, found.restored, found.shares) == (3, 2, (3.0, 2.0, 1.0))
    assert found.lesson == "As quick as every advice."


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"left": 1, "restored": False}, "Something was left"),
        ({"minutes": 55, "readings": 2}, "amps on each leg"),
        ({"minutes": 55, "readings": 12}, "Many readings"),
        ({"minutes": 70, "readings": 6}, "Walking all of it had been quicker"),
        ({"minutes": 50, "readings": 6}, "Look where it usually fails"),
    ],
)
def test_the_lesson_follows_what_it_cost(changed: dict[str, Any], words: str) -> None:
    assert words in lesson(GOOD | changed)


def test_a_phone_teaches_what_the_page_of_trace_does(tmp_path: Path) -> None:
    rng, rows = random.Random(3), []
    for _ in range(300):
        told = {name: rng.randint(1, 60) for name in ("minutes", "advice_minutes", "walking_minutes")}
        rows.append(told | {"readings": rng.randint(0, 14), "restored": rng.random() < 0.9, "left": rng.random() < 0.1})
    file = tmp_path / "results.json"
    file.write_text(json.dumps(rows))
    answer = subprocess.run(["node", SCRIPT, file], capture_output=True, text=True, check=True)
    assert answer.stdout.splitlines() == [lesson(row) for row in rows]
