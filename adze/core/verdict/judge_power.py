"""Verdicts on the energizer."""

import math
from collections.abc import Iterator
from dataclasses import replace
from itertools import groupby
from operator import itemgetter

from adze.core.basics.status import Status, against
from adze.core.basics.units import kv_words
from adze.core.build.count import PATH_NEAR_M
from adze.core.forecast.tester_display import read_words
from adze.core.forecast.volts import Volts
from adze.core.ground.lines import line_of, shape_of
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_kinds, animal_word
from adze.core.tables.energizers import EnergizerModel
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge_supply import CARRIED, supply_findings

_PREDATOR_KV = 5.0
_SPARE_FOR_HALF = 1.1 * math.sqrt(2)  # a body above its spark gap loses a little more than the strand


def judge_power(plan: Plan, seasons: dict[Season, Volts], wanted: float, volts: Verdict, blocked: str) -> Verdict:
    """What the unit still shows with all of the fence on it, and whether that is enough for the fence (`volts`)."""
    unit = unit_of(plan)
    if unit is None:
        return Verdict(
            Stage.POWER,
            "none chosen",
            unknown="Choose an energizer. The usual rules for its size are shown beside it.",
        )
    cautions = [
        "Connect one energizer to a fence, never two. Keep other fences' live strands at least 2.5 m away.",
        "Hang it dry and shaded, out of reach of stock, away from the milk house and its water.",
    ]
    cautions.append(
        "Besides joules and price ask who repairs it, how fast, and how long earlier units lasted. Charge a battery "
        "full before the first day, and every three months in store."
    )
    if unit.supply in CARRIED and not any(f.kind == "diverter" for f in plan.fixtures):
        cautions.append("No lightning diverter: disconnect the unit and take it under a roof before thunder.")
    if "mains" in unit.supply:
        cautions.append("Keep mains parts indoors, behind a surge protector. Mains work is for a licensed electrician.")
    paths = [shape_of(m) for m in plan.landmarks if m.kind == "path"]
    people = any(line_of(r).distance(path) < PATH_NEAR_M for r in plan.runs for path in paths)
    if people and not plan.half_power:
        cautions.append(
            "People walk beside this fence. Near houses, yards and paths use the reduced terminal where the kV "
            "still hold, and put signs on every side."
        )
    if not seasons:
        return Verdict(Stage.POWER, unit.label, cautions=tuple(cautions), unknown=blocked)
    season, start = min(((s, v.start_kv) for s, v in seasons.items()), key=lambda row: row[1])
    status = against(start, wanted)
    finding = Finding(
        Stage.POWER,
        "kV at the energizer",
        status,
        _shows(plan, start, unit.open_kv),
        figure=f"{read_words(plan, start)} kV",
        limit=f"{kv_words(wanted)} kV",
        season=season,
        where="at the energizer",
        mend="" if status is Status.HOLDS else "Volts shows what would fix it.",
    )
    findings = (finding, *_enough(volts), *_capable(plan, unit), *supply_findings(plan, unit))
    if people and not plan.half_power:
        findings += tuple(_reduced(volts))
    return Verdict(Stage.POWER, unit.label, findings, tuple(cautions))


def _shows(plan: Plan, kv: float, open_kv: float) -> str:
    if kv > open_kv:
        return "A long clean line reflects the pulse, so it reads more here than the energizer alone."
    return f"With the whole fence connected the energizer still gives {read_words(plan, kv)} of its {open_kv:g} kV."


def _capable(plan: Plan, unit: EnergizerModel) -> Iterator[Finding]:
    """What practice asks of a unit against predators, whatever the kV of the day."""
    kinds = [animal_kinds()[key] for key in sorted({herd.kind for herd in plan.stock})]
    asked = [("stored", kind.least_stored_j, unit.stored_j, kind) for kind in kinds if kind.least_stored_j]
    asked += [("released", kind.least_released_j, unit.released_j, kind) for kind in kinds if kind.least_released_j]
    for (what, least, joules), rows in groupby(asked, key=itemgetter(0, 1, 2)):
        if joules > least or (what == "released" and joules == least):
            continue
        name = " and ".join(animal_word(row[3].key) for row in rows)
        yield Finding(
            Stage.POWER,
            f"Too little for a {name}",
            Status.MARGINAL,
            f"Practice asks {'more than' if what == 'stored' else 'at least'} {least:g} J {what} and {_PREDATOR_KV:g} "
            f"kV against a {name}; this unit has {joules:g} J {what}.",
            figure=f"{joules:g} J {what}",
            limit=f"{least:g} J {what}",
            mend="Choose a larger energizer.",
        )


def _reduced(volts: Verdict) -> Iterator[Finding]:
    """Where people pass and half of the joules would do: at the reduced terminal all kV fall to their 1/√2."""
    shares = [f.value_kv / f.limit_kv for f in volts.findings if f.limit_kv]
    if shares and min(shares) >= _SPARE_FOR_HALF:
        yield Finding(
            Stage.POWER,
            "The reduced terminal would do",
            Status.HOLDS,
            "People walk beside this fence, and it holds everywhere with seven tenths of its kV. Half of the joules "
            "are enough.",
            figure=f"{min(shares) / math.sqrt(2):.1f} times what is needed",
            mend="Tick the reduced terminal.",
        )


def _enough(volts: Verdict) -> Iterator[Finding]:
    """What Volts finds to fall short, as the unit's: no unit holds on a fence that fails."""
    worst = volts.worst
    if worst is not None:
        yield replace(
            worst,
            stage=Stage.POWER,
            title="Enough for this fence",
            reason=f"{worst.title}: {worst.reason}",
            repeats=True,
            mend="Volts shows what would fix it; the table compares every energizer.",
        )
