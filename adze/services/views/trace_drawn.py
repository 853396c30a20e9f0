"""What the ground and the strip draw of a search: where it may lie, what was read, the next place, the way there."""

from typing import Any

from adze.core.basics.units import format_length, kv_words
from adze.core.ground.lines import point_at, run_of
from adze.core.ground.places import Place as FencePlace
from adze.core.plan.document import Plan
from adze.core.trace.explanation import pieces_told, stretches
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import fence_place, of_spot
from adze.core.trace.search import FaultSearch


def drawn(plan: Plan, search: FaultSearch, step: NextStep) -> dict[str, Any]:
    """What the ground draws: pieces with their share per metre, the place to go to, the way there, the readings."""
    rows, told_pieces = [], pieces_told(search)
    most = max((row.share / (row.to_m - row.from_m) for row in told_pieces), default=0.0)
    for number, row in enumerate(told_pieces):
        if row.share <= 0:
            continue
        place = of_spot(plan, search.grid.at(int(search.grid.a[number]), row.span), search.grid, -1)
        if place is None:
            continue
        per_m = row.share / (row.to_m - row.from_m)
        rows.append(
            {
                "run": place.run,
                "from": round(place.at_m, 1),
                "to": round(place.at_m + row.to_m - row.from_m, 1),
                "strength": round(per_m / most, 3) if most else 0.0,
                "half": row.in_half,
                "most": row.in_most,
            }
        )
    goes = step.place >= 0 and step.do not in ("stop", "sweep")
    return {
        "pieces": rows,
        "go": _spot(plan, search, step.place) if goes else None,
        "here": _xy(plan, search, search.here),
        "way": _way(plan, search, step) if goes else [],
        "readings": _readings(plan, search),
        "half": _half(plan, search, rows),
    }


def _spot(plan: Plan, search: FaultSearch, number: int) -> dict[str, Any]:
    """A place on its line, and on the ground; the lead-out and the unit lie on no line."""
    place = fence_place(plan, search.grid, number)
    on = {"run": place.run, "at_m": round(place.at_m, 1)} if place else {"run": "", "at_m": 0.0}
    return on | {"xy": _xy(plan, search, number)}


def _readings(plan: Plan, search: FaultSearch) -> list[dict[str, Any]]:
    """What was read since the last mend, by place: kV, A of each leg."""
    found: dict[int, dict[str, Any]] = {}
    for reading, _ in search.readings:
        number = reading.place.number
        if number < 0:
            continue
        row = found.setdefault(number, _spot(plan, search, number) | {"kv": None, "amps": []})
        row["kv"] = reading.kv if reading.kv is not None else row["kv"]
        if reading.amps is not None:
            row["amps"].append(reading.amps)
    for row in found.values():
        kv = [] if row["kv"] is None else [f"{kv_words(row['kv'])} kV"]
        row["words"] = ", ".join([*kv, *(f"{abs(amps):.3g} A" for amps in row.pop("amps"))])
    return list(found.values())


def _half(plan: Plan, search: FaultSearch, rows: list[dict[str, Any]]) -> dict[str, Any] | None:
    """Where half of it lies, in words, at the middle of the likeliest of these stretches."""
    held = [row for row in rows if row["half"]]
    if not held:
        return None
    whole_m = sum(row.to_m - row.from_m for row in stretches(search, half=True))
    best = max(held, key=lambda row: row["strength"])
    x, y = point_at(run_of(plan, best["run"]), (best["from"] + best["to"]) / 2)
    words = f"half of it lies in {'this' if len(held) == 1 else 'these'} {format_length(whole_m, plan.units)}"
    return {"words": words, "xy": [round(x, 1), round(y, 1)]}


def _xy(plan: Plan, search: FaultSearch, number: int) -> list[float] | None:
    if number < 0:
        return None
    place: FencePlace | None = fence_place(plan, search.grid, number)
    if place is None:
        at = plan.energizer_at
        return None if at is None else [round(at[0], 1), round(at[1], 1)]
    x, y = point_at(run_of(plan, place.run), place.at_m)
    return [round(x, 1), round(y, 1)]


def _way(plan: Plan, search: FaultSearch, step: NextStep) -> list[list[float]]:
    """The way from where the person stands to the next place."""
    spots = [_xy(plan, search, number) for number in search.grid.stops(search.here, step.place)]
    return [spot for spot in spots if spot is not None]
