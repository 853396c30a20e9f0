"""Plan files, GeoJSON and CSV: there and back, and foreign files."""

import csv
import io
import json
import math
from typing import Any

import pytest

from adze.core.ground import length_m
from adze.core.parts import bill
from adze.core.plan import Origin, Plan
from adze.formats.errors import FormatError
from adze.formats.geojson import read_lines, to_degrees, to_metres, write_geojson
from adze.formats.parts_csv import parts_csv
from adze.formats.plan_file import PlanFault, dump_plan, read_plan
from adze.formats.sketch import sketch
from adze.services.imports import take_geojson
from tests.conftest import simple_plan


def collection(geometry: dict[str, Any], name: str | None = "Hedge", **top: Any) -> str:
    feature = {"type": "Feature", "properties": {"name": name} if name else None, "geometry": geometry}
    return json.dumps({"type": "FeatureCollection", "features": [feature], **top})


LINE = {"type": "LineString", "coordinates": [[-30.0, 52.0], [-29.99, 52.0], [-29.99, 52.004]]}


def test_plan_there_and_back(hallow: Plan) -> None:
    assert read_plan(json.dumps(dump_plan(hallow))) == hallow


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "is not JSON"),
        ("[]", '"format" must be'),
        ('{"format": "adze-plan", "version": 7, "name": "x"}', "made by a later Adze"),
        ('{"format": "adze-plan", "version": 1}', "name: is missing"),
        ('{"format": "adze-plan", "version": 1, "name": "x", "rods": {"count": NaN}}', "rods.count"),
    ],
)
def test_a_plan_file_that_cannot_be_read_says_why(text: str, says: str) -> None:
    with pytest.raises(FormatError) as caught:
        read_plan(text)
    assert says in str(caught.value)


def test_every_fault_comes_with_its_path() -> None:
    with pytest.raises(PlanFault) as caught:
        read_plan('{"format": "adze-plan", "name": "x", "rods": {"count": 99}, "post_spacing_m": "far"}')
    assert [path for path, _ in caught.value.faults] == ["post_spacing_m", "rods.count"]


def test_lines_come_in_metres_true_to_a_thousandth() -> None:
    origin, (line,) = read_lines(collection(LINE), Origin(lat=52.0, lon=-30.0))
    east = math.radians(0.01) * 6391000 * math.cos(math.radians(52.0))
    assert (origin.lat, line.name) == (52.0, "Hedge")
    assert line.points[1][0] == pytest.approx(east, rel=2e-3)
    assert line.points[2][1] == pytest.approx(445.0, rel=2e-3)


def test_out_and_in_again_is_the_same_ground(hallow: Plan) -> None:
    _, lines = read_lines(write_geojson(hallow), hallow.origin)
    for line, run in zip(lines, hallow.runs, strict=True):
        assert line.name == run.name
        assert sum(line.points, ()) == pytest.approx(sum(run.points, ()), abs=2e-3)


def test_degrees_there_and_back() -> None:
    origin = Origin(lat=52.1, lon=-29.9)
    assert to_metres(origin, *to_degrees(origin, (345.6, -78.9))) == pytest.approx((345.6, -78.9), abs=2e-3)


def test_a_polygon_comes_as_a_ring_and_names_are_kept() -> None:
    ring = {"type": "Polygon", "coordinates": [[[-30, 52], [-29.998, 52], [-29.998, 52.001], [-30, 52]]]}
    plan, count = take_geojson(simple_plan(runs=[]), collection(ring, None))
    assert count == 1
    assert plan.runs[0].name == "Line 1"
    assert length_m(plan.runs[0]) > 300
    more, _ = take_geojson(plan, collection(LINE))
    assert [r.id for r in more.runs] == ["line1", "line2"]
    assert more.origin == plan.origin


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("nonsense", "is not JSON"),
        ("[1]", 'has no "type"'),
        (collection({"type": "Point", "coordinates": [-30, 52]}), "Hedge is a Point"),
        (collection({"type": "LineString", "coordinates": [[-30, 52]]}), "fewer than 2 points"),
        (collection({"type": "LineString", "coordinates": [[-30, 52], [-30, 52]]}), "has no length"),
        (collection({"type": "LineString", "coordinates": [[500000, 5760000], [500010, 5760000]]}), "not degrees"),
        (collection({"type": "LineString", "coordinates": [["a", 52], [-30, 52]]}), "point 1 of Hedge"),
        (collection(LINE, crs={"type": "name", "properties": {"name": "EPSG:27700"}}), "projection 'EPSG:27700'"),
        (collection(LINE, crs={"type": "name", "properties": []}), "projection None"),
        (collection({"type": "LineString", "coordinates": [[True, 52], [-30, 52]]}), "point 1 of Hedge"),
        (collection({"type": "LineString", "coordinates": [[-30, 52], [float("nan"), 52]]}), "NaN"),
        (collection({"type": "LineString", "coordinates": [[-30, 52], [-20, 52]]}), "more than 100 km"),
        ('{"type": "FeatureCollection", "features": []}', "no LineString"),
        ('{"type": "FeatureCollection", "features": [3]}', "feature 1"),
    ],
)
def test_foreign_files_are_refused_in_words(text: str, says: str) -> None:
    with pytest.raises(FormatError) as caught:
        read_lines(text, Origin())
    assert says in str(caught.value)


def test_properties_of_another_shape_cost_only_the_name() -> None:
    feature = {"type": "Feature", "properties": 5, "geometry": LINE}
    _, (line,) = read_lines(json.dumps(feature), Origin())
    assert line.name == "Line 1"


def test_the_csv_adds_up(hallow: Plan) -> None:
    rows = list(csv.DictReader(io.StringIO(parts_csv(bill(hallow)))))
    assert rows[-1]["group"] == "Total"
    assert float(rows[-1]["cost"]) == pytest.approx(sum(float(r["cost"]) for r in rows[:-1]), abs=0.02)


def test_a_sketch_stays_inside_its_picture(hallow: Plan) -> None:
    numbers = [float(x) for path in sketch(hallow).paths for x in path.replace("M", " ").replace("L", " ").split()]
    assert min(numbers) >= 0
    assert max(numbers) <= 220
    assert sketch(simple_plan(runs=[])).paths == ()
