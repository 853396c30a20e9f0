"""What the supply that is wanted can do: whether a unit of its kind is enough, and how much fence it carries."""

from collections.abc import Sequence

from adze.core.basics.rounding import significant
from adze.core.basics.units import counted, format_length
from adze.core.build.construction import has_earth_strands
from adze.core.forecast.compare_units import Trials, UnitHere
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import changed
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.core.tables.construction import nettings
from adze.core.tables.energizers import EnergizerModel

_HALVINGS = 5
_LEAST_SHARE = 0.05


def none_of_its_kind(plan: Plan, here: Sequence[UnitHere]) -> str:
    """Where no unit on the plan's kind of supply is enough, that in a sentence, with what would do; else nothing."""
    own = unit_of(plan)
    if own is None:
        return ""
    alike = [row for row in here if row.unit.supply == own.supply]
    if not alike or any(row.margin >= 1 for row in alike):
        return ""
    best = max(alike, key=lambda row: row.margin)
    nearest = f"{best.unit.label} comes nearest, {100 * best.margin:.0f} % of need"
    says = f"No {own.supply} unit is enough here: {nearest}."
    others = [row for row in here if row.margin >= 1 and row.unit.supply != own.supply]
    ways = [f"a lead from where {min(others, key=lambda r: r.unit.released_j).unit.label} can be fed"] if others else []
    ways += _less(plan, best.unit)
    if not others and all(not has_earth_strands(built.view) for built in standing_fences(plan)):
        ways.append("earth strands, or better ground for hooves and rods: see Strands and Earth")
    return f"{says} Enough would be: {'; '.join(ways)}." if ways else says


def _less(plan: Plan, unit: EnergizerModel) -> list[str]:
    share = carried_share(plan, unit)
    if share is None:
        return []
    metres = sum(length_m(run) for run in plan.runs) * share
    words = f"less fence, about {format_length(significant(metres), plan.units)} of it for {unit.label}"
    net = nettings().get(plan.netting or "")
    if net:
        rolls = int(metres // net.roll_m)
        words += f", or {counted(rolls, 'roll')}"
    return [f"{words}, and a second unit on a fence of its own for the rest"]


def carried_share(plan: Plan, unit: EnergizerModel) -> float | None:
    """How much of a fence a unit carries in every season, its lines shortened alike; None where hardly any of it.

    Shortened about the energizer, halved between: less fence never holds less.
    """
    middle = plan.energizer_at or plan.runs[0].points[0]

    def holds(share: float) -> bool:
        try:
            shorter = _shortened(plan, middle, share)
            return all(Trials(shorter, Weather(season)).tried(unit).margin >= 1 for season in Season)
        except (Incomplete, ValueError):
            return False  # so short that no fence is left of it

    if not holds(_LEAST_SHARE):
        return None
    low, high = _LEAST_SHARE, 1.0
    for _ in range(_HALVINGS):
        half = (low + high) / 2
        low, high = (half, high) if holds(half) else (low, half)
    return low


def _shortened(plan: Plan, middle: tuple[float, float], share: float) -> Plan:
    """The plan with its lines drawn together about a point, with nothing on them but themselves."""
    rows = [
        run.model_dump()
        | {"points": [tuple(m + share * (p - m) for p, m in zip(point, middle, strict=True)) for point in run.points]}
        for run in plan.runs
    ]
    nothing: dict[str, object] = {"fixtures": [], "growths": [], "what_ifs": [], "meetings": [], "landmarks": []}
    return changed(plan, {"runs": rows, "feed_at": None, **nothing})
