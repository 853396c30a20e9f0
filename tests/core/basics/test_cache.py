"""The cache: bounded, by identity or value, keyed by exactly what a function is given; warm answers equal cold ones."""

from threading import Thread
from types import SimpleNamespace
from typing import Any
from uuid import uuid4

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.basics.cache import Cache, cached, cached_by_fields, cached_without, forget_everything
from adze.core.forecast.volts import volts
from adze.core.ground.blocks import blocks
from adze.core.ground.routes import routes
from adze.core.ground.wiring import wiring
from adze.core.ground.zones import zones
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan


def name() -> str:
    return f"test {uuid4()}"


def test_oldest_results_go_first_and_a_kept_none_is_a_result() -> None:
    asked: list[int] = []

    @cached(name(), 2)
    def half(n: int) -> int | None:
        asked.append(n)
        return n // 2 or None

    for n in (1, 1, 4, 6, 4, 1):
        half(n)
    assert asked == [1, 4, 6, 1]
    assert (half.known(1), half.known(4), half.known(6)) == (None, None, 3)


def test_objects_count_by_identity_and_are_held_while_their_result_is() -> None:
    @cached(name(), 4, identity_args=1)
    def first(row: list[int], add: int) -> int:
        return row[0] + add

    row = [1]
    assert first(row, 1) == 2
    row[0] = 7
    assert (first(row, 1), first([7], 1), first(row, 2)) == (2, 8, 9)


def test_a_field_that_is_not_in_the_key_cannot_be_read() -> None:
    @cached_by_fields(name(), 4, identity_args=("rows",), equal=("at",))
    def count(plan: Any) -> int:
        return len(plan.rows) + plan.at

    @cached_by_fields(name(), 4, identity_args=("rows",))
    def sloppy(plan: Any) -> int:
        return len(plan.rows) + plan.at

    rows = (1, 2)
    assert count(SimpleNamespace(rows=rows, at=1, other=3)) == 3
    assert count(SimpleNamespace(rows=rows, at=2, other=3)) == 4
    with pytest.raises(AttributeError):
        sloppy(SimpleNamespace(rows=rows, at=1))


def test_a_result_stays_while_only_what_it_may_not_read_changes() -> None:
    asked = []

    @cached_without(name(), 4, ("other",))
    def count(plan: Any) -> int:
        asked.append(plan)
        return len(plan.rows) + plan.at

    @cached_without(name(), 4, ("other",))
    def sloppy(plan: Any) -> int:
        return len(plan.rows) + int(plan.other)

    row = object()
    assert count(SimpleNamespace(rows=(row, row), at=1, other=3)) == 3
    assert count(SimpleNamespace(rows=(row, row), at=1, other=4)) == 3
    assert len(asked) == 1
    assert count(SimpleNamespace(rows=(row, row), at=2, other=4)) == 4
    assert count(SimpleNamespace(rows=(row, object()), at=1, other=4)) == 3
    assert len(asked) == 3
    with pytest.raises(AttributeError):
        sloppy(SimpleNamespace(rows=(row,), other=1))


def test_two_caches_of_one_name_are_refused() -> None:
    one = Cache[int](name(), 2)
    with pytest.raises(ValueError, match="give each its own"):
        Cache[int](one.name, 2)


def test_threads_share_a_bounded_cache() -> None:
    @cached(name(), 16)
    def square(n: int) -> int:
        return n * n

    wrong: list[int] = []

    def ask() -> None:
        wrong.extend(n for n in list(range(64)) * 20 if square(n) != n * n)

    threads = [Thread(target=ask) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert not wrong
    assert sum(square.known(n) is not None for n in range(64)) == 16


def test_a_cut_line_is_dead_on_the_ground_as_in_the_volts(line_plan: Plan) -> None:
    """The plan before the cut warms every cache; the zones once kept what the wiring no longer said."""
    assert zones(line_plan)
    cut = changed(line_plan, {"what_ifs": [{"id": "w1", "kind": "cut", "run": "line1", "at_m": 800}]})
    found = zones(cut)
    assert found
    assert found.live_m == pytest.approx(800)
    assert [(s.from_m, s.to_m) for s in found.dead] == [(800, 1600)]
    assert volts(cut, Weather(Season.DRY)).traces[0].kv[-1] == 0


FARM = simple_plan(
    runs=[
        {"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 300], [0, 300], [0, 0]]},
        {"id": "line2", "name": "Second line", "points": [[200, 0], [200, 300]]},
    ],
    fixtures=[
        {"id": "g", "kind": "gate", "run": "line1", "at_m": 120, "name": "Gate"},
        {"id": "s", "kind": "switch", "run": "line2", "at_m": 60, "name": "Switch"},
    ],
    landmarks=[{"id": "m", "kind": "soil", "points": [[150, -50], [450, -50], [450, 350]], "soil": "dry_sand"}],
    stock=[{"id": "h", "kind": "ewe"}],
    fences=[{"id": "other", "name": "Other", "strands": [{"cm": 40}, {"cm": 80, "role": "earth"}]}],
    strands=[],
)


def row(plan: Plan, rows: str, number: int, **update: object) -> dict[str, object]:
    old = list(getattr(plan, rows))
    old[number] = old[number].model_dump() | update
    return {rows: old}


EDITS = st.one_of(
    st.builds(lambda at: ("what_ifs", at, "cut"), st.sampled_from([50.0, 350.0])),
    st.builds(lambda at: ("what_ifs", at, "branch"), st.sampled_from([50.0, 350.0])),
    st.builds(lambda is_open: ("open", is_open), st.booleans()),
    st.builds(lambda cable: ("cable", cable), st.booleans()),
    st.builds(lambda x: ("move", x), st.sampled_from([150.0, 250.0, 900.0])),
    st.builds(lambda spot: ("feed", spot), st.sampled_from([(400.0, 100.0), (200.0, 150.0), None])),
    st.builds(lambda grass: ("growth", grass), st.sampled_from(["none", "heavy"])),
    st.builds(lambda joined: ("meeting", joined), st.booleans()),
    st.builds(lambda fence: ("fence", fence), st.sampled_from(["other", None])),
    st.builds(lambda soil: ("soil", soil), st.sampled_from(["dry_sand", "wet_clay"])),
    st.builds(lambda kind: ("animal", kind), st.sampled_from(["goat", "beef_cow"])),
    st.just(("names",)),
)


def edited(plan: Plan, edit: tuple[Any, ...]) -> Plan:
    what, *rest = edit
    if what == "what_ifs":
        return changed(plan, {"what_ifs": [{"id": "w", "kind": rest[1], "run": "line1", "at_m": rest[0]}]})
    if what == "names":
        return changed(plan, {"blocks": [{"id": "b", "name": "Named", "at": (100, 100)}]})
    if what == "growth":
        grown = {"id": "g", "run": "line1", "from_m": 20, "to_m": 200, "grass": rest[0]}
        return changed(plan, {"growths": [grown]})
    if what == "meeting":
        said = {"id": "m", "first": "line1", "second": "line2", "at": (200, 0), "joined": rest[0]}
        return changed(plan, {"meetings": [said]})
    updates: dict[str, Any] = {
        "open": lambda: row(plan, "fixtures", 1, is_open=rest[0]),
        "cable": lambda: row(plan, "fixtures", 0, under_cable=rest[0], is_open=True),
        "move": lambda: row(plan, "runs", 1, points=((200.0, 0.0), (rest[0], 300.0))),
        "fence": lambda: row(plan, "runs", 1, fence=rest[0]),
        "soil": lambda: row(plan, "landmarks", 0, soil=rest[0]),
        "animal": lambda: row(plan, "stock", 0, kind=rest[0]),
        "feed": lambda: {"feed_at": rest[0]},
    }
    return changed(plan, updates[what]())


def answers(plan: Plan) -> tuple[object, ...]:
    found, wired, judged = zones(plan), wiring(plan), judge(plan)
    assert found
    assert wired
    return (
        wired.pieces,
        (found.live_m, found.dead, found.zones, found.hanging),
        [(b.name, b.area_m2, b.runs) for b in blocks(plan)],
        routes(plan),
        judged.verdicts,
        {season: v.worst for season, v in judged.volts.items()},
    )


@settings(max_examples=25)
@given(first=EDITS, second=EDITS)
def test_warm_answers_equal_cold_ones(first: tuple[Any, ...], second: tuple[Any, ...]) -> None:
    warm = FARM
    for edit in (first, second):
        answers(warm)
        warm = edited(warm, edit)
    from_kept = answers(warm)
    forget_everything()
    assert answers(warm) == from_kept
