"""The changes that mend what is found at Ground, done by the plan itself."""

import math
from collections.abc import Callable, Sequence

from adze.core.ground.edit import fresh_id, run_by_id
from adze.core.ground.feed import jumper
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place
from adze.core.ground.survey import JOIN_M
from adze.core.ground.zones import zones
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate
from adze.core.verdict.actions import Action, ActionKind
from adze.core.verdict.surroundings.siting import sign_places
from adze.core.verdict.wired.shut_off import missing_test_points


def do_action(plan: Plan, action: Action) -> Plan:
    """The plan with an action done. Raises ValueError for what cannot be done on this plan."""
    try:
        update = _DOERS[action.kind](plan, list(action.of))
    except IndexError as error:
        raise ValueError(f"action {action.key!r} names too little") from error
    return changed(plan, update)


def _number(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ValueError(f"{text!r} is not a number of metres")
    return value


def _rows(plan: Plan) -> list[dict[str, object]]:
    return [f.model_dump() for f in plan.fixtures]


def _fixture(kind: str, word: str) -> Callable[[Plan, list[str]], dict[str, object]]:
    def place(plan: Plan, rest: list[str]) -> dict[str, object]:
        run, at = run_by_id(plan, rest[0]), _number(rest[1])
        count = sum(f.kind == kind for f in plan.fixtures) + 1
        row = {
            "id": fresh_id((f.id for f in plan.fixtures), kind),
            "kind": kind,
            "run": run.id,
            "at_m": round(min(max(at, 0.0), length_m(run)), 2),
            "name": f"{word} {count}",
        }
        return {"fixtures": [*_rows(plan), row]}

    return place


def _signs(plan: Plan, rest: list[str]) -> dict[str, object]:
    path = next((m for m in plan.landmarks if m.id == rest[0]), None)
    if path is None:
        raise ValueError("that path is no longer on the plan")
    there = [(f.run, f.at_m) for f in plan.fixtures if f.kind == "sign"]
    wanted = [p for p in sign_places(plan, path) if not any(p.run == r and abs(p.at_m - at) < 5 for r, at in there)]
    return _with_each(plan, "sign", "Sign", wanted)


def _test_points(plan: Plan, _: list[str]) -> dict[str, object]:
    found = zones(plan)
    return _with_each(plan, "test", "Test point", missing_test_points(plan, found) if found else [])


def _with_each(plan: Plan, kind: str, word: str, places: Sequence[Place]) -> dict[str, object]:
    """The fixtures with one more of a kind at each place."""
    rows, taken = _rows(plan), {f.id for f in plan.fixtures}
    before = sum(f.kind == kind for f in plan.fixtures)
    for number, place in enumerate(places, before + 1):
        key = fresh_id(taken, kind)
        taken.add(key)
        name = word if kind == "sign" else f"{word} {number}"
        rows.append({"id": key, "kind": kind, "run": place.run, "at_m": round(place.at_m, 2), "name": name})
    return {"fixtures": rows}


def _meeting(*, joined: bool) -> Callable[[Plan, list[str]], dict[str, object]]:
    def say(plan: Plan, rest: list[str]) -> dict[str, object]:
        first, second = run_by_id(plan, rest[0]).id, run_by_id(plan, rest[1]).id
        at = _number(rest[2]), _number(rest[3])
        kept = [
            m.model_dump() for m in plan.meetings if {m.first, m.second} != {first, second} or math.dist(m.at, at) > 1.0
        ]
        key = fresh_id((m.id for m in plan.meetings), "meeting")
        return {"meetings": [*kept, {"id": key, "first": first, "second": second, "at": at, "joined": joined}]}

    return say


def _changed(plan: Plan, fixture_id: str, change: Callable[[Fixture], dict[str, object]]) -> dict[str, object]:
    found = next((f for f in plan.fixtures if f.id == fixture_id), None)
    if found is None:
        raise ValueError("that is no longer on the plan")
    return {"fixtures": [f.model_dump() | (change(f) if f.id == fixture_id else {}) for f in plan.fixtures]}


def _dead_gate(plan: Plan, rest: list[str]) -> dict[str, object]:
    return _changed(plan, rest[0], _dead_when_open)


def _dead_when_open(fixture: Fixture) -> dict[str, object]:
    if not isinstance(fixture, Gate):
        raise ValueError(f"{fixture.name} is no gate")
    return {"feeds": fixture.opens_at, "under_cable": True}


def _drive_over(plan: Plan, rest: list[str]) -> dict[str, object]:
    return _changed(plan, rest[0], lambda _: {"style": "drive_over", "is_open": False})


def _back(plan: Plan, rest: list[str]) -> dict[str, object]:
    return _changed(plan, rest[0], lambda f: {"at_m": round(length_m(run_by_id(plan, f.run)), 3)})


def _feed(plan: Plan, rest: list[str]) -> dict[str, object]:
    """A short line from one that is fed to one beside it: a jumper on a stake or two."""
    run, other = run_by_id(plan, rest[0]), run_by_id(plan, rest[1])
    found = jumper(plan, run, {r.id for r in plan.runs} - {other.id})
    if found is None or found[1] <= JOIN_M:
        raise ValueError(f"{run.name} lies on {other.name} already; join them where they meet")
    row = {
        "id": fresh_id((r.id for r in plan.runs), "jumper"),
        "name": f"Jumper to {run.name}"[:80],
        "points": [tuple(round(x, 3) for x in point) for point in reversed(found[2])],
        "use": "temporary",
        "fence": run.fence,
    }
    return {"runs": [*(r.model_dump() for r in plan.runs), row]}


_DOERS: dict[ActionKind, Callable[[Plan, list[str]], dict[str, object]]] = {
    ActionKind.SWITCH: _fixture("switch", "Switch"),
    ActionKind.GATE: _fixture("gate", "Gate"),
    ActionKind.CROSSING: _fixture("crossing", "Crossing"),
    ActionKind.SIGN: _fixture("sign", "Sign"),
    ActionKind.SIGNS: _signs,
    ActionKind.TEST_POINTS: _test_points,
    ActionKind.JOIN: _meeting(joined=True),
    ActionKind.KEEP_APART: _meeting(joined=False),
    ActionKind.DEAD_GATE: _dead_gate,
    ActionKind.DRIVE_OVER: _drive_over,
    ActionKind.MOVE_BACK: _back,
    ActionKind.FEED: _feed,
}
