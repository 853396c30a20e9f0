"""Ways to build the strands: patterns met in practice judged for these animals, and live against in turn."""

from dataclasses import dataclass
from enum import StrEnum

from adze.core.advice.plan_changes import with_earth_between
from adze.core.animals.practice import practised, strands_in
from adze.core.animals.strand_rules import MOST_STRANDS, Scheme, Strand, design
from adze.core.basics.status import Status, rank
from adze.core.build.construction import fence_of
from adze.core.forecast.touches import Touch
from adze.core.forecast.volts import solved, volts_of
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import between_pulses_s, paid_each
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import Built, built_as, rebuilt
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import PatternRow, conductors, patterns
from adze.core.verdict.judge_fence import CHECK_TITLES
from adze.core.verdict.judge_volts import worst_touches

_CLEARLY_MORE = 1.1


@dataclass(frozen=True)
class JudgedPattern:
    """A pattern on this plan: its strands, and the worst that any animal makes of it."""

    row: PatternRow
    strands: tuple[Strand, ...]
    status: Status
    worst: str


def judged_patterns(plan: Plan) -> tuple[JudgedPattern, ...]:
    """All patterns, those that hold these animals first."""
    animals = animals_of(plan)
    found = []
    for row in patterns().values():
        strands = strands_in(row)
        checks = practised(animals, plan.duty, strands, between_pulses_s(plan)) if animals else ()
        worst = max(checks, key=lambda f: rank(f.status), default=None)
        status = worst.status if worst else Status.UNKNOWN
        says = ""
        if worst and status is not Status.HOLDS:
            says = f"{animal_kinds()[worst.animal].label}: {CHECK_TITLES[worst.check].lower()}"
        found.append(JudgedPattern(row, strands, status, says))
    return tuple(sorted(found, key=lambda p: rank(p.status)))


class WayKind(StrEnum):
    """How live and earth strands are laid."""

    LIVE = "live"
    TURN = "in turn"
    BETWEEN = "between"


@dataclass(frozen=True)
class Way:
    """One way to build it: the strands, and the weakest touch dry and wet where the kV is least."""

    kind: WayKind
    strands: tuple[Strand, ...]
    refusal: str
    felt: dict[Season, Touch]

    @property
    def status(self) -> Status:
        """The worse of both seasons; fails where no single set holds."""
        if self.refusal:
            return Status.FAILS
        return max((t.status for t in self.felt.values()), key=rank, default=Status.UNKNOWN)

    @property
    def dry_share(self) -> float:
        """What reaches the body in the driest week, of what is wanted; 0 where nothing is known."""
        dry = self.felt.get(Season.DRY)
        return dry.body_kv / dry.wanted_kv if dry else 0.0


def ways(plan: Plan, fence: str | None = None) -> tuple[Way, ...]:
    """All live, in turn, and earth strands between live ones, on this ground; empty without animals."""
    built = built_as(plan, fence)
    animals, duty = animals_of(built.view), built.view.duty
    if not animals:
        return ()
    live, turn = (design(animals, duty, scheme) for scheme in (Scheme.LIVE, Scheme.ALTERNATE))
    between = with_earth_between(replaced(built.view, scheme=Scheme.LIVE, strands=()))
    rows = [(WayKind.LIVE, live.strands, live.refusal), (WayKind.TURN, turn.strands, turn.refusal)]
    if len(between) <= MOST_STRANDS and between not in (live.strands, turn.strands):
        rows.append((WayKind.BETWEEN, between, live.refusal))
    return tuple(Way(kind, strands, refusal, _felt(plan, built, strands)) for kind, strands, refusal in rows)


def chosen_way(found: tuple[Way, ...]) -> Way | None:
    """All live where soil alone is enough in the driest week; else what brings clearly more into the body."""
    live = next((w for w in found if w.kind is WayKind.LIVE), None)
    if live is None or live.dry_share >= 1.0:
        return live
    best = max(found, key=lambda w: w.dry_share)
    return best if best.dry_share > _CLEARLY_MORE * live.dry_share else live


def _felt(plan: Plan, built: Built, strands: tuple[Strand, ...]) -> dict[Season, Touch]:
    if len(strands) > MOST_STRANDS:
        return {}
    planned = [{"cm": s.cm, "role": s.role} for s in strands]
    own = rebuilt(plan, built.id, {"strands": planned, "netting": None})
    rows = ((season, _weakest(own, built, season)) for season in (Season.DRY, Season.WET))
    return {season: touch for season, touch in rows if touch}


def _weakest(plan: Plan, built: Built, season: Season) -> Touch | None:
    """The touch that falls shortest of what is wanted, where the kV is least on each kind of soil."""
    try:
        found = solved(plan, Weather(season))
    except Incomplete:
        return None
    rows = [touch for place, touch in worst_touches(found, volts_of(found)) if place.run in built.runs]
    return min(rows, key=lambda t: t.body_kv / t.wanted_kv, default=None)


@dataclass(frozen=True)
class ConductorHere:
    """A conductor on every strand of this fence: kV at the worst place in the driest and the wettest week."""

    key: str
    dry_kv: float
    wet_kv: float
    cost: float


def conductors_here(plan: Plan, fence: str | None = None) -> tuple[ConductorHere, ...]:
    """Every conductor that may be live, tried on all strands of a fence. Raises Incomplete."""
    built = built_as(plan, fence)
    runs = frozenset(built.runs)
    metres = sum(length_m(run) for run in plan.runs if run.id in runs)
    # Netting brings its own metal: over it only what is strung there can be of another.
    if built.view.netting and not built.view.strands:
        return ()
    switched_on = replaced(built.view, bottom_off=False, netting=None)
    strands = fence_of(switched_on)
    update: dict[str, object] = {}
    if built.view.strands:
        # As they are built: the plan's own switch turns its bottom strands off.
        update["strands"] = [{"cm": s.cm, "role": s.role} for s in strands]
    found = []
    for key, one in conductors().items():
        if not one.may_be_live:
            continue
        own = rebuilt(plan, built.id, update | {"conductor": key})
        dry, wet = (volts_of(solved(own, Weather(season))).worst_on(runs)[1] for season in (Season.DRY, Season.WET))
        found.append(ConductorHere(key, dry, wet, paid_each(plan, one.label, one.price_per_m) * metres * len(strands)))
    return tuple(found)
