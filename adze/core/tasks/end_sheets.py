"""A sheet for each single end and gate: where it stands, of what kind, how it is built, what is taken along."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from adze.core.basics.units import counted, format_length
from adze.core.build.ends import Pulls, end_kind, end_needs, has_no_ends, owned_ends
from adze.core.build.gateways import cable_needs, gate_needs
from adze.core.build.needs import PartNeed
from adze.core.ground.lines import CORNER_DEGREES, length_m, turns
from adze.core.ground.places import Place, place_words
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, Run
from adze.core.tasks import how
from adze.core.tasks.line_steps import GATE_HOW


@dataclass(frozen=True)
class EndSheet:
    """One sheet: its title, the place in words, how-to, names of its drawings for `run`, parts as label, many, unit."""

    title: str
    where: str
    lines: tuple[str, ...]
    drawings: tuple[str, ...]
    run: str
    parts: tuple[tuple[str, float, str], ...]


def end_sheets(plan: Plan) -> Iterator[EndSheet]:
    """The sheets of a plan, line by line: its ends, its corners together, its gates."""
    views, owned = views_by_run(plan), owned_ends(plan)
    for run in plan.runs:
        view = views[run.id]
        if not has_no_ends(view):
            for end in owned[run.id]:
                yield _end(plan, view, run, end)
            yield from _corners(plan, view, run)
        for fixture in plan.fixtures:
            if isinstance(fixture, Gate) and fixture.run == run.id:
                yield _gate(plan, view, fixture)


def _end(plan: Plan, view: Plan, run: Run, end: str) -> EndSheet:
    kind = (run.start_end if end == "start" else run.far_end) or end_kind(view)
    at_m = 0.0 if end == "start" else length_m(run)
    own = replaced(view, end_kind=kind)
    title = f"{run.name}: {'start' if end == 'start' else 'far end'}, {kind}"
    where = place_words(plan, Place(run.id, at_m))
    return EndSheet(
        title, where, how.end_lines(own), (f"end:{kind}", "tie"), run.id, _taken(end_needs(view, kind, Pulls(1, 0, 0)))
    )


def _corners(plan: Plan, view: Plan, run: Run) -> Iterator[EndSheet]:
    at = [place for place, degrees in turns(run) if degrees > CORNER_DEGREES]
    if at:
        kind = end_kind(view)
        where = "at " + ", ".join(format_length(place, plan.units) for place in at)
        lines = ("Brace it both ways: strands pull along both sides.", *how.end_lines(view))
        parts = _taken(end_needs(view, kind, Pulls(0, len(at), 0)))
        yield EndSheet(
            f"{run.name}: {counted(len(at), 'corner')}, {kind}", where, lines, (f"end:{kind}",), run.id, parts
        )


def _gate(plan: Plan, view: Plan, gate: Gate) -> EndSheet:
    kind = gate.posts or end_kind(view)
    needs = [*gate_needs(view, [gate]), *cable_needs(view, [gate])]
    lines = list(GATE_HOW[gate.style])
    if gate.opens and not has_no_ends(view):
        needs = [*end_needs(view, kind, Pulls(0, 0, 1)), *needs]
        lines += [f"Its two posts, {kind}:", *how.end_lines(replaced(view, end_kind=kind))]
    drawings = (f"gate:{gate.id}", *([f"duct:{gate.id}"] if gate.opens and gate.under_cable else []))
    where = f"{place_words(plan, Place(gate.run, gate.at_m))}, {format_length(gate.width_m, plan.units)} wide"
    return EndSheet(f"Gate: {gate.name}", where, tuple(lines), drawings, gate.run, _taken(needs))


def _taken(needs: Iterable[PartNeed]) -> tuple[tuple[str, float, str], ...]:
    return tuple((need.label, round(need.quantity, 1), need.unit) for need in needs if need.quantity > 0)
