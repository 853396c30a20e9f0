"""The cheapest design that holds everywhere all year: energizer, rods, conductor and earth strands tried together.

What changes strands is solved anew; energizers and rods are exchanged on what is solved (core.swap).
The driest and the wettest week decide; the usual one lies between and is judged of what is shown.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from adze.core.catalogue import catalogue
from adze.core.circuit import fence_of
from adze.core.compare_units import Trials
from adze.core.fences import every_fence, rebuilt, standing_fences
from adze.core.ground import Place, length_m
from adze.core.mends import with_earth_between
from adze.core.parts import bill
from adze.core.plan import Plan, changed
from adze.core.season import Season, Weather
from adze.core.stock import animals_of
from adze.core.strand_rules import MOST_STRANDS, Scheme
from adze.core.tables import EnergizerModel, conductors

_RODS = (1, 2, 3, 4, 5, 6, 8, 10, 12)
_SEASONS = (Season.DRY, Season.WET)
_FEW = 3
_MOST_RODS = 20
_SPARE = 1.15  # a design with so much to spare is worth naming beside the cheapest that holds

Strands = Literal["as they are", "all live", "in turn", "earth between", "mesh before"]


@dataclass(frozen=True)
class Wishes:
    """What the farmer has fixed: the search keeps to it.

    Never under three rods is the usual floor: earth strands carry a touch over fewer, but the earth test
    and the water troughs do not look at the touch.
    """

    supply: Literal["any", "mains", "battery", "solar"] = "any"
    keep_energizer: bool = False
    keep_rods: bool = False
    keep_conductor: bool = False
    keep_strands: bool = False
    least_rods: int = 3
    most_money: float | None = None

    def __post_init__(self) -> None:
        """Refuse figures that no search can keep to."""
        if not 1 <= self.least_rods <= _MOST_RODS:
            raise ValueError(f"rods at least: {self.least_rods}; between 1 and {_MOST_RODS} is taken")
        if self.most_money is not None and not 0 <= self.most_money < math.inf:
            raise ValueError(f"costs at most: {self.most_money}; give 0 or more, or leave it empty")


@dataclass(frozen=True)
class Choice:
    """One design: what it takes in place of the plan's own. None leaves it."""

    energizer: str
    rods: int
    strands: Strands = "as they are"
    conductor: str | None = None
    far_rods: bool = False


@dataclass(frozen=True)
class Design:
    """A choice with what it comes to: cost, margin over what is wanted, least kV, and where it is weakest."""

    choice: Choice
    cost: float
    margin: float
    least_kv: float
    season: Season
    where: Place | None
    animal: str | None

    @property
    def holds(self) -> bool:
        """Whether it holds everywhere in the seasons that decide."""
        return self.margin >= 1


@dataclass(frozen=True)
class Progress:
    """How far a search is, and the best so far: no other is both cheaper and stronger."""

    done: int
    total: int
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
        first.setdefault((choice.strands, choice.conductor, choice.energizer), found)
    return tuple(first.values())


def chosen(plan: Plan, choice: Choice) -> Plan:
    """The plan built by a choice. Raises ValidationError."""
    plan = _structured(plan, choice.strands, choice.conductor, far_rods=choice.far_rods)
    rods = plan.rods.model_copy(update={"count": choice.rods})
    return changed(plan, {"energizer": choice.energizer, "rods": rods.model_dump()})


def _structured(plan: Plan, strands: Strands, conductor: str | None, *, far_rods: bool) -> Plan:
    for built in every_fence(plan):
        view = built.view
        if not built.runs or view.netting or view.behind:
            continue
        update: dict[str, object] = {"conductor": conductor} if conductor else {}
        if strands in ("all live", "in turn"):
            update |= {"scheme": Scheme.LIVE if strands == "all live" else Scheme.ALTERNATE, "strands": []}
        elif strands == "earth between":
            rows = with_earth_between(view.model_copy(update={"scheme": Scheme.LIVE, "strands": ()}))
            if len(rows) <= MOST_STRANDS:
                update["strands"] = [{"cm": s.cm, "role": s.role} for s in rows]
        elif strands == "mesh before":
            update["apron"] = True
        plan = rebuilt(plan, built.id, update)
    return _with_far_rods(plan) if far_rods else plan


def _with_far_rods(plan: Plan) -> Plan:
    """Three rods on the earth strand at the far end of the longest line."""
    run = max(plan.runs, key=length_m)
    keys = {f.id for f in plan.fixtures}
    key = next(f"farrods{i}" for i in range(len(keys) + 1) if f"farrods{i}" not in keys)
    row = {"id": key, "kind": "rods", "run": run.id, "at_m": round(length_m(run), 2), "name": "Far rods", "rods": 3}
    return changed(plan, {"fixtures": (*plan.fixtures, row)})


def _structures(plan: Plan, wishes: Wishes) -> tuple[tuple[Strands, str | None, bool], ...]:
    """Every way to build the strands that is worth solving, the plan's own first."""
    ways: list[Strands] = ["as they are"]
    if not wishes.keep_strands and any(animals_of(b.view) for b in standing_fences(plan)):
        ways += ["all live", "in turn", "earth between", "mesh before"]
    metals: list[str | None] = [None]
    if not wishes.keep_conductor:
        kind = conductors()[plan.conductor].kind
        metals += [c.key for c in conductors().values() if c.kind == kind and c.key != plan.conductor]
    rows: list[tuple[Strands, str | None, bool]] = []
    for way in ways:
        for metal in metals:
            rows.append((way, metal, False))
            if way in ("in turn", "earth between", "mesh before") and not wishes.keep_rods:
                rows.append((way, metal, True))
    return tuple(rows)


def _units(plan: Plan, wishes: Wishes) -> tuple[EnergizerModel, ...]:
    units = catalogue(plan)
    if wishes.keep_energizer and plan.energizer:
        return (units[plan.energizer],)
    return tuple(u for u in units.values() if wishes.supply == "any" or wishes.supply in u.supply)


def _rod_counts(plan: Plan, wishes: Wishes) -> tuple[int, ...]:
    if wishes.keep_rods:
        return (plan.rods.count,)
    return tuple(sorted(n for n in {*_RODS, plan.rods.count, wishes.least_rods} if n >= wishes.least_rods))


def search(plan: Plan, wishes: Wishes) -> Iterator[Progress]:
    """Try every design, telling after each one how far it is; stop asking and the best so far stays.

    Raises Incomplete where nothing can be solved, ValueError where the wishes leave nothing to try.
    """
    units, counts, structures = _units(plan, wishes), _rod_counts(plan, wishes), _structures(plan, wishes)
    if not units:
        raise ValueError(f"energizer: none runs on {wishes.supply}; choose another supply, or add your own")
    total = len(structures) * len(units) * len(counts)
    front: tuple[Design, ...] = ()
    known: set[object] = set()
    done = 0
    for strands, conductor, far in structures:
        own = _structured(plan, strands, conductor, far_rods=far)
        # Several ways may come to the same strands: they are solved once.
        same = (*((*fence_of(b.view), b.view.apron) for b in standing_fences(own)), conductor, far)
        if same in known:
            done += len(units) * len(counts)
            yield Progress(done, total, front)
            continue
        known.add(same)
        for found in _tried(own, strands, conductor, far, units, counts):
            done += 1
            if wishes.most_money is None or found.cost <= wishes.most_money:
                front = _with(front, found)
            yield Progress(done, total, front)


def _tried(
    own: Plan,
    strands: Strands,
    conductor: str | None,
    far: bool,
    units: tuple[EnergizerModel, ...],
    counts: tuple[int, ...],
) -> Iterator[Design]:
    trials = [Trials(changed(own, {"energizer": units[0].key}), Weather(season)) for season in _SEASONS]
    base = bill(own).total
    # What an energizer and rods cost adds up: each is counted once, not with every other.
    dearer = {u.key: bill(changed(own, {"energizer": u.key})).total - base for u in units}
    rods = own.rods.model_dump()
    longer = {n: bill(changed(own, {"rods": rods | {"count": n}})).total - base for n in counts}
    for count in counts:
        ohms = [trial.rods_ohm(count) for trial in trials]
        for unit in units:
            rows = [(trial.weather.season, trial.tried(unit, ohm)) for trial, ohm in zip(trials, ohms, strict=True)]
            season, worst = min(rows, key=lambda row: row[1].margin)
            weakest = worst.weakest
            yield Design(
                Choice(strands=strands, conductor=conductor, far_rods=far, energizer=unit.key, rods=count),
                round(base + dearer[unit.key] + longer[count], 2),
                worst.margin,
                min(row.least_kv for _, row in rows),
                season,
                weakest[0] if weakest else None,
                weakest[1].animal.kind if weakest else None,
            )


def _with(front: tuple[Design, ...], new: Design) -> tuple[Design, ...]:
    """The front with one design more: by cost, each stronger than all that are cheaper."""
    if any(d.cost <= new.cost and d.margin >= new.margin for d in front):
        return front
    kept = [d for d in front if d.cost < new.cost or d.margin > new.margin]
    return tuple(sorted((*kept, new), key=lambda d: d.cost))
