"""Ways to build the strands: patterns met in practice judged for these animals, and live against in turn."""

from dataclasses import dataclass

from adze.core.circuit import Incomplete, fence_of
from adze.core.forecast import solved, volts_of
from adze.core.judge_fence import CHECK_TITLES
from adze.core.judge_volts import worst_touches
from adze.core.plan import Plan, changed
from adze.core.season import Season, Weather
from adze.core.stock import animals_of
from adze.core.strand_checks import Status, check, rank
from adze.core.strand_rules import MOST_STRANDS, Role, Scheme, Strand, design
from adze.core.tables import PatternRow, animal_kinds, conductors, patterns
from adze.core.touches import Touch

_ROLES = {"E": Role.EARTH, "D": Role.DEAD}


@dataclass(frozen=True)
class JudgedPattern:
    """A pattern on this plan: its strands, and the worst that any animal makes of it."""

    row: PatternRow
    strands: tuple[Strand, ...]
    status: Status
    worst: str


def strands_in(row: PatternRow) -> tuple[Strand, ...]:
    """The strands of a pattern."""
    return tuple(Strand(float(h.rstrip("ED")), _ROLES.get(h[-1], Role.LIVE)) for h in row.heights.split())


def judged_patterns(plan: Plan) -> tuple[JudgedPattern, ...]:
    """All patterns, those that hold these animals first."""
    animals = animals_of(plan)
    found = []
    for row in patterns().values():
        strands = strands_in(row)
        checks = check(animals, plan.duty, strands) if animals else ()
        worst = max(checks, key=lambda f: rank(f.status), default=None)
        status = worst.status if worst else Status.UNKNOWN
        says = ""
        if worst and status is not Status.HOLDS:
            says = f"{animal_kinds()[worst.animal].label}: {CHECK_TITLES[worst.check].lower()}"
        found.append(JudgedPattern(row, strands, status, says))
    return tuple(sorted(found, key=lambda p: rank(p.status)))


@dataclass(frozen=True)
class Way:
    """All live, or live and earth in turn: the strands, and the weakest touch dry and wet at the worst place."""

    scheme: Scheme
    strands: tuple[Strand, ...]
    refusal: str
    felt: dict[Season, Touch]

    @property
    def status(self) -> Status:
        """The worse of both seasons; fails where no single set holds."""
        if self.refusal:
            return Status.FAILS
        return max((t.status for t in self.felt.values()), key=rank, default=Status.UNKNOWN)


def ways(plan: Plan) -> tuple[Way, ...]:
    """Both ways people build it, computed on this ground for these animals; empty without animals."""
    animals = animals_of(plan)
    if not animals:
        return ()
    found = []
    for scheme in Scheme:
        pattern = design(animals, plan.duty, scheme)
        own = changed(plan, {"scheme": scheme, "strands": []})
        felt = {}
        if len(pattern.strands) <= MOST_STRANDS:
            for season in (Season.DRY, Season.WET):
                weakest = _weakest(own, season)
                if weakest:
                    felt[season] = weakest
        found.append(Way(scheme, pattern.strands, pattern.refusal, felt))
    return tuple(found)


def chosen_way(found: tuple[Way, ...]) -> Way | None:
    """In turn where soil alone falls short in the driest season, else all live: simplest."""
    live = next((w for w in found if w.scheme is Scheme.LIVE), None)
    turn = next((w for w in found if w.scheme is Scheme.ALTERNATE), None)
    if live is None or turn is None or Season.DRY not in live.felt or Season.DRY not in turn.felt:
        return live
    short = live.felt[Season.DRY].status is not Status.HOLDS
    more = turn.felt[Season.DRY].body_kv > live.felt[Season.DRY].body_kv
    return turn if short and more else live


def _weakest(plan: Plan, season: Season) -> Touch | None:
    """The touch that falls shortest of what is wanted, where the kV is least on each kind of soil."""
    try:
        found = solved(plan, Weather(season))
    except Incomplete:
        return None
    rows = [touch for _, touch in worst_touches(found, volts_of(found))]
    return min(rows, key=lambda t: t.body_kv / t.wanted_kv, default=None)


@dataclass(frozen=True)
class ConductorHere:
    """A conductor on every strand of this fence: kV at the worst place in the driest and the wettest week."""

    key: str
    dry_kv: float
    wet_kv: float
    cost: float


def conductors_here(plan: Plan, length_m: float) -> tuple[ConductorHere, ...]:
    """Every conductor that may be live, tried on all strands. Raises Incomplete."""
    strands = [{"cm": s.cm, "role": s.role} for s in fence_of(plan)]
    found = []
    for key, one in conductors().items():
        if not one.may_be_live:
            continue
        own = changed(plan, {"conductor": key, "strands": strands})
        dry, wet = (volts_of(solved(own, Weather(season))).worst[1] for season in (Season.DRY, Season.WET))
        found.append(ConductorHere(key, dry, wet, one.price_per_m * length_m * len(strands)))
    return tuple(found)
