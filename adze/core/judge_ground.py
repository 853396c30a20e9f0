"""The verdict on the line as it lies."""

from shapely import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from adze.core import ground
from adze.core.findings import Finding, Stage, Verdict
from adze.core.ground import Place
from adze.core.plan import Landmark, Plan
from adze.core.strand_checks import Status
from adze.core.units import format_length


def judge_ground(plan: Plan) -> Verdict:
    """Crossings, lines that hang on nothing, fixtures off their line, cautions beside paths."""
    if not plan.runs:
        return Verdict(Stage.GROUND, "nothing drawn", unknown="Draw the first line from the energizer outward.")
    found: list[Finding] = []
    names = {run.id: run.name for run in plan.runs}
    for crossing in ground.crossings(plan):
        one, other = names[crossing.first], names[crossing.second]
        what = f"{one} crosses itself" if one == other else f"{one} and {other} cross without a join"
        found.append(
            Finding(
                Stage.GROUND,
                "Crossing",
                Status.FAILS,
                f"{what}: the pulse does not pass between them there, but they would touch.",
                where=f"at {crossing.point[0]:.0f} m east, {crossing.point[1]:.0f} m north",
                mend="End one line on the other, or move a point.",
            )
        )
    fed = ground.fed_runs(plan)
    for run in plan.runs:
        if run.id not in fed:
            near, away = ground.nearest_gap(plan, run)
            gap = f"{format_length(away, plan.units)} from {near}" if near else "nowhere near another"
            found.append(
                Finding(
                    Stage.GROUND,
                    "Not connected",
                    Status.FAILS,
                    f"{run.name} hangs on nothing: its ends lie {gap}.",
                    figure=format_length(away, plan.units),
                    limit=format_length(ground.JOIN_M, plan.units),
                    place=Place(run.id, 0.0),
                    where=run.name,
                    mend="Drag one of its ends onto the line that feeds it.",
                )
            )
        for fixture in plan.fixtures:
            if fixture.run == run.id and fixture.at_m > ground.length_m(run) + 0.01:
                found.append(
                    Finding(
                        Stage.GROUND,
                        "Off the end",
                        Status.FAILS,
                        f"{fixture.name} stands at "
                        f"{format_length(fixture.at_m, plan.units)}, past the end of {run.name}.",
                        limit=format_length(ground.length_m(run), plan.units),
                        where=fixture.name,
                        mend="Move it back onto the line.",
                    )
                )
    if plan.energizer_at is None:
        found.append(
            Finding(
                Stage.GROUND,
                "Energizer not placed",
                Status.MARGINAL,
                "A lead-out of 20 m to the first point is assumed.",
                mend="Place the energizer on the ground.",
            )
        )
    length = sum(ground.length_m(run) for run in plan.runs)
    gates = sum(f.kind == "gate" for f in plan.fixtures)
    line = format_length(length, plan.units) + (f", {gates} gate{'s' * (gates != 1)}" if gates else "")
    return Verdict(Stage.GROUND, line, tuple(found), _ground_cautions(plan))


def shape_of(mark: Landmark) -> BaseGeometry:
    """A landmark as a shape."""
    if len(mark.points) == 1:
        return Point(mark.points[0])
    if mark.kind == "building" and len(mark.points) > 2:
        return Polygon(mark.points)
    return LineString(mark.points)


def _ground_cautions(plan: Plan) -> tuple[str, ...]:
    notes = []
    for mark in plan.landmarks:
        if mark.kind == "path" and len(mark.points) > 1:
            away = min(ground.line_of(run).distance(shape_of(mark)) for run in plan.runs)
            if away < 20:
                name = mark.name or "A public path"
                notes.append(
                    f"{name} comes within {format_length(away, plan.units)} of the fence: signs readable from both "
                    "sides at most 100 m apart, a way round or a safe gate. Check your local code."
                )
    return tuple(notes)
