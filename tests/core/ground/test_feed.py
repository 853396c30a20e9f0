"""The lead-out as a line of its own: length, what it crosses, its parts."""

import pytest
from pydantic import ValidationError

from adze.core.basics.status import Status
from adze.core.build.parts import bill
from adze.core.forecast.volts import solved
from adze.core.ground.feed import feed, lead_out_points
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_ground import judge_ground
from adze.services.operations.registry import read_operation
from tests.conftest import simple_plan

TRACK = {"id": "t", "kind": "track", "name": "Track", "points": [[-20, -10], [50, -10]]}


def plan(
    *marks: dict[str, object], points: tuple[tuple[float, float], ...] = ((30, -30), (30, 0)), **lead: object
) -> Plan:
    return simple_plan(energizer_at=[0, -30], landmarks=list(marks), lead_out={"points": points} | lead)


def found(of: Plan) -> dict[str, Finding]:
    return {f.title: f for f in judge_ground(of).findings}


def test_its_length_is_that_of_its_way() -> None:
    start = feed(plan())
    assert start
    assert start.lead_m == pytest.approx(60)
    assert start.place.at_m == pytest.approx(30)
    assert lead_out_points(plan()) == [(0, -30), (30, -30), (30, 0), (30, 0)]
    straight = feed(plan(points=()))
    assert straight
    assert (straight.lead_m, straight.place.at_m) == (30, 0)


def test_the_pulse_goes_its_whole_way() -> None:
    def lead_m(points: tuple[tuple[float, float], ...]) -> float:
        spans = solved(plan(points=points), Weather(Season.USUAL)).solution.network.spans
        return next(span.length_m for span in spans if span.id == "lead-out")

    assert lead_m(((30, -30), (30, 0))) == pytest.approx(60)
    assert lead_m(()) == pytest.approx(30)


@pytest.mark.parametrize(
    ("lead", "title", "status"),
    [
        ({}, "Lead-out over a way", Status.MARGINAL),
        ({"way": "buried"}, "Lead-out under wheels", Status.MARGINAL),
        ({"way": "buried", "sleeve": True}, None, None),
    ],
)
def test_what_it_crosses_is_found(lead: dict[str, object], title: str | None, status: Status | None) -> None:
    rows = found(plan(TRACK, **lead))
    assert {"Lead-out over a way", "Lead-out under wheels"} & set(rows) == ({title} if title else set())
    assert title is None or rows[title].status is status
    assert found(plan(TRACK | {"kind": "road"}))["Lead-out over a way"].status is Status.FAILS


def test_its_parts_follow_its_way() -> None:
    def parts(**lead: object) -> dict[str, float]:
        return {line.part: line.quantity for line in bill(plan(TRACK, **lead)).lines if line.group == "Power"}

    assert "sleeve" not in parts()
    assert parts()["lead_out"] == 65
    buried = parts(way="buried", sleeve=True, conduit=True)
    assert (buried["duct"], buried["sleeve"], buried["duct_seal"], buried["conduit"]) == (60, 1, 2, 1)


def test_through_the_wall_and_along_old_metal() -> None:
    shed = {"id": "s", "kind": "building", "name": "Shed", "points": [[-3, -33], [3, -33], [3, -27], [-3, -27]]}
    assert "Through the wall" in found(plan(shed))
    assert "Through the wall" not in found(plan(shed, conduit=True))
    mesh = {"id": "m", "kind": "old_fence", "name": "Mesh", "points": [[5, -30], [30, -30]], "made": "woven"}
    assert "Lead-out on old metal" in found(plan(mesh))
    assert "Lead-out on old metal" not in found(plan(mesh | {"made": "rail"}))


def test_a_lead_out_through_itself_is_refused() -> None:
    with pytest.raises(ValidationError, match="crosses itself"):
        plan(points=((0, 0), (30, -30), (30, 0), (0, -20)))
    assert found(plan(points=((30, 10), (30, -30), (10, 5))))["The lead-out crosses itself"].status is Status.FAILS


def test_drawing_takes_clicks_at_its_ends_for_the_ends() -> None:
    drawn = [[0.5, -30], [30, -30], [30, 0.4]]
    made = read_operation({"do": "draw_lead_out", "points": drawn}).apply(plan(points=())).plan
    assert made.lead_out.points == ((30, -30),)
    assert made.feed_at == (30, 0)
    straight = read_operation({"do": "draw_lead_out"}).apply(made).plan
    assert straight.lead_out.points == ()
    with pytest.raises(ValueError, match="place the energizer"):
        read_operation({"do": "draw_lead_out", "points": drawn}).apply(simple_plan(runs=[]))
