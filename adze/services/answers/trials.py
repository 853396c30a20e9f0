"""Strands as they are being dragged: what each animal would do and feel, before anything is saved."""

from typing import Any

from adze.core.basics.status import Status, rank
from adze.core.basics.units import kv_words
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import equivalent_at, solved
from adze.core.ground.soil_areas import soil_of
from adze.core.plan.construction import PlannedStrand
from adze.core.plan.constructions import Built, built_as, rebuilt
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_word
from adze.core.verdict.judge_fence import strand_findings
from adze.services.answers.forecasts import judgement_of


def preview_strands(plan: Plan, strands: tuple[PlannedStrand, ...], fence: str | None = None) -> dict[str, Any]:
    """What other strands would do: the worst of each animal, its gap, and what it would feel in the driest week.

    What is felt goes by the kV that stands at the worst place now: some cm more or less change it by
    less than two figures show. Raises ValidationError.
    """
    built = built_as(plan, fence)
    other = built_as(rebuilt(plan, built.id, {"strands": strands}), built.id).view
    worst: dict[str, dict[str, Any]] = {}
    for check, finding in strand_findings(other):
        row = {
            "animal": check.animal,
            "title": finding.title,
            "status": finding.status.value,
            "figure": finding.figure,
            "limit": finding.limit,
            "reason": finding.reason,
            "gap": check.gap,
        }
        known = worst.get(check.animal)
        if known is None or rank(finding.status) > rank(Status(known["status"])):
            worst[check.animal] = row
    return {"animals": list(worst.values()), "felt": _felt(plan, built, other)}


def _felt(plan: Plan, built: Built, other: Plan) -> list[dict[str, Any]]:
    judged = judgement_of(plan)
    weakest = judged.verdicts[Stage.VOLTS].worst
    forecast = judged.volts.get(Season.DRY)
    if forecast is None or not built.runs:
        return []
    place = forecast.worst_on(frozenset(built.runs))[0]
    if weakest and weakest.place and weakest.place.run in built.runs and weakest.season is Season.DRY:
        place = weakest.place
    if place.run not in built.runs:
        return []  # none of it is fed
    weather = Weather(Season.DRY)
    spot = equivalent_at(solved(plan, weather), place)
    return [
        {
            "animal": animal_word(t.animal.kind),
            "kv": kv_words(t.body_kv),
            "wanted": kv_words(t.wanted_kv),
            "status": t.status.value,
        }
        for t in touches(other, spot, weather, soil_of(plan, place))
    ]
