"""Options of a plan side by side: kV, what is felt, cost, parts and own work."""

from collections.abc import Sequence
from dataclasses import dataclass

from adze.core.basics.status import Status
from adze.core.build.parts import Bill, bill
from adze.core.forecast.touches import Touch
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.verdict.judge import Judgement

# Own work, hours for one (assumptions; half to twice that by ground and practice).
_POST_H, _STRONG_POST_H, _STRAND_M_PER_H, _ROD_H, _DUG_M_PER_H, _OTHER_H = 0.12, 1.5, 400.0, 0.4, 5.0, 0.25
_STRONG_POSTS = ("end_post", "composite_end")
_BY_PIECE = {"Insulators": 0.01, "Joints": 0.03}


@dataclass(frozen=True)
class Option:
    """One plan as it compares: least kV by season, the weakest touch with its season, cost, hours, parts."""

    name: str
    status: Status
    kv: dict[Season, float]
    touch: Touch | None
    touch_season: Season | None
    bill: Bill
    hours: float
    blocked: str


def option(plan: Plan, judged: Judgement) -> Option:
    """What a judged plan shows beside others."""
    felt = [(season, touch) for season, rows in judged.touches.items() for _, touch in rows]
    weakest = min(felt, key=lambda row: row[1].body_kv / row[1].wanted_kv, default=None)
    found = bill(plan)
    return Option(
        plan.name,
        judged.status,
        {season: forecast.worst[1] for season, forecast in judged.volts.items()},
        weakest[1] if weakest else None,
        weakest[0] if weakest else None,
        found,
        hours(found),
        judged.blocked,
    )


def hours(found: Bill) -> float:
    """Own work of a parts list, hours: posts driven, strong posts braced, strands run, rods driven, the rest fitted."""
    total = 0.0
    for line in found.lines:
        if line.group == "Posts":
            total += line.quantity * (_STRONG_POST_H if line.part in _STRONG_POSTS else _POST_H)
        elif line.group == "Conductor" and line.unit == "m":
            total += line.quantity / _STRAND_M_PER_H
        elif line.part == "earth_rod":
            total += line.quantity * _ROD_H
        elif line.part == "bare_lead":
            total += line.quantity / _DUG_M_PER_H
        elif line.unit == "m":
            total += line.quantity / _STRAND_M_PER_H
        else:
            total += line.quantity * _BY_PIECE.get(line.group, _OTHER_H)
    return total


@dataclass(frozen=True)
class PartRow:
    """One part over all options: how many of it each takes, and whether they differ."""

    group: str
    label: str
    unit: str
    quantities: tuple[float, ...]

    @property
    def differs(self) -> bool:
        """Whether the options take unlike amounts."""
        return len(set(self.quantities)) > 1


def part_rows(options: Sequence[Option]) -> tuple[PartRow, ...]:
    """Every part of any option, in the order of the lists."""
    known: dict[tuple[str, str], str] = {}
    for one in options:
        for line in one.bill.lines:
            known.setdefault((line.group, line.label), line.unit)
    groups = list(dict.fromkeys(group for group, _ in known))
    amounts = [{(line.group, line.label): line.quantity for line in one.bill.lines} for one in options]
    rows = sorted(known.items(), key=lambda row: groups.index(row[0][0]))
    return tuple(PartRow(*key, unit, tuple(own.get(key, 0.0) for own in amounts)) for key, unit in rows)
