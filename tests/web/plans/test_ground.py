"""The ground through the application: edits, what is chosen, files with their progress, pictures, paper."""

import io
import json
import re
from typing import Any

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.web.conftest import PlanPage, said

WALK = [(-30 + i * 1e-5, 52 + (i % 2) * 2e-7) for i in range(80)]


def gpx(points: list[tuple[float, float]]) -> bytes:
    rows = "".join(f'<trkpt lat="{lat}" lon="{lon}"/>' for lon, lat in points)
    return f'<gpx version="1.1" creator="t"><trk><name>Walk</name><trkseg>{rows}</trkseg></trk></gpx>'.encode()


def edit(plan: PlanPage, **wish: Any) -> Any:
    return plan.operate(wish)


def runs(plan: PlanPage) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = plan.state["document"]["runs"]
    return found


def bring(plan: PlanPage, content: bytes, name: str = "walk.gpx") -> list[dict[str, Any]]:
    """Send a file; every line of its progress."""
    headers = {"X-CSRF-Token": plan.csrf, "X-File-Name": name, "Content-Type": "application/octet-stream"}
    answer = plan.client.post(f"/api/plans/{plan.id}/imports", content=content, headers=headers)
    assert answer.status_code == 200
    return [json.loads(line) for line in answer.text.splitlines()]


def picture(width: int = 60, height: int = 40) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "green").save(out, "PNG")
    return out.getvalue()


def keep(plan: PlanPage, content: bytes, purpose: str = "photo") -> Any:
    headers = {"X-CSRF-Token": plan.csrf, "X-File-Name": "gate%20post.png"}
    return plan.client.post(f"/api/plans/{plan.id}/pictures?purpose={purpose}", content=content, headers=headers)


def test_every_edit_does_what_it_says(plan: PlanPage) -> None:
    assert edit(plan, do="draw", points=[[0, 0], [200, 0]]).status_code == 200
    assert plan.state["document"]["energizer_at"] == [-5, -5]
    edit(plan, do="legs", start=[100, 0], text="80 m N\n50 E", use="cross")
    assert runs(plan)[1]["points"] == [[100, 0], [100, 80], [150, 80]]
    edit(plan, do="reshape", run="line1", points=[[0, 0], [100, -10], [200, 0]])
    assert runs(plan)[1]["points"][0][1] == pytest.approx(-10, abs=0.01)
    edit(plan, do="reverse", run="line2")
    assert runs(plan)[1]["points"][0] == [150, 80]
    edit(plan, do="split", run="line1", at_m=50)
    assert [r["name"] for r in runs(plan)][:2] == ["First line", "First line, far part"]
    edit(plan, do="join", first="line1", second="line3")
    assert len(runs(plan)) == 2
    edit(plan, do="square", at=[400, 0], side_m="20 m", bearing_deg="NE")
    assert len(runs(plan)[2]["points"]) == 5
    edit(plan, do="lane", points=[[0, 300], [200, 300]], width_m=5)
    assert [r["use"] for r in runs(plan)[-2:]] == ["lane", "lane"]
    edit(plan, do="beside", of="line1", distance_m="25 cm", left=True)
    assert runs(plan)[-1]["name"] == "Beside First line"
    edit(plan, do="thin", run="line1", tolerance_m=20)
    assert len(runs(plan)[0]["points"]) == 2
    edit(plan, do="heights", run="line1", text="0 3.5\n100, 4\n200; 3")
    assert runs(plan)[0]["profile"] == [[0, 3.5], [100, 4], [200, 3]]
    edit(plan, do="move", chosen=[["run", "line1"]], east_m="10 m", north_m=0)
    assert runs(plan)[0]["points"][0] == [10, 0]
    edit(plan, do="remove", chosen=[["run", r["id"]] for r in runs(plan)])
    assert runs(plan) == []
    assert plan.send("POST", "/undo").status_code == 200
    assert len(runs(plan)) > 4


def test_a_ring_is_divided_and_its_moves_are_planned(plan: PlanPage) -> None:
    edit(plan, do="draw", points=[[0, 0], [200, 0], [200, 100], [0, 100], [0, 0]])
    edit(plan, do="moves", at=[100, 50], parts=4, bearing_deg="N")
    assert plan.state["document"]["moves"][0]["strips"] == 4
    assert len(plan.state["forecast"]["ground"]["strips"]) == 3
    assert "Strip" in plan.get("/pane/blocks").json()["html"]
    edit(plan, do="divide", at=[100, 50], parts=2, bearing_deg=0)
    assert [b["words"] for b in plan.state["forecast"]["ground"]["blocks"]] == ["1.00 ha", "1.00 ha"]
    assert runs(plan)[1]["use"] == "cross"


def test_what_was_said_of_a_meeting_can_be_said_otherwise(plan: PlanPage) -> None:
    plan.draw()
    edit(plan, do="draw", points=[[200, 0], [200, 90]])
    html = plan.get("/inspect?chosen=run:line2").json()["html"]
    found = re.search(r'data-mend="(apart:[^"]+)"', html)
    assert found
    plan.do("do_remedy", key=found[1])
    assert plan.state["forecast"]["ground"]["dead"] == [["line2", 0.0, 90.0]]
    assert 'data-mend="joined:' in plan.get("/inspect?chosen=run:line2").json()["html"]


def test_a_hive_is_fenced_at_its_distance(plan: PlanPage) -> None:
    plan.draw()
    plan.save(landmarks=[{"id": "h", "kind": "hive", "name": "Hives", "points": [[50, 60]]}])
    edit(plan, do="ring", landmark="h", distance_m="1 m")
    assert runs(plan)[1]["points"][0] == [49, 59]
    assert runs(plan)[1]["name"] == "Round Hives"


def test_a_pen_and_brackets_are_fences_of_their_own(plan: PlanPage) -> None:
    plan.draw()
    old = {"id": "o", "kind": "old_fence", "name": "Old mesh", "points": [[0, 50], [80, 50]], "condition": "carry"}
    rows = [{"id": "e", "kind": "ewe", "schooled": True}, {"id": "n", "kind": "calf"}]
    plan.save(landmarks=[old], stock=rows)
    edit(plan, do="pen", at=[300, 0], side_m="12 m")
    edit(plan, do="brackets", landmark="o", left=True)
    edit(plan, do="pen", at=[400, 0], side_m="12 m")
    fences = plan.state["document"]["fences"]
    assert [(f["name"], f["behind"], f["herds"]) for f in fences] == [
        ("Training pen", "barrier", ["n"]),
        ("On brackets", "old_fence", []),
    ]
    assert [r["fence"] for r in runs(plan)] == [None, "fence1", "fence2", "fence1"]
    assert runs(plan)[2]["points"][0] == [0, 50.25]
    shown = plan.get("/panel/strands?fence=fence1").json()["panel"]
    assert "Training pen" in shown
    assert "15 cm inside a solid barrier" in shown


def test_who_grazes_a_block_and_how_its_lines_are_built_is_offered(plan: PlanPage) -> None:
    edit(plan, do="draw", points=[[0, 0], [200, 0], [200, 100], [0, 100], [0, 0]])
    fence = {"id": "f", "name": "Stronger"}
    block = {"id": "b", "name": "Meadow", "at": [100, 50], "herds": ["e"]}
    plan.save(stock=[{"id": "e", "kind": "ewe"}], fences=[fence], blocks=[block])
    html = said(plan.get("/pane/blocks").json()["html"])
    assert "Who grazes here: ewe" in html
    assert 'data-build-runs="line1"' in html
    assert "Built as" in plan.get("/inspect?chosen=run:line1").json()["html"]


@pytest.mark.parametrize(
    ("wish", "path", "says"),
    [
        ({"do": "pen", "at": [0, 0], "side_m": "1 m"}, "pen.side_m", "3 or more"),
        ({"do": "brackets", "landmark": "gone", "left": True}, "brackets.landmark", "no longer"),
        ({"do": "legs", "start": [0, 0], "text": "120 sideways"}, "legs.text", "line 1"),
        ({"do": "ring", "landmark": "gone", "distance_m": 3}, "ring.distance_m", "no longer"),
        ({"do": "square", "at": [0, 0], "side_m": "wide"}, "square.side_m", "not understood"),
        ({"do": "square", "at": [0, 0], "side_m": 9, "bearing_deg": "up"}, "square.bearing_deg", "bearing"),
        ({"do": "divide", "at": [9, 9], "parts": 1, "bearing_deg": 0}, "divide.parts", "2 or more"),
        ({"do": "divide", "at": [9, 9], "parts": 3, "bearing_deg": 0}, "", "not in a closed block"),
        ({"do": "split", "run": "line1", "at_m": 0}, "", "can be split between"),
        ({"do": "join", "first": "line1", "second": "line1"}, "", "two different"),
        ({"do": "draw", "points": [[0, 0], [0, 0]]}, "", "one place"),
        ({"do": "heights", "run": "line1", "text": "1 2 3"}, "heights.text", "line 1"),
        ({"do": "dance"}, "", "do"),
    ],
)
def test_what_cannot_be_done_is_said_beside_its_input(
    plan: PlanPage, wish: dict[str, Any], path: str, says: str
) -> None:
    plan.draw()
    before = plan.state["document"]
    answer = edit(plan, **wish)
    assert answer.status_code == 422
    assert answer.json()["faults"][0]["path"] == path
    assert says in answer.json()["message"]
    assert plan.get("/panel/ground").json()["document"] == before


def test_a_ground_mend_is_done_by_its_action(plan: PlanPage) -> None:
    plan.draw()
    edit(plan, do="draw", points=[[200, 0], [200, 90]])
    assert 'data-mend="switch:line2:4.0"' in plan.get("/stages/ground/fix").json()["html"]
    assert plan.do("do_remedy", key="switch:line2:4.0").status_code == 200
    assert plan.state["document"]["fixtures"][0]["kind"] == "switch"
    assert plan.do("do_remedy", key="switch:nowhere:4").status_code == 422
    zone = plan.get("/zone?switch=switch1").json()
    assert zone["stretches"] == [["line2", 4.0, 90.0]]


@pytest.mark.parametrize("kind", ["gate", "switch", "crossing", "join", "strain", "rods", "diverter", "test", "sign"])
def test_what_is_chosen_tells_its_figures(plan: PlanPage, kind: str) -> None:
    plan.draw()
    plan.save(fixtures=[{"id": "f", "kind": kind, "run": "line1", "at_m": 100, "name": "Here"}])
    html = plan.get("/inspect?chosen=fixture:f").json()["html"]
    assert 'value="Here"' in html
    assert "why plain" in html


def test_lines_landmarks_notes_and_many_are_inspected(plan: PlanPage) -> None:
    plan.draw()
    edit(plan, do="square", at=[0, 0], side_m=20)
    plan.save(
        landmarks=[{"id": "o", "kind": "overhead", "points": [[0, 0], [9, 9]]}],
        notes=[{"id": "n", "name": "Bog", "at": [3, 3]}],
    )
    assert "Across: 28.28 m and 28.28 m: equal" in said(plan.get("/inspect?chosen=run:line2").json()["html"])
    assert "Lengths and bearings" in plan.get("/inspect?chosen=run:line1").json()["html"]
    assert "Its kV" in plan.get("/inspect?chosen=landmark:o").json()["html"]
    assert "Add a photo" in plan.get("/inspect?chosen=note:n").json()["html"]
    assert "Join the two lines" in plan.get("/inspect?chosen=run:line1,run:line2").json()["html"]
    assert plan.get("/inspect?chosen=run:gone,nonsense").json()["html"].strip() == ""


def test_a_track_shows_its_progress_is_looked_at_and_then_taken(plan: PlanPage) -> None:
    steps = bring(plan, gpx(WALK), "spring walk.gpx")
    assert [s["share"] for s in steps] == sorted(s["share"] for s in steps)
    assert len(steps) >= 4
    kept = steps[-1]["import"]
    shown = plan.get(f"/imports/{kept}").json()
    assert (shown["came"], shown["thin_m"], len(shown["lines"][0]["points"])) == (80, 1.5, 2)
    assert len(plan.get(f"/imports/{kept}?thin=0").json()["lines"][0]["points"]) == 80
    assert plan.get("/panel/ground").json()["document"]["runs"] == []
    assert plan.send("POST", f"/imports/{kept}/take", thin_m=1.5).status_code == 200
    assert len(runs(plan)[0]["points"]) == 2
    assert plan.get(f"/imports/{kept}").status_code == 404


def test_swapped_degrees_are_shown_the_other_way_round(plan: PlanPage) -> None:
    kept = bring(plan, b"lon,lat\n52,-130\n52,-130.001\n", "corners.csv")[-1]["import"]
    shown = plan.get(f"/imports/{kept}").json()
    assert shown["offer_swap"]
    assert plan.send("POST", f"/imports/{kept}/take", swap=False).status_code == 422
    assert plan.send("POST", f"/imports/{kept}/take", swap=True, lines=[0]).status_code == 200


@pytest.mark.parametrize(
    ("content", "says"), [(b"<gpx><trk>", "not whole XML"), (b"", "is empty"), (b"PK\x03\x04", "packed")]
)
def test_a_file_that_cannot_be_read_says_why(plan: PlanPage, content: bytes, says: str) -> None:
    last = bring(plan, content, "broken.gpx")[-1]
    assert says in last["fault"]
    assert "broken.gpx" in last["fault"]


def test_files_too_large_are_turned_away_and_large_ones_are_not(plan: PlanPage) -> None:
    headers = {"X-CSRF-Token": plan.csrf, "X-File-Name": "huge.gpx"}
    huge = plan.client.post(f"/api/plans/{plan.id}/imports", content=b"x" * 25_000_000, headers=headers)
    assert huge.status_code == 413
    assert "24 MB" in huge.json()["message"]
    large = plan.client.post(f"/api/plans/{plan.id}/imports", content=b"x" * 6_000_000, headers=headers)
    assert large.status_code == 200
    assert plan.client.post(f"/api/plans/{plan.id}/imports", content=b"x").status_code == 403


def test_pictures_are_kept_small_and_only_for_their_owner(plan: PlanPage) -> None:
    kept = keep(plan, picture(3000, 1500)).json()
    assert (kept["width_px"], kept["height_px"], kept["name"]) == (1600, 800, "gate post.png")
    shown = plan.client.get(f"/plans/{plan.id}/pictures/{kept['id']}")
    assert shown.headers["content-type"] == "image/jpeg"
    assert Image.open(io.BytesIO(shown.content)).size == (1600, 800)
    assert plan.client.get(f"/plans/{plan.id + 999}/pictures/{kept['id']}").status_code == 404
    assert plan.client.get(f"/plans/{plan.id}/pictures/999999").status_code == 404


@pytest.mark.parametrize("content", [b"not a picture", b"\x89PNG\r\n\x1a\n" + b"0" * 50, b""])
def test_what_is_no_picture_is_refused(plan: PlanPage, content: bytes) -> None:
    answer = keep(plan, content)
    assert answer.status_code == 422
    assert answer.json()["faults"][0]["path"] == "picture"


def test_a_photo_is_laid_by_its_known_points(plan: PlanPage) -> None:
    kept = keep(plan, picture(), "underlay").json()
    points = [{"pixel": [0, 40], "at": [0, 0]}, {"pixel": [60, 40], "at": [120, 0]}]
    photo = {"picture": kept["id"], "width_px": 60, "height_px": 40, "points": points}
    assert plan.save(underlay=photo).status_code == 200
    laid = plan.state["forecast"]["ground"]["underlay"]
    assert laid["metres_per_pixel"] == 2
    assert laid["matrix"] == pytest.approx([2, 0, 0, -2, 0, 80])
    twice = plan.save(underlay=photo | {"points": [points[0], points[0]]})
    assert twice.status_code == 422
    assert "one place" in twice.json()["message"]


def test_where_a_device_stands(plan: PlanPage) -> None:
    plan.draw()
    here = plan.get("/here?lat=52.0&lon=-29.9985").json()
    assert here["at"][0] == pytest.approx(103, abs=0.5)
    assert here["near"] == {"run": "line1", "at_m": pytest.approx(103, abs=0.5), "away_m": 0}
    far = plan.get("/here?lat=10&lon=10")
    assert far.status_code == 422
    assert "km from this farm" in far.json()["message"]
    assert plan.get("/here?lat=nan&lon=0").status_code == 422


def test_typed_stretches_lead_somewhere(plan: PlanPage) -> None:
    assert plan.get("/walked?text=100 m E&east=0&north=0").json()["points"] == [[0, 0], [100, 0]]
    assert plan.get("/walked?text=100 m up&east=0&north=0").status_code == 422


@pytest.mark.parametrize(
    ("query", "says"),
    [
        ("", "1:"),
        ("?paper=A3&scale=1000", "1:1000 on A3"),
        ("?paper=Letter&scale=100", "at most 40"),
        ("?paper=B9", "not a known paper"),
        ("?scale=7", "between 1:50"),
    ],
)
def test_the_ground_goes_on_paper(demo: TestClient, reach: str, query: str, says: str) -> None:
    answer = demo.get(f"{reach}/paper/ground{query}")
    assert answer.status_code == 200
    assert says in re.sub(r"<[^>]+>", "", answer.text)
    assert "<svg" in answer.text


def test_the_panel_tells_feed_zones_and_blocks(demo: TestClient, reach: str) -> None:
    said = {
        "lines": ("Terraces", "Lead-out"),
        "feed": ("What feeds what", "Pump switch", "min to walk"),
        "blocks": ("Sea meadow", "16.08 ha", "June moves"),
    }
    for pane, words in said.items():
        alone = demo.get(f"/api{reach}/pane/{pane}").json()["html"]
        panel = demo.get(f"/api{reach}/panel/ground?pane={pane}").json()["panel"]
        for word in words:
            assert word in alone
            assert word in panel
    assert "Pump switch" not in demo.get(f"/api{reach}/panel/ground").json()["panel"]
    assert demo.get(f"/api{reach}/pane/findings").status_code == 422


def test_heights_keep_their_metres_where_feet_are_shown_and_long_ones_are_not_cut(plan: PlanPage) -> None:
    plan.draw()
    edit(plan, do="heights", run="line1", text="0, 3.5\n100, 4")
    before = runs(plan)[0]["profile"]
    plan.save(units="imperial")
    html = plan.get("/inspect?chosen=run:line1").json()["html"]
    shown = re.search(r'data-heights="line1"[^>]*>([^<]*)<', html)
    assert shown
    edit(plan, do="heights", run="line1", text=shown[1])
    assert runs(plan)[0]["profile"] == before
    run = runs(plan)[0] | {"profile": [[i, 5.0] for i in range(600)]}
    plan.save(runs=[run])
    html = plan.get("/inspect?chosen=run:line1").json()["html"]
    assert "600 heights came" in html
    assert "data-heights" not in html


def test_typing_one_corner_leaves_the_others_to_the_millimetre(plan: PlanPage) -> None:
    edit(plan, do="draw", points=[[12345.678, -9876.543], [12400.001, -9800.25]])
    html = plan.get("/inspect?chosen=run:line1").json()["html"]
    assert "12345.678, -9876.543\n12400.001, -9800.25" in html


def test_a_far_fixture_is_shown_in_feet_as_it_can_be_typed_back(plan: PlanPage) -> None:
    plan.draw()
    fixture = {"id": "f", "kind": "gate", "run": "line1", "at_m": 400, "name": "Far"}
    plan.save(fixtures=[fixture], units="imperial")
    shown = re.search(r'id="fx-at"[^>]* value="([^"]+)"', plan.get("/inspect?chosen=fixture:f").json()["html"])
    assert shown
    # A comma would be read as a decimal sign: 1,312 ft must not come back as 1.3 ft.
    plan.save(fixtures=[fixture | {"at_m": shown[1]}])
    assert plan.state["document"]["fixtures"][0]["at_m"] == pytest.approx(400, abs=0.02)


def test_lines_that_meet_end_to_end_meet_once(plan: PlanPage) -> None:
    plan.draw()
    edit(plan, do="draw", points=[[400, 300], [300, 300]])
    html = plan.get("/inspect?chosen=run:line2").json()["html"]
    assert html.count("data-mend=") == 1


def test_a_netting_fence_is_shown_and_printed(plan: PlanPage) -> None:
    plan.draw()
    rows = [{"id": "e", "kind": "ewe"}]
    fence = {"id": "f", "name": "Roadside", "netting": "sheep_90", "behind": "", "apron": True}
    run = plan.state["document"]["runs"][0] | {"fence": "f"}
    plan.save(stock=rows, fences=[fence], runs=[run])
    panel = said(plan.get("/panel/strands?fence=f").json()["panel"])
    assert "live, woven in" in panel
    assert "rolls of 50 m" in panel
    assert plan.get("/conductors?fence=f").status_code == 200
    assert plan.get("/ways?fence=f").status_code == 200
    paper = plan.client.get(f"/plans/{plan.id}/paper/pole?fence=f").text
    assert "Roadside" in paper
    plan.save(fences=[fence | {"strands": [{"cm": 60}]}])
    refused = plan.send("PUT", "", document=plan.state["document"] | {"fences": [fence | {"strands": [{"cm": 60}]}]})
    assert "lies within the netting" in refused.json()["message"]
