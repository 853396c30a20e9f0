"""The cheapest design that holds everywhere all year, of all that can be changed, tried together.

Energizer, rods (count and length) and conductor, earth strands, a live strand more, another feed and short
links. What changes the network is solved anew; energizers and rods are exchanged on what is solved
(core.pulse.source_update). Feeds, links and strands are tried on the builds that came nearest to just holding.
The driest and the wettest week decide; the usual one lies between and is judged of what is shown.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import chain
from typing import Any, Literal

from adze.core.advice.designs import Build, Choice, RodWay, StrandChange, built_so, chosen, rods_so, with_far_rods
from adze.core.advice.reroute import feed_places, links
from adze.core.basics.cache import cached
from adze.core.basics.status import Status
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.build.rod_sites import proposed
from adze.core.build.rods import rods_ohm
from adze.core.forecast.compare_units import Trials
from adze.core.forecast.earth_test import returns_by_strands
from adze.core.ground.places import Place
from adze.core.plan.catalogue import catalogue, unpriced_units
from adze.core.plan.changes import changed, replaced
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of
from adze.core.tables.construction import conductors
from adze.core.tables.energizers import EnergizerModel
from adze.core.verdict.judge import judge

_RODS = (1, 2, 3, 4, 6, 8, 10, 12)
_LONG_ROD_M = 2.4
_AT_SITE = 6  # rods for which another place is looked at
_BETTER = 0.9  # another place is worth trying where its ohms are so much less
_SEASONS = (Season.DRY, Season.WET)
_FEW = 3
_MOST_RODS = 20
_SPARE = 1.15  # a design with so much to spare is worth naming beside the cheapest that holds
_CARRIED_ON = 3  # builds on which feeds, links and more strands are tried


_WITH_RETURN = (StrandChange.ALTERNATE, StrandChange.EARTH_BETWEEN, StrandChange.MESH_BEFORE)


@dataclass(frozen=True)
class Wishes:
    """What the farmer has fixed: the search keeps to it.

    Never under three rods is the usual floor: earth strands carry a touch over fewer, but the water
    troughs do not look at the touch.
    """

    supply: Literal["any", "mains", "battery", "solar"] = "any"
    keep_energizer: bool = False
    keep_rods: bool = False
    keep_conductor: bool = False
    keep_strands: bool = False
    keep_lines: bool = False
    least_rods: int = 3
    most_money: float | None = None

    def __post_init__(self) -> None:
        """Refuse figures that no search can keep to."""
        if not 1 <= self.least_rods <= _MOST_RODS:
            raise ValueError(f"rods at least: {self.least_rods}; between 1 and {_MOST_RODS} is taken")
        if self.most_money is not None and not 0 <= self.most_money < math.inf:
            raise ValueError(f"costs at most: {self.most_money}; give 0 or more, or leave it empty")


@dataclass(frozen=True)
class Design:
    """A choice with what it comes to: cost, margin over what is wanted, least kV, and where it is weakest.

    `by_test` is True where the earth test falls shortest.
    """

    choice: Choice
    cost: float
    margin: float
    least_kv: float
    season: Season
    where: Place | None
    animal: str | None
    by_test: bool

    @property
    def holds(self) -> bool:
        """Whether it holds everywhere in the seasons that decide."""
        return self.margin >= 1


@dataclass(frozen=True)
class SearchProgress:
    """How far a search is, and the best so far: no other is both cheaper and stronger.

    Of those done some were not computed: a cheaper design is stronger than they can be.
    """

    done: int
    total: int
    computed: int
    front: tuple[Design, ...]

    @property
    def best(self) -> tuple[Design, ...]:
        """The few to look at: the cheapest that holds, what more money buys, what less leaves out."""
        holding = [d for d in self.front if d.holds]
        falling = [d for d in self.front if not d.holds][::-1]
        if not holding:
            return _unlike(falling)[:_FEW]
        spare = [d for d in holding[1:] if d.margin >= _SPARE * holding[0].margin]
        return (holding[0], *_unlike(spare)[:_FEW], *_unlike(falling)[:_FEW])


def _unlike(rows: list[Design]) -> tuple[Design, ...]:
    """The first of those that differ in more than their rods."""
    first: dict[object, Design] = {}
    for found in rows:
        choice = found.choice
        first.setdefault((choice.build, choice.energizer), found)
    return tuple(first.values())


def _builds(plan: Plan, wishes: Wishes) -> tuple[Build, ...]:
    """Every way to build the strands that is worth solving, the plan's own first."""
    ways = [StrandChange.NONE]
    if not wishes.keep_strands and any(animals_of(b.view) for b in standing_fences(plan)):
        ways += [StrandChange.ALL_LIVE, *_WITH_RETURN]
    metals: list[str | None] = [None]
    if not wishes.keep_conductor:
        kind = conductors()[plan.conductor].kind
        metals += [c.key for c in conductors().values() if c.kind == kind and c.key != plan.conductor]
    rows: list[Build] = []
    for way in ways:
        for metal in metals:
            rows.append(Build(way, metal))
            if way in _WITH_RETURN and not wishes.keep_rods:
                rows.append(Build(way, metal, far_rods=True))
    return tuple(rows)


def _changes(plan: Plan, wishes: Wishes) -> tuple[dict[str, Any], ...]:
    """What else can be done to a build: a live strand more, other feeds, links."""
    rows: list[dict[str, Any]] = [] if wishes.keep_strands else [{"more_live": True}]
    if not wishes.keep_lines:
        rows += [{"feed_at": spot} for spot in feed_places(plan)] + [{"link": link} for link in links(plan)]
    return tuple(rows)


def _units(plan: Plan, wishes: Wishes) -> tuple[EnergizerModel, ...]:
    units = catalogue(plan)
    if wishes.keep_energizer and plan.energizer:
        return (units[plan.energizer],)
    # What has no price would always be the cheapest: of the plan's own only the chosen one is tried without.
    unpriced = unpriced_units(plan) - {plan.energizer}
    usable = [u for u in units.values() if u.key not in unpriced]
    return tuple(u for u in usable if wishes.supply == "any" or wishes.supply in u.supply)


def _rods(plan: Plan, wishes: Wishes) -> tuple[RodWay, ...]:
    """Counts, lengths and places of rods to try; another place where the ground there is better."""
    own = plan.rods
    if wishes.keep_rods:
        return (RodWay(own.count, own.length_m, None),)
    counts = sorted(n for n in {*_RODS, own.count, wishes.least_rods} if n >= wishes.least_rods)
    lengths = sorted({own.length_m, _LONG_ROD_M})
    found = [RodWay(count, length, None) for length in lengths for count in counts]
    dry, most = Weather(Season.DRY), max(own.count, _AT_SITE)
    wide = replaced(plan, rods=replaced(own, count=most))
    best = next(iter(proposed(wide)), None)
    if best and own.count:
        row = (*best.at, best.bearing_deg)
        there = replaced(plan, rods=rods_so(plan, RodWay(own.count, own.length_m, row)))
        if rods_ohm(there, dry) < _BETTER * rods_ohm(plan, dry):
            # The place was looked at for so many; a longer row might run into what they keep off.
            found += [replace(way, at=row) for way in found if way.count <= most]
    return tuple(found)


def search(plan: Plan, wishes: Wishes) -> Iterator[SearchProgress]:
    """Try every design, telling after each one how far it is; stop asking and the best so far stays.

    Raises Incomplete where nothing can be solved, ValueError where the wishes leave nothing to try.
    """
    units, rods = _units(plan, wishes), _rods(plan, wishes)
    builds, changes = _builds(plan, wishes), _changes(plan, wishes)
    if not units:
        raise ValueError(f"energizer: none runs on {wishes.supply}; choose another supply, or add your own")
    each = len(units) * len(rods)
    now = SearchProgress(0, (len(builds) + _CARRIED_ON * len(changes)) * each, 0, ())
    extra = _extra(plan, units, rods)
    known: set[object] = set()

    def further() -> Iterator[Build]:
        yield from (replace(build, **change) for build in _nearest(now.front) for change in changes)

    # What lies further is asked for when all builds are done: then it is known which came nearest.
    for build in chain(builds, further()):
        own = built_so(plan, build)
        # Several ways may come to the same strands: they are solved once.
        strands = tuple((*fence_of(b.view), b.view.apron) for b in standing_fences(own))
        same = strands, replace(build, strands=StrandChange.NONE, more_live=False)
        if same in known:
            now = replace(now, done=now.done + each)
            yield now
            continue
        known.add(same)
        for step in _tried(own, build, units, extra, wishes, now):
            now = step
            yield now
    yield replace(now, done=now.total)


@dataclass(frozen=True)
class _Extra:
    """What each energizer and each set of rods costs over the plan's own: it adds up, whatever the build."""

    units: dict[str, float]
    rods: dict[tuple[bool, RodWay], float]
    ohms: dict[RodWay, dict[Season, float]]


def _extra(plan: Plan, units: tuple[EnergizerModel, ...], ways: tuple[RodWay, ...]) -> _Extra:
    def priced(own: Plan, **update: object) -> float:
        return bill(replaced(own, **update)).total

    # Rods along the line are of the same length: a longer rod costs more there too.
    sites = {False: plan, True: with_far_rods(plan) if plan.runs else plan}
    base = {far: bill(own).total for far, own in sites.items()}
    rods = {way: rods_so(plan, way) for way in ways}
    return _Extra(
        {u.key: priced(plan, energizer=u.key) - base[False] for u in units},
        {(far, way): priced(own, rods=made) - base[far] for far, own in sites.items() for way, made in rods.items()},
        {
            way: {season: rods_ohm(replaced(plan, rods=made), Weather(season)) for season in _SEASONS}
            for way, made in rods.items()
        },
    )


def _nearest(front: tuple[Design, ...]) -> tuple[Build, ...]:
    """The builds of the designs that came nearest to just holding."""
    near = sorted(front, key=lambda d: abs(math.log(max(d.margin, 1e-3))))
    return tuple(dict.fromkeys(d.choice.build for d in near))[:_CARRIED_ON]


def _tried(
    own: Plan,
    build: Build,
    units: tuple[EnergizerModel, ...],
    extra: "_Extra",
    wishes: Wishes,
    now: SearchProgress,
) -> Iterator[SearchProgress]:
    """All energizers and rods on a build. Over fewer ohms none holds less: the best rods bound all others."""
    trials = {season: Trials(changed(own, {"energizer": units[0].key}), Weather(season)) for season in _SEASONS}
    returns = returns_by_strands(own)
    base = bill(own).total  # of the plan's own energizer and rods
    ways = sorted(extra.ohms, key=lambda way: extra.ohms[way][Season.DRY])
    for unit in units:
        bound = math.inf
        for way in ways:
            cost = round(base + extra.units[unit.key] + extra.rods[build.far_rods, way], 2)
            now = replace(now, done=now.done + 1)
            wanted = wishes.most_money is None or cost <= wishes.most_money
            if wanted and not any(d.cost <= cost and d.margin >= bound for d in now.front):
                choice = Choice(unit.key, way.count, way.length_m, way.at, build)
                found = _design(trials, unit, choice, extra.ohms[way], cost, returns=returns)
                bound = found.margin
                now = replace(now, computed=now.computed + 1, front=_with(now.front, found))
            yield now


def _design(
    trials: dict[Season, Trials],
    unit: EnergizerModel,
    choice: Choice,
    ohms: dict[Season, float],
    cost: float,
    *,
    returns: bool,
) -> Design:
    rows = [(season, trials[season].tried(unit, ohms[season])) for season in _SEASONS]
    season, worst = min(rows, key=lambda row: row[1].margin)
    dry = trials[Season.DRY]
    # Where earth strands carry the return, the test does not decide.
    test = math.inf if returns else dry.tolerable_kv / dry.test_kv(unit, ohms[Season.DRY])
    weakest = worst.weakest if test >= worst.margin else None
    return Design(
        choice,
        cost,
        min(worst.margin, test),
        min(row.least_kv for _, row in rows),
        season if test >= worst.margin else Season.DRY,
        weakest[0] if weakest else None,
        weakest[1].animal.kind if weakest else None,
        by_test=test < worst.margin,
    )


@cached("designs judged", 128, identity_args=1)
def left_open(plan: Plan, choice: Choice) -> tuple[tuple[Stage, Status], ...]:
    """The stages that do not hold on the plan built by a choice, by the judgement that every page tells."""
    verdicts = judge(chosen(plan, choice)).verdicts
    return tuple((stage, v.status) for stage, v in verdicts.items() if v.status is not Status.HOLDS)


def _with(front: tuple[Design, ...], new: Design) -> tuple[Design, ...]:
    """The front with one design more: by cost, each stronger than all that are cheaper."""
    if any(d.cost <= new.cost and d.margin >= new.margin for d in front):
        return front
    kept = [d for d in front if d.cost < new.cost or d.margin > new.margin]
    return tuple(sorted((*kept, new), key=lambda d: d.cost))
