"""The actions that findings carry, done by the plan itself."""

import math
from collections.abc import Callable, Sequence

from adze.core.build.construction import fence_of
from adze.core.build.materials import farthest_m
from adze.core.build.rod_sites import proposed
from adze.core.ground.edit import fresh_id, run_by_id
from adze.core.ground.feed import feed, jumper
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place
from adze.core.ground.survey import JOIN_M
from adze.core.ground.zones import zones
from adze.core.plan.changes import changed
from adze.core.plan.constructions import built_as
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.actions import Action, ActionKind
from adze.core.verdict.surroundings.siting import sign_places
from adze.core.verdict.wired.shut_off import missing_test_points


def do_action(plan: Plan, action: Action, fence: str | None = None) -> Plan:
    """The plan with an action done, on one way of building. Raises ValueError for what cannot be done on this plan."""
    try:
        if action.kind in _OF_FENCE:
            update = _OF_FENCE[action.kind](plan, list(action.of), fence)
        else:
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
        raise ValueError("that path is no longer in the plan")
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
        raise ValueError("that is no longer in the plan")
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


def _set(plan: Plan, rest: list[str], fence: str | None) -> dict[str, object]:
    """Fields set by their words: "on" and "off", nothing for none, figures as they stand."""
    scope, *pairs = rest
    values = {name: _value(word) for name, word in zip(pairs[::2], pairs[1::2], strict=True)}
    if scope in ("supply", "rods"):
        return {scope: getattr(plan, scope).model_dump() | values}
    if scope == "plan":
        return {name: [] if name == "what_ifs" else value for name, value in values.items()}
    return of_fence(plan, fence, values)


def _value(word: str) -> object:
    return {"": None, "on": True, "off": False}.get(word, word)


def of_fence(plan: Plan, fence: str | None, values: dict[str, object]) -> dict[str, object]:
    """An update that changes how the lines of one way of building are built; None: the plan's own."""
    if not fence:
        return values
    return {"fences": [f.model_dump() | (values if f.id == fence else {}) for f in plan.fences]}


def _diverter(plan: Plan, rest: list[str]) -> dict[str, object]:
    """One at the feed with an earth of its own; a named one is tied to rods of its own."""
    if rest:
        return _changed(plan, rest[0], lambda _: {"earth": "own"})
    start = feed(plan)
    if start is None:
        raise ValueError("no line is fed yet: draw one first")
    row = {
        "id": fresh_id((f.id for f in plan.fixtures), "diverter"),
        "kind": "diverter",
        "run": start.place.run,
        "at_m": round(start.place.at_m, 2),
        "name": "Diverter",
        "earth": "own",
    }
    return {"fixtures": [*_rows(plan), row]}


def _train(plan: Plan, _: list[str]) -> dict[str, object]:
    """Every group that is held in learns the fence."""
    held = [animal_kinds()[herd.kind].purpose == "hold" for herd in plan.stock]
    return {
        "stock": [
            h.model_dump() | {"schooled": h.schooled or is_held} for h, is_held in zip(plan.stock, held, strict=True)
        ]
    }


def _shut(plan: Plan, rest: list[str]) -> dict[str, object]:
    return {"fixtures": [f.model_dump() | ({"is_open": False} if f.id in rest else {}) for f in plan.fixtures]}


def _rod_site(plan: Plan, _: list[str]) -> dict[str, object]:
    site = next(iter(proposed(plan)), None)
    if site is None:
        raise ValueError("no better place for the rods is found near the energizer")
    row = {"position": site.at, "bearing_deg": site.bearing_deg, "places": [], "layout": "row"}
    return {"rods": plan.rods.model_dump() | row}


def _heights(plan: Plan, rest: list[str], fence: str | None) -> dict[str, object]:
    """Strands at heights, each with the letter of its role: 30l,60e,90l; conductors stay with their heights."""
    built = built_as(plan, fence)
    kept = {strand.cm: strand.conductor for strand in built.view.strands}
    top = built.view.strands[-1].conductor if built.view.strands else None
    heights = [(float(word[:-1]), _ROLES[word[-1]]) for word in rest[0].split(",")]
    strands = [{"cm": cm, "role": role, "conductor": kept.get(cm)} for cm, role in heights]
    strands[-1]["conductor"] = strands[-1]["conductor"] or top
    return of_fence(plan, fence, {"strands": strands, "bottom_off": False})


def _top(plan: Plan, rest: list[str], fence: str | None) -> dict[str, object]:
    """The top strand of another conductor."""
    view = built_as(plan, fence).view
    own = [s.model_dump() for s in view.strands] or [{"cm": s.cm, "role": s.role} for s in fence_of(view)]
    own[-1]["conductor"] = rest[0]
    spacing = farthest_m(changed(plan, of_fence(plan, fence, {"strands": own})))
    return of_fence(plan, fence, {"strands": own, "post_spacing_m": min(view.post_spacing_m, spacing)})


_ROLES = {"l": "live", "e": "earth", "d": "dead"}
_OF_FENCE: dict[ActionKind, Callable[[Plan, list[str], str | None], dict[str, object]]] = {
    ActionKind.SET: _set,
    ActionKind.HEIGHTS: _heights,
    ActionKind.TOP: _top,
}
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
    ActionKind.DIVERTER: _diverter,
    ActionKind.TRAIN: _train,
    ActionKind.SHUT: _shut,
    ActionKind.ROD_SITE: _rod_site,
}
