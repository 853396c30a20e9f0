"""Strands read one by one: what each should show, and which is low."""

import json
import random
import subprocess
from pathlib import Path

import pytest

from adze.core.forecast.volts import volts
from adze.core.ground.places import Place
from adze.core.log.strand_compare import LOW_SHARE, StrandRow, comparable, judged, strands_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather

SCRIPT = Path(__file__).parents[2] / "js" / "strand_words.js"
USUAL = Weather(Season.USUAL)


def plan_of(joined: str, roles: tuple[str, ...] = ("live", "live", "live")) -> Plan:
    run = {"id": "a", "name": "Long line", "points": [[0, 0], [600, 0]], "joined": joined}
    strands = [{"cm": 20 + 25 * k, "role": role} for k, role in enumerate(roles)]
    return Plan.model_validate(
        {"name": "Strands", "runs": [run], "energizer_at": [-5, -5], "strands": strands, "energizer": "mains_6"}
    )


def rows_of(*well_kv: float) -> tuple[StrandRow, ...]:
    return tuple(StrandRow((k,), f"strand {k}", kv) for k, kv in enumerate(well_kv, 1))


def test_strands_that_are_joined_all_along_cannot_be_told_apart() -> None:
    assert not comparable(plan_of("along"), "a")
    assert comparable(plan_of("near"), "a")
    assert comparable(plan_of("along", ("live", "earth", "live")), "a")


def test_what_each_strand_should_show_is_the_forecast_of_the_place() -> None:
    plan = plan_of("near")
    rows = strands_at(plan, USUAL, Place("a", 600.0))
    assert [row.numbers for row in rows] == [(1,), (2,), (3,)]
    trace = volts(plan, USUAL).traces[0]
    apart = {own.group.numbers: own.live_kv[-1] for own in trace.apart}
    assert [row.well_kv for row in rows] == pytest.approx([apart[1,], apart[2,], trace.live_kv[-1]])


def test_an_earth_strand_is_asked_for_where_there_is_one() -> None:
    rows = strands_at(plan_of("along", ("live", "earth", "live")), USUAL, Place("a", 600.0))
    assert [row.words for row in rows] == ["strands 1 and 3", "earth strand"]
    assert rows[1].well_kv < rows[0].well_kv / 2


@pytest.mark.parametrize("low", [1, 2, 3])
def test_one_strand_lower_than_its_neighbours_is_that_strand(low: int) -> None:
    read = tuple(5.0 if k != low else 2.0 for k in (1, 2, 3))
    found = judged(rows_of(5.2, 5.2, 5.2), read)
    assert found.low == (low,)
    assert found.words.startswith(f"It is on strand {low}, at 2.0 of 5.2 kV; the others are well.")
    assert ("It is the lowest: look for growth" in found.words) == (low == 1)
    assert found.counted_kv == 2.0


def test_low_is_by_what_a_strand_should_show_not_by_its_kv() -> None:
    assert judged(rows_of(3.0, 6.0), (2.9, 3.0)).low == (2,)
    assert judged(rows_of(3.0, 6.0), (2.9, 5.9)).low == ()


def test_all_alike_is_not_one_strand() -> None:
    found = judged(rows_of(5.0, 5.0), (2.5, 2.6))
    assert found.low == ()
    assert "equally low" in found.words
    assert "No live strand is low" in judged(rows_of(5.0, 5.0), (5.0 * LOW_SHARE, 5.0)).words


def test_a_strand_without_kv_is_cut() -> None:
    assert "It is cut or not connected" in judged(rows_of(5.0, 5.0), (0.0, 4.9)).words


def test_an_earth_strand_that_carries_too_much_is_said() -> None:
    rows = (*rows_of(5.0), StrandRow((), "earth strand", 0.2))
    assert "The earth strand is at 1.5 kV to soil" in judged(rows, (4.9, 1.5)).words
    assert "The earth strand is well" in judged(rows, (4.9, 0.3)).words
    assert judged(rows, (None, 0.3)).counted_kv is None


def test_a_phone_says_of_strands_what_the_server_says(tmp_path: Path) -> None:
    rng, cases = random.Random(7), []
    for _ in range(300):
        rows = [(k, rng.uniform(0.05, 9)) for k in range(1, rng.randint(2, 5))]
        rows += [(0, rng.uniform(0.01, 1.5))] * rng.randint(0, 1)
        kinds = (lambda well: well, lambda well: 0.02 * well, lambda _: rng.uniform(0, 9))
        read = [None if rng.random() < 0.15 else rng.choice(kinds)(well) for _, well in rows]
        cases.append((rows, read))
    file = tmp_path / "cases.json"
    told = [{"rows": [{"numbers": [k] if k else [], "words": named(k), "wellKv": kv} for k, kv in rows], "read": read}
            for rows, read in cases]  # fmt: skip
    file.write_text(json.dumps(told))
    answer = subprocess.run(["node", SCRIPT, file], capture_output=True, text=True, check=True)
    for (rows, read), line in zip(cases, answer.stdout.splitlines(), strict=True):
        found = judged(tuple(StrandRow((k,) if k else (), named(k), kv) for k, kv in rows), tuple(read))
        own = json.loads(line)
        assert (own["words"], own["counted_kv"], tuple(own["low"])) == (found.words, found.counted_kv, found.low)


def named(number: int) -> str:
    return f"strand {number}" if number else "earth strand"
