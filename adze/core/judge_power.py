"""Verdicts on the energizer and its rods."""

from collections.abc import Iterator

from adze.core.catalogue import unit_of
from adze.core.circuit import has_earth_strands
from adze.core.earth_test import ACCEPTABLE_KV, GOOD_KV, EarthTest
from adze.core.fences import standing_fences, views_by_run
from adze.core.findings import Finding, Stage, Verdict, against
from adze.core.forecast import Volts
from adze.core.ground import Place, line_of, run_of, shape_of
from adze.core.judge_supply import supply_findings
from adze.core.plan import Plan
from adze.core.season import Season
from adze.core.siting import judge_rod_siting
from adze.core.strand_checks import Status
from adze.core.units import format_length
from adze.core.wiring import Joined, wiring
from adze.core.wording import SEASON_WORDS, kv_words

RODS_CLEAR_M = 10.0
PATH_M = 20.0


def judge_power(plan: Plan, seasons: dict[Season, Volts], wanted: float, blocked: str) -> Verdict:
    """What the unit still shows with all of the fence on it, in the season that pulls hardest."""
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
    if not plan.half_power and any(line_of(r).distance(path) < PATH_M for r in plan.runs for path in paths):
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
        f"With all of the fence on it the unit still shows {kv_words(start)} of its open {unit.open_kv:g} kV.",
        figure=f"{kv_words(start)} kV",
        limit=f"{kv_words(wanted)} kV",
        season=season,
        where="at the energizer",
        mend="" if status is Status.HOLDS else "See what would mend it at Volts.",
    )
    return Verdict(Stage.POWER, unit.label, (finding, *supply_findings(plan, unit)), tuple(cautions))


def judge_earth(plan: Plan, tests: dict[Season, EarthTest], blocked: str) -> Verdict:
    """The forecast earth tests, the spacing of the rods and what stands near them."""
    if plan.rods.count < 1:
        none = Finding(Stage.EARTH, "No rods", Status.FAILS, "The pulse has no way back.", mend="Add three rods.")
        return Verdict(Stage.EARTH, "no rods", (none,))
    if not tests:
        return Verdict(Stage.EARTH, f"{plan.rods.count} rods", unknown=blocked)
    found = []
    earth_strands = all(has_earth_strands(built.view) for built in standing_fences(plan))
    for season, test in tests.items():
        status = test.status
        if status is Status.FAILS and earth_strands:
            # The return goes by the earth strands: weak rods are a flaw there, not the end of the touch.
            status = Status.MARGINAL
        found.append(
            Finding(
                Stage.EARTH,
                f"Earth test, {SEASON_WORDS[season]}",
                status,
                f"With the fence shorted to {kv_words(test.fence_kv)} kV the rods would rise to "
                f"{kv_words(test.rods_kv)} kV; a peg 10 m off shows {kv_words(test.peg_kv)}."
                + (" The earth strands carry the return." * earth_strands),
                figure=f"{kv_words(test.rods_kv)} kV",
                limit=f"{GOOD_KV:g} good, {ACCEPTABLE_KV:g} tolerable",
                season=season,
                where="at the rods",
                mend="" if test.status is Status.HOLDS else "More or longer rods, in damper ground.",
            )
        )
    if plan.rods.spacing_m < 0.95 * 1.5 * plan.rods.length_m and plan.rods.count > 1:
        found.append(
            Finding(
                Stage.EARTH,
                "Rods too near each other",
                Status.MARGINAL,
                "Rods closer than 3 m act as one.",
                figure=format_length(plan.rods.spacing_m, plan.units),
                limit=format_length(3, plan.units),
                mend="Space them 3 m or more.",
            )
        )
    found += unearthed(plan)
    found += judge_rod_siting(plan)
    ohm = tests[Season.DRY].rods_ohm
    cautions = (
        f"Rods at least {format_length(RODS_CLEAR_M, plan.units)} from any supply, telephone or building earth and "
        "from metal water pipes.",
        "Test in the driest and in the wettest time: the test decides, not the count.",
    )
    return Verdict(Stage.EARTH, f"{plan.rods.count} rods, {ohm:.0f} Ω dry", tuple(found), cautions)


def unearthed(plan: Plan) -> Iterator[Finding]:
    """Earth strands that hang together with no rod: they bring nothing back."""
    found = wiring(plan)
    earthed = {run for run, view in views_by_run(plan).items() if has_earth_strands(view)}
    if found is None or not earthed:
        return
    pieces = [piece for piece in found.pieces if piece.run in earthed]
    joined = Joined()
    for piece in pieces:
        joined.join(piece.a, piece.b)
    rods = (found.fixed.get(f.id) for f in plan.fixtures if f.kind == "rods")
    home = {joined.root(node) for node in (found.start, *rods) if node is not None}
    alone = dict.fromkeys(piece.run for piece in pieces if joined.root(piece.a) not in home)
    for run in alone:
        yield Finding(
            Stage.EARTH,
            "Earth strands without rods",
            Status.FAILS,
            f"The earth strands of {run_of(plan, run).name} reach neither the energizer's rods nor any of their own: "
            "a nose between live and earth strand feels hardly more than on soil.",
            place=Place(run, 0.0),
            where=run_of(plan, run).name,
            mend="Set a rod site on that line, or carry an earth strand on from the energizer.",
        )
