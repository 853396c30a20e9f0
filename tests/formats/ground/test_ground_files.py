"""Ground in and out: every format there and back, foreign files, what is refused and what is said."""

import contextlib
import json
import math
import shutil
import subprocess
import time
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pyproj import Geod
from shapely import Polygon
from typer.testing import CliRunner

from adze.cli import app
from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.core.plan.ground import Origin
from adze.formats.errors import FormatError
from adze.formats.ground.ground_files import GROUND_FORMATS, read_ground, write_ground
from adze.formats.ground.imported import ImportChoice, Swapped, into_plan, lines_in_metres
from adze.formats.ground.projection import to_degrees, to_metres
from adze.formats.plan.plan_file import read_plan
from tests.conftest import simple_plan

RUN = CliRunner()
LINE = {"type": "LineString", "coordinates": [[-30.0, 52.0], [-29.99, 52.0], [-29.99, 52.004]]}
FORMATS = sorted(GROUND_FORMATS)


def collection(geometry: dict[str, Any], name: str | None = "Hedge", **top: Any) -> bytes:
    feature = {"type": "Feature", "properties": {"name": name} if name else None, "geometry": geometry}
    return json.dumps({"type": "FeatureCollection", "features": [feature], **top}).encode()


def gpx(*segments: list[tuple[float, float]], extra: str = "") -> bytes:
    rows = "".join(
        "<trkseg>" + "".join(f'<trkpt lat="{lat}" lon="{lon}"><ele>3</ele></trkpt>' for lon, lat in s) + "</trkseg>"
        for s in segments
    )
    head = '<?xml version="1.0"?><gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">'
    return f"{head}{extra}<trk><name>Walk</name>{rows}</trk></gpx>".encode()


def kml(body: str) -> bytes:
    return f'<kml xmlns="http://www.opengis.net/kml/2.2"><Document>{body}</Document></kml>'.encode()


def taken(content: bytes, plan: Plan | None = None, **choice: Any) -> tuple[Plan, tuple[str, ...]]:
    return into_plan(read_ground(content), plan, ImportChoice(**choice), "file")


def full() -> Plan:
    """A plan with every kind of part on its ground."""
    runs = [
        {
            "id": "stem",
            "name": "Stem “east”, <1> & 2",
            "points": [[0, 0], [200.123, 4.5], [400, 0]],
            "use": "spine",
            "soil": "dry_sand",
            "profile": [[0, 3.5], [200.174, 4.25], [400.05, 2]],
            "note": "wet in\nspring",
        },
        {"id": "ring", "name": "Ring", "points": [[0, 50], [90, 50], [90, 120], [0, 50]], "grass": "heavy"},
    ]
    fixtures = [
        {"id": f"f{i}", "kind": k, "run": "stem", "at_m": 20.5 * (i + 1), "name": f"{k} {i}"}
        | ({"style": "rope"} if k == "gate" else {})
        for i, k in enumerate(("gate", "switch", "crossing", "join", "strain", "rods", "diverter", "test", "sign"))
    ]
    marks = [
        {"id": "a", "kind": "soil", "soil": "wet_clay", "points": [[0, 0], [50, 0], [50, 50], [0, 50]]},
        {"id": "b", "kind": "overhead", "name": "Line", "points": [[9, 9], [99, 99]], "line_kv": 20},
        {"id": "c", "kind": "trough", "name": "Trough", "points": [[7, 8]]},
        {"id": "d", "kind": "old_fence", "condition": "keep", "points": [[1, 1], [2, 9]], "note": "rusty"},
    ]
    return simple_plan(
        runs=runs,
        fixtures=fixtures,
        landmarks=marks,
        notes=[{"id": "n", "name": "Bog", "at": [30, 40], "text": "deep"}],
        meetings=[{"id": "m", "first": "stem", "second": "ring", "at": [1, 1], "joined": True}],
        blocks=[{"id": "b", "name": "Top", "at": [60, 70]}],
        stock=[{"id": "e", "kind": "ewe", "count": 12}],
        origin={"lat": 51.987654, "lon": -30.123456},
        rods={"count": 4, "position": [-3, -4]},
    )


@pytest.mark.parametrize("kind", FORMATS)
def test_out_and_in_again_loses_nothing(kind: str) -> None:
    plan = full()
    back, notes = taken(write_ground(plan, kind).encode())
    assert notes == ()
    # Heights go out at the points: the profile comes back at them.
    assert back.model_dump(exclude={"runs"}) == plan.model_dump(exclude={"runs"})
    for run, own in zip(back.runs, plan.runs, strict=True):
        assert run.model_dump(exclude={"profile"}) == own.model_dump(exclude={"profile"})
        assert [h for _, h in run.profile] == pytest.approx([h for _, h in own.profile], abs=0.01)


@pytest.mark.parametrize("kind", FORMATS)
def test_every_demo_farm_survives(kind: str, hallow: Plan) -> None:
    back, _ = taken(write_ground(hallow, kind).encode())
    assert [(r.id, r.points) for r in back.runs] == [(r.id, r.points) for r in hallow.runs]
    assert back.fixtures == hallow.fixtures
    assert back.landmarks == hallow.landmarks
    assert (back.stock, back.energizer_at, back.rods) == (hallow.stock, hallow.energizer_at, hallow.rods)


def test_lengths_and_areas_are_true_to_a_thousandth() -> None:
    geod = Geod(ellps="WGS84")
    lon, lat = [-30.2, -29.8, -29.8, -30.2, -30.2], [51.8, 51.8, 52.2, 52.2, 51.8]
    points = to_metres(Origin(lat=52.0, lon=-30.0), list(zip(lon, lat, strict=True)))
    sides = [math.dist(a, b) for a, b in pairwise(points)]
    true = geod.line_lengths(lon, lat)
    assert sides == pytest.approx(true, rel=1e-3)
    assert Polygon(points).area == pytest.approx(abs(geod.polygon_area_perimeter(lon, lat)[0]), rel=1e-3)


def test_degrees_there_and_back_to_the_millimetre() -> None:
    origin = Origin(lat=64.1, lon=179.9)
    points = ((345.678, -78.912), (-20000.001, 43210.123), (0.0, 0.0))
    assert to_metres(origin, to_degrees(origin, points)) == points


def test_a_polygon_comes_as_a_ring_and_names_are_kept() -> None:
    ring = {"type": "Polygon", "coordinates": [[[-30, 52], [-29.998, 52], [-29.998, 52.001], [-30, 52]]]}
    plan, _ = taken(collection(ring, None), simple_plan(runs=[]))
    assert plan.runs[0].name == "Line 1"
    assert length_m(plan.runs[0]) > 300
    more, _ = taken(collection(LINE), plan)
    assert [(r.id, r.name) for r in more.runs] == [("line1", "Line 1"), ("line2", "Hedge")]
    assert more.origin == plan.origin


def test_points_come_as_marked_spots() -> None:
    plan, _ = taken(collection({"type": "Point", "coordinates": [-30, 52]}, "Nest"))
    assert [(m.kind, m.name) for m in plan.landmarks] == [("mark", "Nest")]


def test_a_moved_fixture_follows_its_geometry() -> None:
    content = json.loads(write_ground(full(), "geojson"))
    gate = next(f for f in content["features"] if f["properties"]["kind"] == "gate")
    gate["geometry"]["coordinates"][0] += 0.0005
    plan, _ = taken(json.dumps(content).encode())
    assert plan.fixtures[0].at_m == pytest.approx(20.5 + 34.3, abs=0.5)


def test_a_walked_track_keeps_its_corners_and_its_heights() -> None:
    walk = [(-30 + i * 1e-5 + (i % 3) * 4e-7, 52.0) for i in range(60)] + [(-29.9994, 52 + i * 1e-5) for i in range(60)]
    whole, _ = taken(gpx(walk))
    thin, _ = taken(gpx(walk), thin_m=1.0)
    assert len(whole.runs[0].points) == 120
    assert len(whole.runs[0].profile) == 120
    assert len(thin.runs[0].points) == 3
    assert length_m(thin.runs[0]) == pytest.approx(length_m(whole.runs[0]), rel=0.01)
    assert thin.runs[0].profile[-1] == (pytest.approx(length_m(thin.runs[0]), abs=0.01), 3)


def test_gaps_and_jumps_are_said_and_parted() -> None:
    one = [(-30 + i * 2e-5, 52.0) for i in range(20)]
    other = [(-29.99 + i * 2e-5, 52.001) for i in range(20)]
    plan, notes = taken(gpx(one, other))
    assert [r.name for r in plan.runs] == ["Walk", "Walk, part 2"]
    assert "2 parts with gaps" in notes[0]
    _, notes = taken(gpx(one + other))
    assert "jumps 1 time" in notes[0]
    parted, notes = taken(gpx(one + other), part_jumps=True)
    assert (len(parted.runs), notes) == (2, ())


def test_doubled_points_and_lines_without_length_are_left_out_and_said() -> None:
    plan, notes = taken(gpx([(-30, 52), (-30, 52), (-29.999, 52)], [(-30, 52), (-30, 52)]))
    assert len(plan.runs) == 1
    assert len(plan.runs[0].points) == 2
    assert any("doubled" in n for n in notes)
    assert any("no length" in n for n in notes)


def test_kml_with_folders_styles_and_tracks_of_its_own() -> None:
    content = kml(
        '<Style id="s"><LineStyle><color>ff00ff00</color></LineStyle></Style><Folder><name>North</name><Folder>'
        "<Placemark><name>Hedge</name><styleUrl>#s</styleUrl><MultiGeometry>"
        "<LineString><coordinates>-30,52,0 -29.999,52,0\n -29.998,52.001,0</coordinates></LineString>"
        "<LineString><coordinates>-30, 52.01 -29.999, 52.01</coordinates></LineString></MultiGeometry></Placemark>"
        "</Folder><Placemark><Polygon><outerBoundaryIs><LinearRing><coordinates>-30,52 -29.99,52 -29.99,52.01 -30,52"
        "</coordinates></LinearRing></outerBoundaryIs></Polygon></Placemark>"
        '<Placemark><name>Run</name><gx:Track xmlns:gx="urn:x"><gx:coord>-30 52 7</gx:coord>'
        "<gx:coord>-29.99 52 8</gx:coord></gx:Track></Placemark>"
        "<Placemark><name>Well</name><Point><coordinates>-30,52</coordinates></Point></Placemark></Folder>"
    )
    plan, _ = taken(content)
    assert [r.name for r in plan.runs] == ["Hedge", "Hedge, part 2", "Line 2", "Run"]
    assert [len(r.points) for r in plan.runs] == [3, 2, 4, 2]
    assert [h for _, h in plan.runs[3].profile] == [7, 8]
    assert plan.runs[0].profile == ()
    assert plan.landmarks[0].name == "Well"


@pytest.mark.parametrize(
    "text",
    [
        "line,lon,lat\nA,-30,52\nA,-29.999,52\nB,-30,52.01\nB,-29.999,52.01\n",
        "\ufeffLine;Longitude;Latitude;Height\nA;-30,0;52,0;3,5\nA;-29,999;52,0;4\nB;-30,0;52,01;\nB;-29,999;52,01;\n",
        "track\tx\ty\nA\t-30\t52\nA\t-29.999\t52\nB\t-30\t52.01\nB\t-29.999\t52.01\n",
        'name,WKT\nA,"LINESTRING (-30 52, -29.999 52)"\nB,"LINESTRING (-30 52.01, -29.999 52.01)"\n',
    ],
)
def test_tables_of_many_makers(text: str) -> None:
    plan, _ = taken(text.encode())
    assert [(r.name, len(r.points)) for r in plan.runs] == [("A", 2), ("B", 2)]
    assert length_m(plan.runs[0]) == pytest.approx(68.7, abs=0.1)


def test_a_table_in_metres_keeps_its_metres() -> None:
    plan, _ = taken(b"line,east_m,north_m\nA,0,0\nA,100,0\nA,100,55.5\n")
    assert plan.runs[0].points == ((0, 0), (100, 0), (100, 55.5))


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "is empty"),
        (b"PK\x03\x04zip", "packed"),
        (b"{nonsense", "is not JSON"),
        (b"[1]", 'has no "type"'),
        (b"\x00\x01\x02", "is not text"),
        (b"a,b\n1,2\n", "must name the columns lon and lat"),
        (b"lon,lat\n1,two\n", "row 2, lat: 'two' is not a number"),
        (b"lon,lat\n1,nan\n", "finite"),
        (b"name,WKT\nA,LINE(1 2)\n", "row 2"),
        (b"<gpx><trk>", "not whole XML"),
        (b"<html></html>", "not <kml>"),
        (b"<kml></kml>", "holds no line"),
        (
            kml("<Placemark><LineString><coordinates>1;2 3;4</coordinates></LineString></Placemark>"),
            "point 1 of Line 1",
        ),
        (collection({"type": "LineString", "coordinates": [[-30, 52]]}), "fewer than 2 points"),
        (collection({"type": "LineString", "coordinates": [[-30, 52], [-30, 52]]}), "has a length"),
        (collection({"type": "LineString", "coordinates": [[500000, 5760000], [500010, 5760000]]}), "not degrees"),
        (collection({"type": "LineString", "coordinates": [["a", 52], [-30, 52]]}), "point 1 of Hedge"),
        (collection({"type": "LineString", "coordinates": [[10**400, 52], [-30, 52]]}), "point 1 of Hedge"),
        (collection(LINE, crs={"type": "name", "properties": {"name": "EPSG:27700"}}), "projection 'EPSG:27700'"),
        (collection(LINE, crs={"type": "name", "properties": []}), "projection None"),
        (collection({"type": "LineString", "coordinates": [[True, 52], [-30, 52]]}), "point 1 of Hedge"),
        (collection({"type": "LineString", "coordinates": [[-30, 52], [float("nan"), 52]]}), "NaN"),
        (collection({"type": "LineString", "coordinates": [[-30, 52], [-20, 52]]}), "more than 100 km"),
        (collection({"type": "LineString", "coordinates": [[-30, 89], [-30, 89.001]]}), "pole"),
        (b'{"type": "FeatureCollection", "features": []}', "no line"),
        (b'{"type": "FeatureCollection", "features": [3]}', "feature 1"),
        (b'{"type": "Feature", "geometry": {"type": "Blob"}}', "is a Blob"),
    ],
)
def test_what_cannot_be_taken_is_refused_in_words(content: bytes, says: str) -> None:
    with pytest.raises(FormatError) as caught:
        taken(content)
    assert says in str(caught.value)


@pytest.mark.parametrize("kind", FORMATS)
@given(st.data())
@settings(max_examples=60)
def test_damaged_files_are_read_or_refused_but_never_fail(kind: str, data: st.DataObject) -> None:
    content = bytearray(write_ground(full(), kind).encode())
    for _ in range(data.draw(st.integers(1, 4))):
        at = data.draw(st.integers(0, len(content) - 1))
        cut = data.draw(st.integers(0, 30))
        odd = [b"", b"NaN", b"1e999", b'"', b"<", b"{}", b"null", b"91", b"\x00", b"9" * 30]
        content[at : at + cut] = data.draw(st.sampled_from(odd))
    with contextlib.suppress(FormatError):
        plan, _ = taken(bytes(content), thin_m=data.draw(st.sampled_from([0.0, 1.0])))
        assert read_plan(plan.model_dump_json()) == plan


@pytest.mark.parametrize("root", ["gpx", "kml"])
def test_entity_bombs_do_not_grow(root: str) -> None:
    bomb = "".join(f'<!ENTITY a{i} "{f"&a{i - 1};" * 10}">' for i in range(1, 12))
    content = f'<?xml version="1.0"?><!DOCTYPE {root} [<!ENTITY a0 "ha">{bomb}]><{root}>&a11;</{root}>'.encode()
    outside = f'<!DOCTYPE x [<!ENTITY f SYSTEM "file:///etc/hostname">]><{root}>&f;</{root}>'.encode()
    start = time.process_time()
    for made in (content, outside):
        with pytest.raises(FormatError, match="entities or a DTD"):
            taken(made)
    assert time.process_time() - start < 1


def test_swapped_degrees_are_seen_and_mended() -> None:
    wrong = collection({"type": "LineString", "coordinates": [[52.0, -130.0], [52.0, -130.001]]})
    with pytest.raises(Swapped, match="swapped"):
        taken(wrong)
    plan, _ = taken(wrong, swap=True)
    assert length_m(plan.runs[0]) == pytest.approx(68.7, abs=0.1)
    near = collection({"type": "LineString", "coordinates": [[52.0, -30.0], [52.0, -30.001]]})
    with pytest.raises(Swapped, match="near it"):
        taken(near, simple_plan())
    assert len(taken(near, simple_plan(), swap=True)[0].runs) == 2


def test_chosen_lines_only() -> None:
    both = gpx([(-30, 52), (-29.999, 52)], [(-30, 52.01), (-29.999, 52.01)])
    assert [r.name for r in taken(both, lines=frozenset({1}))[0].runs] == ["Walk, part 2"]


def test_a_long_track_is_in_within_its_time() -> None:
    walk = [(-30 + i * 3e-6, 52 + 2e-4 * math.sin(i / 300)) for i in range(50_000)]
    content = gpx(walk)
    steps: list[float] = []
    start = time.process_time()
    brought = read_ground(content, lambda share, _: steps.append(share))
    lines, _ = lines_in_metres(brought, Origin(), ImportChoice(thin_m=1.0))
    assert time.process_time() - start < 5
    assert 20 < len(lines[0].points) < 2000
    assert steps == sorted(steps)
    assert len(steps) >= 3


# The command line


def test_the_command_line_keeps_every_point_unless_told(tmp_path: Path) -> None:
    walk = [(-30 + i * 1e-5, 52 + (i % 2) * 1e-7) for i in range(3000)]
    source, whole, thin = tmp_path / "w.gpx", tmp_path / "w.json", tmp_path / "t.json"
    source.write_bytes(gpx(walk))
    assert RUN.invoke(app, ["import", str(source), "-o", str(whole)]).exit_code == 0
    assert RUN.invoke(app, ["import", str(source), "--thin", "1", "-o", str(thin)]).exit_code == 0
    assert len(read_plan(whole.read_text()).runs[0].points) == 3000
    assert len(read_plan(thin.read_text()).runs[0].points) == 2


@pytest.mark.parametrize("kind", FORMATS)
def test_the_command_line_goes_both_ways(kind: str, tmp_path: Path) -> None:
    plan, out, back = tmp_path / "p.json", tmp_path / f"p.{kind}", tmp_path / "b.json"
    plan.write_text(full().model_dump_json())
    assert RUN.invoke(app, ["export", str(plan), "--to", kind, "-o", str(out)]).exit_code == 0
    assert RUN.invoke(app, ["import", str(out), "-o", str(back)]).exit_code == 0
    assert read_plan(back.read_text()).fixtures == full().fixtures


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["import", "gone.gpx", "-o", "x.json"], "cannot be read"),
        (["import", "bad.gpx", "-o", "x.json"], "not whole XML"),
        (["import", "swap.csv", "-o", "x.json"], "give --swap"),
        (["import", "good.csv", "-o", "no/such/x.json"], "cannot be written"),
        (["import", "good.csv", "--thin", "-3", "-o", "x.json"], "--thin"),
        (["export", "good.csv", "--to", "kml", "-o", "x.kml"], "is not JSON"),
        (["export", "plan.json", "--to", "shp", "-o", "x.shp"], "'shp' is not written"),
    ],
)
def test_the_command_line_refuses_in_one_line(arguments: list[str], says: str, tmp_path: Path) -> None:
    (tmp_path / "bad.gpx").write_text("<gpx><trk>")
    (tmp_path / "swap.csv").write_text("lon,lat\n52,-130\n52,-130.1\n")
    (tmp_path / "good.csv").write_text("lon,lat\n-30,52\n-30.001,52\n")
    (tmp_path / "plan.json").write_text(full().model_dump_json())
    given = [str(tmp_path / a) if "." in a and not a.startswith("-") else a for a in arguments]
    result = RUN.invoke(app, given)
    assert result.exit_code == 2
    assert says in result.output
    assert len(result.output.strip().splitlines()) == 1
    assert not list(tmp_path.glob("x.*"))


# A program nobody here wrote

OGR = shutil.which("ogr2ogr")
needs_ogr = pytest.mark.skipif(OGR is None, reason="ogr2ogr (gdal-bin) is not installed")


def ogr(*arguments: str | Path) -> None:
    subprocess.run([str(OGR), *map(str, arguments)], check=True, capture_output=True)


@needs_ogr
@pytest.mark.parametrize(("kind", "options"), [("geojson", ()), ("gpx", ("tracks",)), ("kml", ()), ("csv", ())])
def test_files_written_here_open_there(kind: str, options: tuple[str, ...], tmp_path: Path) -> None:
    source, out = tmp_path / f"p.{kind}", tmp_path / "o.geojson"
    source.write_text(write_ground(full(), kind))
    extra = ("-oo", "X_POSSIBLE_NAMES=lon", "-oo", "Y_POSSIBLE_NAMES=lat") if kind == "csv" else ()
    ogr("-f", "GeoJSON", out, source, *extra, *options)
    rows = json.loads(out.read_text())["features"]
    names = {r["properties"].get("name") or r["properties"].get("Name") for r in rows}
    assert "Ring" in names
    assert any("Stem" in str(n) for n in names)


@needs_ogr
@pytest.mark.parametrize(
    ("driver", "suffix", "options"),
    [
        ("GeoJSON", "geojson", ()),
        ("GPX", "gpx", ("-dsco", "GPX_USE_EXTENSIONS=YES")),
        ("KML", "kml", ()),
        ("CSV", "csv", ("-lco", "GEOMETRY=AS_WKT")),
    ],
)
def test_files_written_there_open_here(driver: str, suffix: str, options: tuple[str, ...], tmp_path: Path) -> None:
    source, out = tmp_path / "p.geojson", tmp_path / f"o.{suffix}"
    lines = [
        {"type": "Feature", "properties": {"name": name}, "geometry": {"type": "LineString", "coordinates": rows}}
        for name, rows in (("Hedge", [[-30, 52, 4], [-29.999, 52, 5]]), ("Bank", [[-30, 52.01], [-29.999, 52.01]]))
    ]
    source.write_text(json.dumps({"type": "FeatureCollection", "features": lines}))
    ogr("-f", driver, *options, out, source)
    plan, _ = taken(out.read_bytes())
    assert [r.name for r in plan.runs] == ["Hedge", "Bank"]
    assert [length_m(r) for r in plan.runs] == pytest.approx([68.67, 68.66], abs=0.05)


@needs_ogr
def test_adzes_own_words_survive_the_other_program(tmp_path: Path) -> None:
    source, out = tmp_path / "p.geojson", tmp_path / "o.geojson"
    source.write_text(write_ground(full(), "geojson"))
    ogr("-f", "GeoJSON", out, source)
    plan, _ = taken(out.read_bytes())
    assert [r.id for r in plan.runs] == ["stem", "ring"]
    assert [(f.id, f.kind, f.run) for f in plan.fixtures] == [(f.id, f.kind, f.run) for f in full().fixtures]
    assert [m.kind for m in plan.landmarks] == [m.kind for m in full().landmarks]


def test_a_ground_file_of_version_1_keeps_its_words() -> None:
    """It was written by the program of version 1 from the plan beside it."""
    folder = Path(__file__).parents[1] / "data"
    plan, _ = taken((folder / "ground_version_1.geojson").read_bytes())
    was = read_plan((folder / "plan_version_1.json").read_text(encoding="utf-8"))
    assert (plan.name, plan.energizer, plan.rods, plan.fixtures) == (was.name, was.energizer, was.rods, was.fixtures)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b'{"type": "x", "a": [' + b"[]," * 1_100_000 + b"[]]}", "more than 2,000,000 values"),
        (b"[" + b"1," * 2_500_001 + b"1]", "more than 2,500,000 values"),
        (b"<gpx>" + b'<wpt lat="1" lon="1"/>' * 300_001 + b"</gpx>", "more than 300,000 points"),
        (b"<kml>" + b"<a/>" * 1_600_000 + b"</kml>", "more than 1,600,000 tags"),
        (b"lon,lat\n" + b"1,2\n" * 500_001, "more than 500,000 rows"),
        (b"<kml " + b"".join(b'a%d="1" ' % i for i in range(5_000)) + b"/>", "a tag of more than 20,000"),
        (b"[" * 100_000, "nested too deeply"),
    ],
)
def test_a_file_that_unfolds_is_refused_before_it_is_read(content: bytes, says: str) -> None:
    begun_s = time.process_time()
    with pytest.raises(FormatError, match=says):
        read_ground(content)
    assert time.process_time() - begun_s < 1
