"""A whole fence from a brief: lines, construction, strands, power and earth, safety, judged and mended.

Each step is a function from plan to plan. Of several ways to build, each is searched for the cheapest energizer and
rods that hold; what is left is mended as `core.design.mend` does it for any plan.
"""

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, replace

from adze.core.advice.carried import none_of_its_kind
from adze.core.advice.designs import chosen
from adze.core.advice.ground_remedies import do_action
from adze.core.advice.search import Design, SearchProgress, Wishes, search
from adze.core.advice.ways import WayKind, chosen_way, ways
from adze.core.basics.status import Status
from adze.core.basics.units import counted, needed_words
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.design.brief import Brief
from adze.core.design.construction import Materials, made_of, on_its_ground, ways_to_make
from adze.core.design.fixes import FindingAnswer
from adze.core.design.layout import laid_out
from adze.core.design.mend import Mended, mend_everything
from adze.core.forecast.compare_units import units_here
from adze.core.ground.places import place_words
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import SEASON_WORDS
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_word
from adze.core.tasks.job import job_of
from adze.core.verdict.actions import Action, ActionKind
from adze.core.verdict.judge import Judgement

RESERVE = 1.5  # of what is wanted in the weakest season
DEAREST_LESS_WORK = 1.5  # times the cheapest: what least work may cost
_FAR = 0.5  # of what is wanted: a way to build of which the strongest gives less
_FIRST_UNIT = {"mains": "mains_3", "battery": "battery_2", "solar": "solar_06", "own": ""}


@dataclass(frozen=True)
class Proposal:
    """One design: its plan with what it costs, takes, shows and assumes."""

    name: str
    plan: Plan
    judgement: Judgement
    made: str
    cost: float
    hours: float
    margin: float
    assumed: tuple[str, ...]
    left: tuple[FindingAnswer, ...]
    differs: str = ""

    @property
    def fails(self) -> tuple[FindingAnswer, ...]:
        """What still fails."""
        return tuple(row for row in self.left if row.finding.status is Status.FAILS)

    @property
    def holds(self) -> bool:
        """Whether no stage fails."""
        return not self.fails

    @property
    def kv(self) -> tuple[float, float]:
        """Least and most kV on the fence in its worst week."""
        rows = [(v.worst[1], v.start_kv) for v in self.judgement.volts.values()]
        return min(rows, default=(0.0, 0.0))

    @property
    def weakest(self) -> str:
        """The animal, place and season that have least to spare, in words."""
        felt = [(season, place, t) for season, rows in self.judgement.touches.items() for place, t in rows]
        if not felt:
            return ""
        season, place, touch = min(felt, key=lambda row: row[2].body_kv / row[2].wanted_kv)
        there = needed_words(touch.body_kv, touch.wanted_kv)
        where = place_words(self.plan, place)
        return f"The {animal_word(touch.animal.kind)} feels {there}, in the {SEASON_WORDS[season]} at {where}."

    @property
    def parts(self) -> str:
        """Energizer, rods and strands in one line."""
        unit, rods = unit_of(self.plan), self.plan.rods
        count = len(fence_of(self.plan))
        fence = "netting" if self.plan.netting else counted(count, "strand")
        label = unit.label if unit else "no energizer"
        return f"{label}, {counted(rods.count, 'rod')} of {rods.length_m:g} m, {fence}"


@dataclass(frozen=True)
class DesignProgress:
    """How far a design is, in words, and the proposals so far."""

    words: str
    share: float
    proposals: tuple[Proposal, ...]


def design(brief: Brief) -> tuple[Proposal, ...]:
    """The proposals of a brief: the cheapest that holds, with reserve, least work; the nearest where none holds."""
    *_, last = designing(brief)
    return last.proposals


def designing(brief: Brief) -> Iterator[DesignProgress]:
    """The same, told step by step; the first proposal as soon as it is known."""
    base = on_its_ground(laid_out(brief), brief)
    found: list[Proposal] = []
    far: list[tuple[float, Materials, list[_Start]]] = []
    options = ways_to_make(brief)
    for number, made in enumerate(options):
        yield DesignProgress(f"Trying {made.words}", number / len(options), _proposals(found))
        starts = _starts(base, brief, made)
        best = max(margin for _, margin in starts)
        if best < _FAR:
            far.append((best, made, starts))
        else:
            found += _mended(brief, made, starts)
    if not any(proposal.holds for proposal in found) and far:
        # Of what is far from enough only the nearest is mended: that takes long, and helps least.
        yield DesignProgress("Fixing the nearest", 1.0, _proposals(found))
        _, made, starts = max(far, key=lambda row: row[0])
        found += _mended(brief, made, starts)
    yield DesignProgress("Done", 1.0, _proposals(found))


_Start = tuple[Plan, float]  # a plan to mend, and its margin in the search


def _starts(base: Plan, brief: Brief, made: Materials) -> list[_Start]:
    """The cheapest, and the cheapest with reserve, of one way to build."""
    plan = safe(stranded(with_unit(made_of(base, made), brief), made))
    last = _searched(plan, brief)
    picked = [d for d in (_cheapest(last, 1.0), _cheapest(last, RESERVE)) if d is not None]
    return [(chosen(plan, one.choice), one.margin) for one in dict.fromkeys(picked)] or [(plan, 0.0)]


def _mended(brief: Brief, made: Materials, starts: list[_Start]) -> list[Proposal]:
    return [_proposal(brief, made, mend_everything(plan), margin) for plan, margin in starts]


def with_unit(plan: Plan, brief: Brief) -> Plan:
    """The plan with an energizer of the supply that is asked, to be exchanged later."""
    if brief.supply and brief.supply.own:
        return plan
    kind = brief.supply.kind if brief.supply else "mains"
    return changed(plan, {"energizer": _FIRST_UNIT[kind]})


def stranded(plan: Plan, made: Materials) -> Plan:
    """The plan with its strands, all live or earth strands among them, by the touch in the driest week."""
    if not made.netting:
        way = chosen_way(ways(plan))
        if way is not None:
            update: dict[str, object] = {"scheme": "alternate" if way.kind is WayKind.TURN else "live"}
            update["strands"] = [{"cm": s.cm, "role": s.role.value} for s in way.strands]
            plan = changed(plan, update)
    return do_action(plan, Action(ActionKind.TOP, (made.top,))) if made.top else plan


def safe(plan: Plan) -> Plan:
    """The plan with what safety asks whatever the volts: a diverter at the feed of a mains unit, a cut-out, signs."""
    unit = unit_of(plan)
    if unit is not None and "mains" in unit.supply:
        plan = do_action(plan, Action(ActionKind.DIVERTER, ()))
    return do_action(plan, Action(ActionKind.TEST_POINTS, ()))


def _searched(plan: Plan, brief: Brief) -> SearchProgress | None:
    """The search over energizers and rods on the strands as they are."""
    own = bool(brief.supply and brief.supply.own)
    supply = brief.supply.kind if brief.supply and not own else "mains" if not own else "any"
    wishes = Wishes(
        supply=supply,  # type: ignore[arg-type]
        keep_energizer=own,
        keep_conductor=True,
        keep_strands=True,
        keep_lines=True,
        least_rods=1 if supply in ("battery", "solar") else 2,
        most_money=None,
    )
    return next(iter(deque(search(plan, wishes), maxlen=1)), None)


def _cheapest(last: SearchProgress | None, margin: float) -> Design | None:
    """The cheapest with so much over what is wanted; the strongest where none has."""
    if last is None or not last.front:
        return None
    return next((d for d in last.front if d.margin >= margin), last.front[-1])


def _proposal(brief: Brief, made: Materials, mended: Mended, margin: float) -> Proposal:
    plan = mended.plan
    return Proposal(
        "",
        plan,
        mended.judgement,
        made.words,
        bill(plan).total,
        job_of(plan).minutes / 60,
        _margin(mended.judgement) or margin,
        brief.assumed,
        mended.left,
    )


def _margin(judgement: Judgement) -> float:
    """What there is over what is wanted where it is least, of kV and of touch."""
    return min((f.value_kv / f.limit_kv for f in judgement.verdicts[Stage.VOLTS].findings if f.limit_kv), default=0.0)


def _proposals(found: list[Proposal]) -> tuple[Proposal, ...]:
    """Three of all: cheapest, with reserve, least work; two that are the same stand once."""
    if not found:
        return ()
    holding = [p for p in found if p.holds]
    if not holding:
        nearest = min(found, key=lambda p: (len(p.fails), p.cost))
        return (_named(nearest, "nearest", f"No energizer on the list is enough. {_demand(nearest.plan)}".rstrip()),)
    cheapest = min(holding, key=lambda p: (len(p.left), p.cost) if p.left else (0, p.cost))
    cheapest = min((p for p in holding if len(p.left) <= len(cheapest.left)), key=lambda p: p.cost)
    rows = [_named(cheapest, "cheapest", "The cheapest fence that holds.")]
    strong = [p for p in holding if p.margin >= RESERVE] or [max(holding, key=lambda p: p.margin)]
    reserve = min(strong, key=lambda p: p.cost)
    if reserve.plan != cheapest.plan and reserve.margin > cheapest.margin:
        more = reserve.cost - cheapest.cost
        words = (
            f"{more:,.0f} more: {reserve.margin:.1f} times what is wanted at its weakest, not {cheapest.margin:.1f}."
        )
        rows.append(_named(reserve, "reserve", words))
    light = [p for p in holding if p.cost <= DEAREST_LESS_WORK * cheapest.cost]
    least = min(light, key=lambda p: p.hours)
    if all(least.plan != row.plan for row in rows) and least.hours < 0.95 * cheapest.hours:
        words = f"{least.hours:.0f} hours of work, not {cheapest.hours:.0f}: {least.made}."
        rows.append(_named(least, "least-work", words))
    return tuple(rows)


def _demand(plan: Plan) -> str:
    """Which demand breaks a design where no energizer of its supply is enough; else nothing."""
    return none_of_its_kind(plan, units_here(plan, catalogue(plan).values()))


def _named(proposal: Proposal, name: str, differs: str) -> Proposal:
    return replace(proposal, name=name, differs=differs)
