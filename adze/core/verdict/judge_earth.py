"""Verdicts on the earth: the forecast tests, how the rods stand, what they are made of and joined with."""

import math
from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from networkx.utils import UnionFind

from adze.core.basics.status import Status
from adze.core.basics.units import format_length, kv_words
from adze.core.build.construction import has_earth_strands
from adze.core.build.rod_sites import APART_M, placed, refusals
from adze.core.build.rods import lead_m, least_apart_m
from adze.core.forecast.earth_test import TEST_SCHOOLS, EarthTest
from adze.core.forecast.stray import REFUSED_V, strays
from adze.core.ground.lines import run_of
from adze.core.ground.nearby import name_of
from adze.core.ground.places import Place
from adze.core.ground.wiring import wiring
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.season import SEASON_WORDS, Season
from adze.core.plan.stages import Stage
from adze.core.tables.ground import landmark_kinds, rod_metals
from adze.core.verdict.actions import Action, ActionKind, setting
from adze.core.verdict.findings import Cause, Finding, Verdict
from adze.core.verdict.surroundings.siting import judge_rod_siting

_HOUSEHOLD_V = 600
_DRY_SOILS = ("dry_sand", "moist_sand", "gravel")
_LEAD_METAL = {"cable": "galvanised", "strand": "galvanised", "household": "copper"}


def judge_earth(plan: Plan, tests: dict[Season, EarthTest], volts: Verdict, blocked: str) -> Verdict:
    """The forecast earth tests, whether the rods are what `volts` falls short by, their joints, what stands near."""
    if plan.rods.count < 1:
        none = Finding(
            Stage.EARTH,
            "No rods",
            Status.FAILS,
            "The pulse has no way back.",
            mend="Add three rods.",
            action=setting("rods", count="3"),
        )
        return Verdict(Stage.EARTH, "no rods", (none,))
    if not tests:
        return Verdict(Stage.EARTH, f"{plan.rods.count} rods", unknown=blocked)
    found = [*_tested(plan, tests), *_falls_short_by_rods(volts)]
    found += _spacing(plan)
    found += _made_of(plan)
    found += unearthed(plan)
    found += judge_rod_siting(plan)
    found += _trodden(plan)
    found += _stray(plan)
    found += _over_rock(plan)
    ohm = tests[Season.DRY].rods_ohm
    clear_m = landmark_kinds()["supply_earth"].rods_clear_m
    cautions = (
        f"Rods at least {format_length(clear_m, plan.units)} from any supply, telephone or building earth and "
        "from metal water pipes. Have buried services located before driving.",
        "Energizer off before a hand touches rods, lead or clamps. Eyes and ears covered at the driver.",
        "Test in the driest and in the wettest time: the test decides, not the count. In drought, sand and over rock "
        "add rods when in doubt, before the test fails.",
        "The wire that joins the rods high or in the ground, never where a trimmer or a foot catches it; no rod proud "
        "of the grass where anything walks.",
        *_portable(plan),
        *_on_posts(plan, tests[Season.DRY]),
    )
    return Verdict(Stage.EARTH, f"{plan.rods.count} rods, {ohm:.0f} Ω dry", tuple(found), cautions)


def _portable(plan: Plan) -> tuple[str, ...]:
    """What a unit that is carried wants of its earth."""
    unit = unit_of(plan)
    if unit is None or unit.supply == "mains":
        return ()
    return (
        "A unit that is carried takes its stake along: in the dampest spot inside the fence, a metre deep, watered in "
        "a dry spell; the insulated lead that came with it, no shorter wire.",
    )


def _on_posts(plan: Plan, driest: EarthTest) -> tuple[str, ...]:
    """What a wire on the fence's posts as earth lead saves, and what it asks."""
    if plan.rods.lead != "strand":
        return ()
    return (
        f"A wire on the posts as earth lead saves {format_length(lead_m(plan), plan.units)} of trench. It is no dead "
        f"wire: with the fence shorted in the driest week it stands at {kv_words(driest.rods_kv)} kV with the rods. On "
        "clips of its own, 15 cm from every live strand, marked as earth; whoever mends the fence must know it.",
    )


_WEEK_MENDS = {
    Season.USUAL: "More or longer rods, in damper ground.",
    Season.DRY: "Longer rods, or rods in damper ground; water them and test in a drought.",
    Season.WET: "A smaller energizer, or more rods.",
}


_finding = partial(Finding, Stage.EARTH)


def _tested(plan: Plan, tests: dict[Season, EarthTest]) -> Iterator[Finding]:
    school = TEST_SCHOOLS[plan.earth_school]
    for season, test in tests.items():
        status, earth_strands = test.status, test.returns
        if season is Season.USUAL and status is Status.HOLDS:
            continue  # the drier and the wetter week are told
        yield Finding(
            Stage.EARTH,
            f"Earth test, {SEASON_WORDS[season]}",
            status,
            f"With the fence shorted to {kv_words(test.fence_kv)} kV the rods would rise to "
            f"{kv_words(test.rods_kv)} kV; a peg 10 m off shows {kv_words(test.peg_kv)}."
            + (" The earth strands carry the return: the test does not decide here." * earth_strands)
            + (
                " Practice drives rods for the usual week."
                * (season is not Season.USUAL and status is not Status.HOLDS)
            ),
            figure=f"{kv_words(test.rods_kv)} kV",
            limit=f"{school.good_kv:g} good"
            + ("; earth strands carry the return" if earth_strands else f", {school.tolerable_kv:g} tolerable"),
            season=season,
            where="at the rods",
            mend="" if test.status is Status.HOLDS else _WEEK_MENDS[season],
        )


def _falls_short_by_rods(volts: Verdict) -> Iterator[Finding]:
    """What falls short at Volts because of the rods' own ohms, in whichever season."""
    worst = volts.worst
    if worst is not None and worst.cause is Cause.RODS and worst.status is Status.FAILS:
        yield replace(
            worst,
            stage=Stage.EARTH,
            title="The rods take the pulse",
            reason=f"{worst.title}: {worst.reason}",
            repeats=True,
            mend="More or longer rods, in damper ground.",
        )


def _spacing(plan: Plan) -> Iterator[Finding]:
    apart, wanted = least_apart_m(plan.rods), min(APART_M, 1.5 * plan.rods.length_m)
    if apart < 0.95 * wanted:
        yield _finding(
            "Rods too near each other",
            Status.MARGINAL,
            f"Rods closer than {format_length(wanted, plan.units)} act as one.",
            f"Space them {format_length(APART_M, plan.units)} or more.",
            format_length(apart, plan.units),
            format_length(wanted, plan.units),
            setting("rods", spacing_m=f"{APART_M:g}"),
        )


def _made_of(plan: Plan) -> Iterator[Finding]:
    rods, metals = plan.rods, rod_metals()
    metal, unit = metals[rods.metal], unit_of(plan)
    if rods.metal == "rebar" or (rods.metal == "rebar_clean" and plan.soil not in _DRY_SOILS):
        yield _finding(
            "Rebar for rods",
            Status.MARGINAL,
            f"{metal.note} One school takes it scrubbed in dry sandy ground, at a quarter of the price.",
            "Galvanised rods.",
            f"up to {metal.film_high:g} times the ohms",
            action=setting("rods", metal="galvanised", clamp_metal="same", lead="cable"),
        )
    joint = rods.metal if rods.clamp_metal == "same" else rods.clamp_metal
    lead = _LEAD_METAL.get(rods.lead, rods.lead)
    for part, of in (("clamp", joint), ("lead", lead)):
        if part == "lead" and rods.lead == "cable":
            continue  # its steel core comes with the clamp's own metal around it
        if of != rods.metal and of not in metal.partners.split():
            yield _finding(
                f"{part.capitalize()} of another metal",
                Status.MARGINAL,
                f"{of.capitalize()} on {metal.label.lower()}: moisture makes a cell of the two and eats the joint.",
                "One metal throughout: rods, clamps and lead.",
                action=setting("rods", clamp_metal="same") if part == "clamp" else setting("rods", lead="cable"),
            )
    if rods.lead == "household":
        kv = unit.open_kv if unit else 9.0
        yield _finding(
            "Household cable as earth lead",
            Status.FAILS,
            f"Its jacket is made for {_HOUSEHOLD_V} V; the pulse pushes with {kv:g} kV, breaks through it in the "
            "ground and puts the fence's return on whatever lies beside it.",
            "Fence cable for 10 to 20 kV, or plain fence wire.",
            f"{_HOUSEHOLD_V} V",
            f"{kv:g} kV",
            setting("rods", lead="cable"),
        )
    if rods.clamp == "none":
        yield _finding(
            "Wire twisted round the rods",
            Status.MARGINAL,
            "A twist loosens and rusts: half an ohm to several at each, where a clamp has a twentieth.",
            "A bolt clamp on each, the wire opposite the bolt, label and paint off.",
            action=setting("rods", clamp="bolt"),
        )


def _trodden(plan: Plan) -> Iterator[Finding]:
    """Rods where wheels, hooves and feet go; what their kinds keep off by ten metres is told by the siting."""
    for i, why in enumerate(refusals(plan, placed(plan)), 1):
        if why and not why.is_clearance:
            tops = {"under": "Their tops are just under the ground", "proud": "Their tops stand proud"}
            yield _finding(
                "Rods where they will be hit",
                Status.MARGINAL,
                f"Rod {i} stands {why.words}. {tops.get(plan.rods.tops, 'The last one stands proud')}; "
                "torn leads are the commonest end of an earth.",
                "Move them beside the fence or into a corner that nothing drives through.",
                action=Action(ActionKind.ROD_SITE, ()),
            )
            return


def _slant_deg(length_m: float, deep_m: float) -> float:
    """The lean from the vertical at which a rod stays over the rock, degrees; 75 at the most."""
    return min(75.0, math.ceil(math.degrees(math.acos(min(1.0, deep_m / length_m))) + 1))


def _over_rock(plan: Plan) -> Iterator[Finding]:
    """Rods that are longer than the ground over rock is deep."""
    below, rods = plan.subsoil, plan.rods
    deep_m = rods.length_m * math.cos(math.radians(rods.slant_deg))
    if below is None or below.soil != "gravel" or deep_m <= below.depth_m or rods.bore_cm:
        return
    words = format_length(below.depth_m, plan.units)
    yield _finding(
        "Rods that do not go in",
        Status.FAILS,
        f"Rods of {format_length(rods.length_m, plan.units)} reach {format_length(deep_m, plan.units)} down, and rock "
        f"begins at {words}.",
        f"Slanted rods, or rods no longer than {words}.",
        format_length(deep_m, plan.units),
        words,
        setting("rods", slant_deg=f"{_slant_deg(rods.length_m, below.depth_m):g}"),
    )


def _stray(plan: Plan) -> Iterator[Finding]:
    """Water that animals would refuse: the rods lift the ground where they drink."""
    for row in strays(plan):
        if row.status is Status.HOLDS:
            continue
        far = f"Rods {format_length(row.far_m, plan.units)} away" if row.far_m else "Rods on the far side of the fence"
        yield Finding(
            Stage.EARTH,
            f"Stray volts at {name_of(row.mark)}",
            row.status,
            f"The ground there rises {row.worst_v:.0f} V at each pulse; cattle refuse water from {REFUSED_V:g} V. "
            + (f"{row.by_pipe} is a way to the rods." if row.by_pipe else "A metal pipe to it would make it felt."),
            figure=f"{row.worst_v:.0f} V",
            limit=f"{REFUSED_V:g} V",
            where=name_of(row.mark),
            mend=f"{far}, or plastic pipe to it.",
            action=Action(ActionKind.ROD_SITE, ()),
        )


def unearthed(plan: Plan) -> Iterator[Finding]:
    """Earth strands that hang together with no rod: they bring nothing back."""
    found = wiring(plan)
    earthed = {run for run, view in views_by_run(plan).items() if has_earth_strands(view)}
    if found is None or not earthed:
        return
    pieces = [piece for piece in found.pieces if piece.run in earthed]
    joined: UnionFind[str] = UnionFind()
    for piece in pieces:
        joined.union(piece.a, piece.b)
    rods = (found.fixed.get(f.id) for f in plan.fixtures if f.kind == "rods")
    home = {joined[node] for node in (found.start, *rods) if node is not None}
    alone = dict.fromkeys(piece.run for piece in pieces if joined[piece.a] not in home)
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
