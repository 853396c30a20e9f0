"""Plan documents with something wrong in them: each is refused with its path, or can be worked on."""

import copy
import json
import random
from collections.abc import Iterator
from typing import Any

import pytest

from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.core.tables.ground import mishap_kinds
from adze.formats.errors import FormatError
from adze.formats.plan.plan_file import dump_plan, read_plan_document
from adze.services.answers.design import best_of, findings_of
from adze.services.answers.forecasts import band_json, forecast_json
from tests.conftest import simple_plan

_JUNK: tuple[Any, ...] = (
    "", None, 0, -1, 1e308, float("nan"), float("inf"), "x", " ", [], {}, [[]], True, 10**30, "\x00", "é" * 50, 1e-300,
    -1e9, 3.7, [0, 0], [[0, 0], [1, 1]], {"id": "q"}, "2026-05-20", 100_000, 199_999.0,
)  # fmt: skip
_WORDS = (
    "loam", "dry_sand", "heavy", "none", "ewe", "horse", "fox", "deer", "rabbit", "tape_40", "poly_steel_9", "wood",
    "plastic", "earth", "live", "dead", "gate", "switch", "crossing", "rods", "sign", "ring", "row", "slow", "night",
    "imperial", "alternate", "last", "inner", "barrier", "old_fence", "stainless", "copper", "household", "f", "b",
    "own", "solar_06", "battery_1", "mains_25", "temporary", "cross", "spine", "lane", "drive_over", "both", "start",
    "end",
)  # fmt: skip


def whole_plan() -> Any:
    """A document with something of nearly everything."""
    kinds = ("gate", "switch", "crossing", "rods", "diverter", "test", "sign", "join", "strain")
    plan = simple_plan(
        stock=[{"id": "e", "kind": "ewe", "count": 5, "woolled": True}, {"id": "h", "kind": "horse"}],
        runs=[
            {"id": "line1", "name": "First", "points": [[0, 0], [900, 0]]},
            {
                "id": "b", "name": "B", "points": [[200, 0], [200, 300], [260, 310]], "fence": "f", "soil": "loam",
                "profile": [[0, 2], [50, 3], [90, 1]],
            },
        ],
        fences=[{"id": "f", "name": "F", "strands": [{"cm": 40}, {"cm": 80, "role": "earth"}], "herds": ["e"]}],
        fixtures=[
            {"id": k, "kind": k, "run": "line1", "at_m": 90 * (i + 1), "name": k.title()} for i, k in enumerate(kinds)
        ],
        landmarks=[
            {"id": "p", "kind": "path", "points": [[0, 5], [900, 5]]},
            {"id": "s", "kind": "soil", "soil": "wet_clay", "points": [[0, -9], [90, -9], [90, 9], [0, 9]]},
            {"id": "t", "kind": "trough", "points": [[30, 5]]},
            {"id": "o", "kind": "overhead", "points": [[0, 5], [30, -50]], "line_kv": 20},
        ],
        growths=[{"id": "g", "run": "b", "from_m": 10, "to_m": 50, "grass": "heavy"}],
        what_ifs=[{"id": "w", "run": "b", "kind": next(iter(mishap_kinds())), "at_m": 44}],
        rods={"count": 3, "position": [3, -5]},
        energizer_at=[0, -5],
        subsoil={"soil": "dry_sand", "depth_m": 1.0},
        own_energizers=[
            {"key": "own", "label": "Own", "stored_j": 4.3, "released_j": 3.0, "open_kv": 9.0, "kv_500": 6.3}
        ],
    )  # fmt: skip
    return json.loads(json.dumps(dump_plan(plan)))


def _paths(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    if path:
        yield path
    rows = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in rows:
        yield from _paths(inner, (*path, key))


WHOLE = whole_plan()
PATHS = tuple(_paths(WHOLE))


def _other(old: Any, chance: random.Random) -> Any:
    """Something in place of a value: of its own type as a rule, so that much of it passes."""
    if isinstance(old, str) and chance.random() < 0.6:
        return chance.choice(_WORDS)
    if isinstance(old, (int, float)) and not isinstance(old, bool) and chance.random() < 0.6:
        return old * chance.choice((0, 0.001, 0.5, 2, 10, 1000, -1))
    return copy.deepcopy(chance.choice(_JUNK))


def mutated(seed: int) -> Any:
    """The document with one to three things changed, taken out, doubled or added."""
    chance, document = random.Random(seed), copy.deepcopy(WHOLE)
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        *way, last = chance.choice(PATHS)
        where = document
        try:
            for key in way:
                where = where[key]
            how = chance.random()
            if how < 0.8:
                where[last] = _other(where[last], chance)
            elif how < 0.9:
                del where[last]
            elif isinstance(where, list):
                where.append(copy.deepcopy(where[last]))
            else:
                where[str(chance.choice(_WORDS))] = 1
        except (KeyError, TypeError, IndexError):
            continue  # what was changed before has nothing there any more
    return document


def work_on(plan: Plan) -> None:
    """What the pages of a plan compute."""
    forecast_json(plan)
    bill(plan)
    for ask in (lambda: band_json(plan, Season.DRY), lambda: findings_of(plan) and best_of(plan, 0)):
        try:
            ask()
        except Incomplete:
            continue


def _is_read(seed: int) -> bool:
    try:
        plan = read_plan_document(mutated(seed))
    except FormatError:
        return False
    try:
        work_on(plan)
    except Exception as error:
        raise AssertionError(f"seed {seed}") from error
    return True


def test_a_mutated_document_is_refused_or_can_be_worked_on() -> None:
    read = sum(_is_read(seed) for seed in range(40))
    assert 3 < read < 35


@pytest.mark.slow
@pytest.mark.parametrize("hundred", range(200))
def test_twenty_thousand_mutated_documents(hundred: int) -> None:
    for seed in range(100 * hundred + 1000, 100 * hundred + 1100):
        _is_read(seed)


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"soil": ""}, "soil"),
        ({"grass": ""}, "grass"),
        ({"energizer": ""}, "energizer"),
        ({"conductor": ""}, "conductor"),
        ({"insulator": ""}, "insulator"),
        ({"strands": [{"cm": 40, "conductor": ""}]}, "strands.0.conductor"),
        ({"runs": [{"id": "a", "name": "A", "points": [[0, 0], [9, 0]], "soil": ""}]}, "runs.0.soil"),
    ],
)
def test_an_empty_word_is_refused_where_it_stands(changes: dict[str, Any], path: str) -> None:
    with pytest.raises(FormatError, match=path):
        read_plan_document(json.loads(json.dumps(dump_plan(simple_plan()))) | changes)
