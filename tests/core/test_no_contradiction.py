"""One figure wherever it stands: random plans, each figure computed in two ways or told in two places."""

from collections.abc import Iterator

import numpy as np
import pytest

from adze.core.advice.designs import chosen
from adze.core.advice.earth_here import EarthHere
from adze.core.advice.earth_options import options, taken
from adze.core.advice.search import Wishes, left_open, search
from adze.core.basics.status import Status
from adze.core.basics.types import Complex
from adze.core.basics.units import Units
from adze.core.build.parts import bill
from adze.core.design.fixes import answer, open_findings
from adze.core.forecast.budget import budget
from adze.core.forecast.circuit import LossKind
from adze.core.forecast.compare_units import units_here
from adze.core.forecast.earth_test import earth_test
from adze.core.forecast.volts import Solved, readings_at, solved
from adze.core.ground.places import Place
from adze.core.plan.catalogue import catalogue
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Switch
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Stage
from adze.core.pulse import laplace
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import farm_of, fence_place
from adze.core.trace.pulse_base import base
from adze.core.trace.suspects import every_single
from adze.core.verdict.judge import Judgement, judge, worsened
from tests.core.random_plans import random_plan

SAME = 0.01


def differs(one: float, other: float, share: float = SAME, least: float = 0.02) -> bool:
    return abs(one - other) > max(share * max(abs(one), abs(other)), least)


def card_and_chart(plan: Plan, judged: Judgement) -> Iterator[str]:
    """The kV of a place on its card and along the line."""
    for season, volts in judged.volts.items():
        for trace in volts.traces:
            some = np.unique(np.linspace(0, len(trace.at_m) - 1, 4).astype(int))
            places = [Place(trace.run, float(trace.at_m[i])) for i in some if trace.fed[i]]
            if not places:
                continue
            card = readings_at(solved(plan, Weather(season)), places)[0]
            for place, kv in zip(places, card.tolist(), strict=True):
                own = float(np.interp(place.at_m, trace.at_m, trace.live_kv))
                if differs(own, kv):
                    yield f"{place} {season}: card {kv:.2f}, chart {own:.2f}"


def is_parted(plan: Plan, place: Place) -> bool:
    """Whether the wire ends there: beside a cut or an open switch a place may be called by either of its ends."""
    ends = [what.at_m for what in plan.what_ifs if what.kind == "cut"]
    ends += [switch.at_m for switch in plan.fixtures if isinstance(switch, Switch) and switch.is_open]
    return any(abs(at_m - place.at_m) < 1 for at_m in ends)


def search_for_faults(plan: Plan, _judged: Judgement) -> Iterator[str]:
    """What a search for faults expects of the healthy fence, and the card."""
    found = solved(plan, Weather(Season.USUAL))
    farm = farm_of(plan, Season.USUAL)
    where = grid(farm)
    every = every_single(base(farm, where))
    for number in range(0, len(where.spots), 3):
        place = fence_place(plan, where, number)
        if place is None or every.base.live[number] < 0 or is_parted(plan, place):
            continue
        card = float(readings_at(found, [place])[0][0])
        kv = every.kv_at(number, np.array([0]))[1]
        if differs(kv, card):
            yield f"{place}: card {card:.2f}, search {kv:.2f}"


def joules(plan: Plan, _judged: Judgement) -> Iterator[str]:
    """What a pulse gives is what spans, shunts and links take up; and so for each kind of shunt."""
    found = solved(plan, Weather(Season.WET))
    spent, taken_up = budget(found), absorbed_j(found)
    if differs(spent.given_j, sum(taken_up.values()), SAME, 1e-4):
        yield f"given {spent.given_j:.4f} J, taken up {sum(taken_up.values()):.4f} J"
    told = {LossKind.RODS: spent.rods_j, LossKind.FAR_RODS: spent.far_rods_j, LossKind.MISHAP: spent.mishaps_j}
    for kind, joules_told in told.items():
        if differs(joules_told, taken_up[kind], SAME, 1e-5 * max(1.0, spent.given_j)):
            yield f"{kind.value}: told {joules_told:.5f} J, taken up {taken_up[kind]:.5f} J"
    wire = taken_up[None] + taken_up[LossKind.LINE] - sum(spent.leaks_j.values())
    if differs(spent.wire_j, wire, SAME, SAME * spent.given_j):
        yield f"wire: told {spent.wire_j:.4f} J, taken up {wire:.4f} J"


def absorbed_j(found: Solved) -> dict[LossKind | None, float]:
    """What every kind of shunt takes in, and spans at their ends and links (None), J."""
    solution = found.solution.whole
    step = float(laplace.times_s(solution.window)[1])

    def joules_of(volts: Complex, amps: Complex) -> float:
        waves = laplace.waveforms(np.stack([volts, amps])[..., :-1], solution.window)
        return float((waves[0] * waves[1]).sum() * step)

    total: dict[LossKind | None, float] = dict.fromkeys((None, *LossKind), 0.0)
    for span in solution.network.spans:
        if span.is_open:
            continue
        terminals, volts, amps = solution.along(span.id, np.array([0.0, span.length_m]))
        for k in range(len(terminals)):
            total[None] += joules_of(volts[0, k], amps[0, k]) - joules_of(volts[1, k], amps[1, k])
    kinds = {row.shunt.id: row.kind for row in found.circuit.counted}
    for shunt in solution.network.shunts:
        total[kinds[shunt.id]] += joules_of(
            solution.between(shunt.node, shunt.start, shunt.end), solution.shunt_spectrum(shunt.id)
        )
    for link in solution.network.links:
        across = solution.spectrum(*link.a) - solution.spectrum(*link.b)
        total[None] += joules_of(across, solution.link_spectrum(link.id))
    return total


def table_of_units(plan: Plan, judged: Judgement) -> Iterator[str]:
    """The row of the plan's own energizer, and Volts and Earth."""
    (own,) = units_here(plan, [catalogue(plan)[plan.energizer or ""]])
    # What nothing feeds is no matter of the unit.
    findings = judged.verdicts[Stage.VOLTS].findings
    volts = [f for f in findings if f.limit_kv and not f.title.startswith("Carries nothing")]
    holds = all(f.status is Status.HOLDS for f in volts)
    if volts and (own.margin >= 1) != holds and abs(own.margin - 1) > SAME:
        yield f"units' table: margin {own.margin:.3f}, Volts {[(f.title, f.status.value) for f in volts]}"


def fixes_told(plan: Plan, judged: Judgement) -> Iterator[str]:
    """A fix called enough, done, with its cost: of the worst finding, and of the worst of Volts."""
    worst = (*open_findings(judged)[:1], *(f for f in open_findings(judged) if f.stage is Stage.VOLTS))
    for finding in dict.fromkeys(worst[:2]):
        best = answer(plan, judged, finding, only_best=True).best
        if best is None:
            continue
        after = judge(best.plan)
        same = [f for f in open_findings(after) if f.title == finding.title and f.where == finding.where]
        if any(f.status is Status.FAILS for f in same) or worsened(judged, after):
            yield f"{finding.title}: {best.title} is not enough"
        if differs(best.money, bill(best.plan).total - bill(plan).total, least=0.6):
            yield f"{best.title}: costs {best.money}, the list {bill(best.plan).total - bill(plan).total}"


def earth_options_told(plan: Plan, _judged: Judgement) -> Iterator[str]:
    """The earth test of an option, and of the plan that it makes."""
    for row in options(plan, EarthHere(plan))[:4]:
        after = plan if row.key == "as-is" else taken(plan, row.key)
        own = earth_test(solved(after, Weather(Season.DRY))).rods_kv
        if differs(row.test_kv, own, 0.02):
            yield f"{row.title}: told {row.test_kv:.2f} kV, the plan has {own:.2f}"


def designs_found(plan: Plan, _judged: Judgement) -> Iterator[str]:
    """A design of the search, and the plan that it makes."""
    wishes = Wishes(keep_lines=True, keep_conductor=True, keep_strands=True)
    *_, last = search(plan, wishes)
    for design in last.best[:2]:
        after = chosen(plan, design.choice)
        if differs(design.cost, bill(after).total, least=0.6):
            yield f"design {design.choice}: costs {design.cost}, the list {bill(after).total}"
        told, judged = dict(left_open(plan, design.choice)), judge(after).verdicts
        failing = {stage for stage, verdict in judged.items() if verdict.status is Status.FAILS}
        if design.holds and not failing <= {stage for stage, status in told.items() if status is Status.FAILS}:
            yield f"design {design.choice}: {failing} fail, told {told}"


def whole(_plan: Plan, judged: Judgement) -> Iterator[str]:
    """The sentence of the whole, and the stages."""
    failing = [s for s, v in judged.verdicts.items() if v.status is Status.FAILS]
    if bool(failing) != bool(judged.to_fix) and not judged.blocked:
        yield f"{judged.sentence}, stages that fail: {failing}"
    if failing and judged.status is not Status.FAILS:
        yield "the whole holds, a stage fails"


def imperial(plan: Plan, judged: Judgement) -> Iterator[str]:
    """The same plan in feet and inches."""
    other = judge(replaced(plan, units=Units.IMPERIAL))
    for stage, verdict in other.verdicts.items():
        if verdict.status is not judged.verdicts[stage].status:
            yield f"{stage.value}: {verdict.status.value} in feet, {judged.verdicts[stage].status.value} in metres"


def list_of_parts(plan: Plan, _judged: Judgement) -> Iterator[str]:
    """The list's total, and its lines."""
    whole_list = bill(plan)
    if differs(whole_list.total, sum(line.cost for line in whole_list.lines), least=0.6):
        yield f"total {whole_list.total}, lines {sum(line.cost for line in whole_list.lines)}"


KINDS = (
    card_and_chart,
    search_for_faults,
    joules,
    table_of_units,
    fixes_told,
    earth_options_told,
    designs_found,
    whole,
    imperial,
    list_of_parts,
)


def contradictions(seed: int) -> list[str]:
    """Every contradiction of a plan; none where it cannot be judged."""
    plan = random_plan(seed)
    judged = judge(plan)
    assert not judged.blocked
    return [f"{kind.__name__}: {row}" for kind in KINDS for row in kind(plan, judged)]


@pytest.mark.parametrize("seed", range(20))
def test_a_plan_says_one_thing_everywhere(seed: int) -> None:
    assert contradictions(seed) == []


@pytest.mark.slow
@pytest.mark.parametrize("seed", range(20, 220))
def test_two_hundred_plans_say_one_thing_everywhere(seed: int) -> None:
    assert contradictions(seed) == []
