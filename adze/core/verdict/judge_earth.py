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
            "Without earth rods the pulse has no way back to the energizer.",
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
        "Switch the energizer off before you touch rods, lead or clamps. Cover eyes and ears at the driver.",
        "Test the earth in the driest and in the wettest week: the test decides, not the number of rods. In "
        "drought, in sand and over rock add rods before the test fails.",
        "Run the wire between the rods high or in the ground, where no trimmer or foot catches it. Let no rod stand "
        "out of the grass where anything walks.",
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
        "Take the earth stake along with a unit that you carry. Drive it a metre deep in the dampest spot inside "
        "the fence and water it in a dry spell. Use the insulated lead that came with it, never a shorter wire.",
    )


def _on_posts(plan: Plan, driest: EarthTest) -> tuple[str, ...]:
    """What a wire on the fence's posts as earth lead saves, and what it asks."""
    if plan.rods.lead != "strand":
        return ()
    return (
        f"An earth wire on the posts saves {format_length(lead_m(plan), plan.units)} of trench, but it is not dead: "
        f"with the fence shorted in the driest week it carries {kv_words(driest.rods_kv)} kV. Put it on clips of "
        "its own, 15 cm from every live strand, mark it as earth and tell whoever mends the fence.",
    )


_WEEK_MENDS = {
    Season.USUAL: "Add rods, or use longer ones in damper ground.",
    Season.DRY: "Use longer rods, or put rods in damper ground; water them in a drought and test again.",
    Season.WET: "Use a smaller energizer, or add rods.",
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
            f"The rods carry {kv_words(test.rods_kv)} kV while the fence is shorted "
            f"to {kv_words(test.fence_kv)} kV; a probe 10 m away shows {kv_words(test.peg_kv)} kV."
            + (" Earth strands carry the current back, so the test does not decide here." * earth_strands)
            + (" Practice goes by a usual week." * (season is not Season.USUAL and status is not Status.HOLDS)),
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
            mend="Add rods, or use longer ones in damper ground.",
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
            f"{metal.note} Some builders use it scrubbed in dry sandy ground, at a quarter of the price.",
            "Use galvanised rods.",
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
                f"{of.capitalize()} on {metal.label.lower()}: in moist ground the two metals corrode each other at "
                "the joint.",
                "Use one metal throughout: rods, clamps and lead.",
                action=setting("rods", clamp_metal="same") if part == "clamp" else setting("rods", lead="cable"),
            )
    if rods.lead == "household":
        kv = unit.open_kv if unit else 9.0
        yield _finding(
            "Household cable as earth lead",
            Status.FAILS,
            f"Its insulation is made for {_HOUSEHOLD_V} V; the fence has {kv:g} kV. It breaks down in the ground "
            "and leaks into whatever lies beside it.",
            "Use fence cable for 10 to 20 kV, or plain fence wire.",
            f"{_HOUSEHOLD_V} V",
            f"{kv:g} kV",
            setting("rods", lead="cable"),
        )
    if rods.clamp == "none":
        yield _finding(
            "Wire twisted round the rods",
            Status.MARGINAL,
            "A twisted joint loosens and rusts: it adds half an ohm or more at each rod, a clamp a twentieth.",
            "Put a bolt clamp on each rod, with the wire opposite the bolt. Clean label and paint off under it.",
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
                f"Rod {i} stands {why.words}. {tops.get(plan.rods.tops, 'The last one stands proud')}. Torn leads "
                "are the most common reason that an earth fails.",
                "Move them beside the fence, or into a corner where nothing drives.",
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
        "Rods longer than the soil is deep",
        Status.FAILS,
        f"Rods of {format_length(rods.length_m, plan.units)} reach {format_length(deep_m, plan.units)} down, and rock "
        f"begins at {words}.",
        f"Use slanted rods, or rods no longer than {words}.",
        format_length(deep_m, plan.units),
        words,
        setting("rods", slant_deg=f"{_slant_deg(rods.length_m, below.depth_m):g}"),
    )


def _stray(plan: Plan) -> Iterator[Finding]:
    """Water that animals would refuse: the rods lift the ground where they drink."""
    for row in strays(plan):
        if row.status is Status.HOLDS:
            continue
        far = (
            f"Put the rods {format_length(row.far_m, plan.units)} away"
            if row.far_m
            else "Put the rods on the far side of the fence"
        )
        yield Finding(
            Stage.EARTH,
            f"Stray volts at {name_of(row.mark)}",
            row.status,
            f"The ground there rises by {row.worst_v:.0f} V at each pulse; cattle refuse to drink from "
            f"{REFUSED_V:g} V. "
            + (
                f"{row.by_pipe} connects it with the rods."
                if row.by_pipe
                else "With a metal pipe to it they would feel it."
            ),
            figure=f"{row.worst_v:.0f} V",
            limit=f"{REFUSED_V:g} V",
            where=name_of(row.mark),
            mend=f"{far}, or lay plastic pipe to it.",
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
            f"The earth strands of {run_of(plan, run).name} are connected neither to the energizer's rods nor to "
            "rods of their own. An animal that touches live and earth strand feels little more than on soil.",
            place=Place(run, 0.0),
            where=run_of(plan, run).name,
            mend="Place a rod site on that line, or run an earth strand on from the energizer.",
        )
