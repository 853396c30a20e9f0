"""Verdicts on the energizer."""

from collections.abc import Iterator
from dataclasses import replace

from adze.core.basics.status import Status, against
from adze.core.basics.units import kv_words
from adze.core.build.parts import PATH_NEAR_M
from adze.core.forecast.shown import read_words
from adze.core.forecast.volts import Volts
from adze.core.ground.lines import line_of, shape_of
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge_supply import supply_findings


def judge_power(plan: Plan, seasons: dict[Season, Volts], wanted: float, volts: Verdict, blocked: str) -> Verdict:
    """What the unit still shows with all of the fence on it, and whether that is enough for the fence (`volts`)."""
    unit = unit_of(plan)
    if unit is None:
        return Verdict(Stage.POWER, "none chosen", unknown="Choose an energizer; the sizes others go by stand beside.")
    cautions = [
        "One energizer to a fence, never two; other fences' live strands at least 2.5 m away.",
        "Dry, shaded, out of reach of stock, away from the milk-house and its water.",
    ]
    if "mains" in unit.supply:
        cautions.append("Mains parts indoors only, behind a surge protector; mains work by a licensed electrician.")
    paths = [shape_of(m) for m in plan.landmarks if m.kind == "path"]
    if not plan.half_power and any(line_of(r).distance(path) < PATH_NEAR_M for r in plan.runs for path in paths):
        cautions.append(
            "People walk beside this fence: near houses, yards and paths the reduced terminal serves where the kV "
            "still hold, and signs stand on every side."
        )
    if not seasons:
        return Verdict(Stage.POWER, unit.label, cautions=tuple(cautions), unknown=blocked)
    season, start = min(((s, v.start_kv) for s, v in seasons.items()), key=lambda row: row[1])
    status = against(start, wanted)
    finding = Finding(
        Stage.POWER,
        "kV at the energizer",
        status,
        f"With all of the fence on it the unit still shows {read_words(plan, start)} of its open {unit.open_kv:g} kV.",
        figure=f"{read_words(plan, start)} kV",
        limit=f"{kv_words(wanted)} kV",
        season=season,
        where="at the energizer",
        mend="" if status is Status.HOLDS else "See what would mend it at Volts.",
    )
    findings = (finding, *_enough(volts), *supply_findings(plan, unit))
    return Verdict(Stage.POWER, unit.label, findings, tuple(cautions))


def _enough(volts: Verdict) -> Iterator[Finding]:
    """What Volts finds to fall short, as the unit's: no unit holds on a fence that fails."""
    worst = volts.worst
    if worst is not None:
        yield replace(
            worst,
            stage=Stage.POWER,
            title="Enough for this fence",
            reason=f"{worst.title}: {worst.reason}",
            mend="Volts computes what would mend it; every unit stands side by side on the surface.",
        )
