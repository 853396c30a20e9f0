"""What takes the pulse, as the reason of a finding: the largest share of what leaves the unit, what-ifs first."""

from dataclasses import dataclass, replace

from adze.core.forecast.budget import Budget, budget
from adze.core.forecast.volts import Solved, Volts
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place, place_words
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.stock import wanted_of
from adze.core.tables.ground import mishap_kinds
from adze.core.verdict.findings import Cause, Finding

_SMALL_BODY = 0.35  # of the strand's kV: less of it reaching a body is the ground's and the coat's doing
_ABOUT = 0.7  # of the kV that are wanted on the strand
_SHORT = 0.15  # of the joules that leave the unit, through what was set to have gone wrong
_SAGS = 0.15  # of the open kV that the unit loses before the pulse has left


@dataclass(frozen=True)
class Loss:
    """The cause of a shortfall, and what is said of it."""

    cause: Cause
    words: str


def explained(found: Solved, forecast: Volts, finding: Finding) -> Finding:
    """A finding that falls short, with the reason that the budget of its season gives."""
    loss = loss_of(found, forecast, finding)
    reason = f"{finding.reason} {loss.words}" if finding.animal else loss.words
    return replace(finding, reason=reason, cause=loss.cause)


def loss_of(found: Solved, forecast: Volts, finding: Finding) -> Loss:
    """What takes most of the pulse."""
    plan, spent = found.plan, budget(found)
    given = max(spent.given_j, 1e-9)
    if spent.mishaps_j > _SHORT * given or _is_dead_by(plan, forecast, finding):
        return Loss(Cause.MISHAP, _mishap_words(plan, spent.mishaps_j / given))
    if finding.place and finding.value_kv < _SMALL_BODY * finding.strand_kv and _is_live(plan, finding, finding.place):
        return Loss(Cause.HOOVES, "The ground is the problem, not the energizer.")
    unit = unit_of(plan)
    open_kv = unit.open_kv if unit else forecast.start_kv
    parts = {
        Cause.GROWTH: sum(spent.leaks_j.values()),
        Cause.STRANDS: spent.wire_j,
        Cause.RODS: spent.rods_j + spent.far_rods_j,
    }
    cause = max(parts, key=lambda key: parts[key])
    if forecast.start_kv > (1 - _SAGS) * open_kv and parts[cause] < given / 2:
        return Loss(Cause.UNIT, f"The pulse arrives almost in full; the energizer has no more than {open_kv:g} kV.")
    return Loss(cause, _words(plan, spent, cause, parts[cause] / given))


def _is_live(plan: Plan, finding: Finding, place: Place) -> bool:
    """Whether the strands carry about what is wanted of them: then it is lost on the way through the body."""
    return finding.strand_kv >= _ABOUT * wanted_of(fence_at(plan, place.run).view)


def _is_dead_by(plan: Plan, forecast: Volts, finding: Finding) -> bool:
    """Whether a place that is set to be cut or shorted carries next to nothing."""
    return bool(plan.what_ifs) and finding.animal is None and finding.value_kv < forecast.start_kv / 4


def _mishap_words(plan: Plan, share: float) -> str:
    rows = [
        f"{mishap_kinds()[w.kind].label.lower()} at {place_words(plan, Place(w.run, w.at_m))}" for w in plan.what_ifs
    ]
    taken = f" take {100 * share:.0f} % of the joules that leave the unit" if share > _SHORT else ""
    return f"The faults you set{taken}: {'; '.join(rows)}."


def _words(plan: Plan, spent: Budget, cause: Cause, share: float) -> str:
    percent = f"{100 * share:.0f} % of the {spent.given_j:.2g} J that leave the unit"
    if cause is Cause.GROWTH:
        run = max(spent.leaks_j, key=lambda key: spent.leaks_j[key])
        return f"Growth, posts and insulators take {percent}, most of it on {run_of(plan, run).name}."
    if cause is Cause.STRANDS:
        return f"The strands themselves take {percent}: their metal is thin for this length."
    return f"The rods take {percent}."
