"""The strands that stand on a line, what each is made of, and which live ones are joined to each other."""

from collections.abc import Iterator, Sequence

from adze.core.animals.strand_rules import Role, Strand, bottom_group, design, stood_off
from adze.core.basics.cache import cached
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run, Switch
from adze.core.plan.stages import Incomplete, Stage
from adze.core.plan.stock import animals_of
from adze.core.tables.construction import Conductor, Netting, conductors, nettings


@cached("strands", 128, identity_args=1)
def fence_of(plan: Plan) -> tuple[Strand, ...]:
    """The strands that stand: the plan's own, or those designed for its animals; one at 90 cm without any."""
    strands = strands_of(plan)
    if plan.netting:
        return (*netting_strands(nettings()[plan.netting]), *strands)
    if not strands:
        strands = _by_rule(plan)
    if plan.bottom_off:
        off = _on_switch(plan, strands)
        strands = tuple(Strand(s.cm, Role.DEAD) if i in off else s for i, s in enumerate(strands))
    return strands


def _by_rule(plan: Plan) -> tuple[Strand, ...]:
    animals = animals_of(plan)
    if not animals:
        return (Strand(90, Role.LIVE),)
    return stood_off(animals, plan.duty) if plan.behind else design(animals, plan.duty, plan.scheme).strands


def netting_strands(net: Netting) -> tuple[Strand, ...]:
    """The horizontals of a netting as strands."""
    return tuple(Strand(float(h.rstrip("D")), Role.DEAD if h.endswith("D") else Role.LIVE) for h in net.heights.split())


def conductors_of(plan: Plan) -> tuple[Conductor, ...]:
    """What each strand of the fence is made of, from the lowest up."""
    if plan.netting:
        net = nettings()[plan.netting]
        above = (conductors()[s.conductor or plan.conductor] for s in plan.strands)
        return (*(conductors()[net.conductor] for _ in net.heights.split()), *above)
    own = [s.conductor for s in plan.strands] or [None] * len(fence_of(plan))
    return tuple(conductors()[key or plan.conductor] for key in own)


def has_earth_strands(plan: Plan) -> bool:
    """Whether any strand of a fence carries the way back."""
    return any(s.role is Role.EARTH for s in fence_of(plan))


def bottom_group_of(plan: Plan) -> tuple[int, ...]:
    """Indices of the strands on the bottom switch; netting is one piece and has none."""
    if plan.netting:
        return ()
    return _on_switch(plan, fence_of(replaced(plan, bottom_off=False)))


def bottom_switch_of(plan: Plan) -> tuple[int, ...]:
    """Indices of the strands on a bottom switch that somebody chose: strands named for it, or switched off."""
    return bottom_group_of(plan) if plan.bottom_off or any(own.switched for own in plan.strands) else ()


def switched_on(plan: Plan) -> Plan:
    """The plan with all bottom strands on: they are hung and insulated alike whether they are on or off."""
    if not (plan.bottom_off or any(fence.bottom_off for fence in plan.fences)):
        return plan
    fences = [fence.model_copy(update={"bottom_off": False}) for fence in plan.fences]
    return replaced(plan, bottom_off=False, fences=fences)


def _on_switch(plan: Plan, strands: tuple[Strand, ...]) -> tuple[int, ...]:
    """The strands on the bottom switch: those said to be, or by the rule for what is not said of any."""
    if all(own.switched is None for own in plan.strands):
        return bottom_group(strands)
    return tuple(i for i, own in enumerate(plan.strands) if own.switched and own.role is Role.LIVE)


def strands_of(plan: Plan) -> tuple[Strand, ...]:
    """The plan's own strands as the rules want them; empty while they are left to the rules."""
    return tuple(Strand(s.cm, s.role) for s in plan.strands)


def live_numbers(view: Plan) -> tuple[int, ...]:
    """The numbers of a fence's live strands; none of netting, that is one piece."""
    if view.netting:
        return ()
    return tuple(n for n, strand in enumerate(fence_of(view), 1) if strand.role is Role.LIVE)


def parted_by_switches(plan: Plan, run: Run) -> tuple[tuple[int, ...], ...]:
    """The live strands of a line by the switches that name them, those of none first.

    A switch parts strands along every line that is built in the same way. Raises Incomplete where one names every
    live strand.
    """
    numbers = live_numbers(views_by_run(plan)[run.id])
    named = [_named_by(switch, numbers) for switch in _switches_like(plan, run)]
    return _parted(numbers, named)


def joined_groups(plan: Plan, run: Run) -> tuple[tuple[int, ...], ...]:
    """The live strands of a line as they are joined at its ends: the bottom ones apart too, where a switch has them."""
    numbers = live_numbers(views_by_run(switched_on(plan))[run.id])
    named = [frozenset(switch.strands) & frozenset(numbers) for switch in _switches_like(plan, run)]
    bottom = frozenset(i + 1 for i in bottom_switch_of(views_by_run(plan)[run.id]))
    return _parted(numbers, [*named, bottom] if bottom else named)


def _parted(numbers: tuple[int, ...], named: Sequence[frozenset[int]]) -> tuple[tuple[int, ...], ...]:
    rows: dict[tuple[bool, ...], list[int]] = {}
    for n in numbers:
        rows.setdefault(tuple(n in one for one in named), []).append(n)
    ranked = sorted(rows.items(), key=lambda row: (sum(row[0]), row[1]))
    return tuple(tuple(own) for _, own in ranked)


def _switches_like(plan: Plan, run: Run) -> Iterator[Switch]:
    """The switches that name strands, on lines built as this one."""
    like = {other.id for other in plan.runs if other.fence == run.fence}
    return (f for f in plan.fixtures if isinstance(f, Switch) and f.strands and f.run in like)


def _named_by(switch: Switch, live: tuple[int, ...]) -> frozenset[int]:
    named = frozenset(switch.strands) & frozenset(live)
    if len(named) == len(live):
        raise Incomplete(
            Stage.GROUND,
            f"{switch.name} names every live strand of its line, so that nothing carries on beside it. Set it to all "
            "strands, or leave one out.",
        )
    return named
