"""Pages and answers through the application itself."""

import io
import json
import re
import zipfile
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import PlanPage, said, word

STAGES = ("stock", "ground", "strands", "power", "earth", "volts", "parts", "build", "log")


def test_signed_out_people_are_sent_to_sign_in_and_back(client: TestClient) -> None:
    answer = client.get("/plans/1/volts")
    assert answer.status_code == 303
    assert answer.headers["location"].endswith("/sign-in?next=%2Fplans%2F1%2Fvolts")
    assert client.get("/api/plans/1/band?season=dry").status_code == 401


def test_the_demo_account_is_offered_and_the_cookie_is_guarded(client: TestClient) -> None:
    html = client.get("/sign-in").text
    assert "Open the demo farms" in html
    answer = client.post("/demo", data={"csrf": word(html)})
    cookie = next(c for c in answer.headers.get_list("set-cookie") if c.startswith("adze_session"))
    assert "HttpOnly" in cookie
    assert "SameSite=lax" in cookie


def test_a_wrong_password_keeps_the_name(client: TestClient) -> None:
    csrf = word(client.get("/sign-in").text)
    answer = client.post("/sign-in", data={"csrf": csrf, "login": "demo", "password": "wrong"})
    assert answer.status_code == 422
    assert 'value="demo"' in answer.text
    assert "name or the password is wrong" in answer.text


@pytest.mark.parametrize("path", ["/sign-in", "/sign-up"])
def test_forms_without_their_word_are_refused(client: TestClient, path: str) -> None:
    assert client.post(path, data={"login": "demo", "password": "hallow-reach"}).status_code == 403


@pytest.mark.parametrize("next_page", ["https://elsewhere.example/", "//elsewhere.example", "/\\elsewhere"])
def test_signing_in_never_leads_outside(client: TestClient, next_page: str) -> None:
    csrf = word(client.get("/sign-in").text)
    assert client.post("/demo", data={"csrf": csrf, "next": next_page}).headers["location"] == "/"


def test_a_new_account_sees_only_its_own(client: TestClient) -> None:
    csrf = word(client.get("/sign-up").text)
    data = {"csrf": csrf, "login": f"new-{id(client)}", "name": "New", "password": "eleven grey geese"}
    assert client.post("/sign-up", data=data).status_code == 303
    html = client.get("/").text
    assert "Name your farm to begin" in html
    assert "Hallow Reach" not in html
    assert client.get("/plans/1/volts").status_code == 404
    assert client.post("/sign-up", data=data | {"csrf": csrf}).status_code == 422


def test_farms_are_listed_with_their_verdicts(demo: TestClient) -> None:
    html = said(demo.get("/").text)
    assert html.count('data-test="plan"') >= 3
    assert "fails: what the ewe feels" in html


def test_a_farm_name_twice_is_told_and_kept(demo: TestClient) -> None:
    csrf = word(demo.get("/").text)
    answer = demo.post("/farms", data={"csrf": csrf, "name": "Hallow Reach"})
    assert answer.status_code == 422
    assert "a farm of that name already" in answer.text
    assert 'value="Hallow Reach"' in answer.text


@pytest.mark.parametrize("stage", STAGES)
def test_every_stage_has_its_page_and_panel(demo: TestClient, reach: str, stage: str) -> None:
    page = demo.get(f"{reach}/{stage}")
    assert page.status_code == 200
    assert 'id="state"' in page.text
    panel = demo.get(f"/api{reach}/panel/{stage}").json()
    assert len(panel["panel"]) > 200
    assert set(panel["forecast"]["seasons"]) == {"dry", "usual", "wet"}


@pytest.mark.parametrize("path", ["/nowhere", "/plans/999999/volts", "/plans/1/magic"])
def test_what_is_not_there_says_so(demo: TestClient, path: str) -> None:
    answer = demo.get(path)
    assert answer.status_code in (404, 422)
    assert "Traceback" not in answer.text


def test_pages_carry_their_guards(demo: TestClient) -> None:
    headers = demo.get("/").headers
    assert "default-src 'self'" in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"


def test_writes_need_their_word(plan: PlanPage) -> None:
    plan.csrf = "guessed"
    answer = plan.save(name="Stolen")
    assert answer.status_code == 403
    assert plan.get("/panel/ground").json()["document"]["name"] == "First line"


def test_a_line_brings_volts_and_undo_takes_it_back(plan: PlanPage) -> None:
    assert plan.state["forecast"]["blocked"]
    plan.draw()
    assert plan.state["forecast"]["seasons"]["dry"]["worst"]["kv"] > 3
    assert plan.state["can_undo"]
    assert plan.send("POST", "/undo").json()["document"]["runs"] == []
    assert plan.send("POST", "/redo").json()["document"]["runs"][0]["id"] == "line1"
    assert plan.send("POST", "/redo").status_code == 422


def test_what_animals_feel_where_you_stand(plan: PlanPage) -> None:
    plan.draw()
    plan.save(stock=[{"id": "c", "kind": "cow"}])
    card = plan.get("/stand?run=line1&at_m=450&season=wet&strand=0").json()
    assert card["where"] == "First line, 450 m along"
    assert float(card["kv_soil"]) > 2
    assert card["touches"][0]["animal"] == "dairy cow"
    assert plan.get("/stand?run=gone&at_m=1&season=wet").status_code == 404
    assert plan.get("/band?season=wet").json()["traces"][0]["low"][0] > 0
    assert plan.get("/band?season=hot").status_code == 422


def test_a_mend_is_offered_and_done(plan: PlanPage) -> None:
    plan.draw()
    plan.save(stock=[{"id": "e", "kind": "ewe", "schooled": True, "woolled": True}], grass="heavy", energizer="mains_1")
    best = re.findall(r'data-mend="([^"]+)"', plan.get("/stages/volts/fix").json()["html"])
    number = re.search(r'data-ask="/fix/(\d+)/others"', plan.get("/stages/volts/fix").json()["html"])
    assert number
    keys = best + re.findall(r'data-mend="([^"]+)"', plan.get(f"/fix/{number[1]}/others").json()["html"])
    assert len(keys) >= 3
    before = plan.state["edition"]
    assert plan.do("do_remedy", key=keys[0]).status_code == 200
    assert plan.state["edition"] == before + 1
    assert plan.do("do_remedy", key="magic:1").status_code == 422


def test_two_browsers_the_second_save_is_told(plan: PlanPage) -> None:
    plan.draw()
    other = PlanPage(plan.client, plan.id)
    other.save(grass="heavy")
    answer = plan.save(soil="wet_clay")
    clash = answer.json()["clash"]
    assert answer.status_code == 409
    assert clash["theirs_words"] == ["growth: moderate → heavy"]
    plan.state |= {"edition": clash["edition"], "revision": clash["current"]}
    assert plan.send("POST", "/settle", mine=clash["mine"]).status_code == 200
    assert (plan.state["document"]["grass"], plan.state["document"]["soil"]) == ("heavy", "wet_clay")


def test_a_failing_judgement_never_takes_a_save_back(plan: PlanPage, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(_: object) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr("adze.web.workbench.forecast_json", broken)
    answer = plan.do("set_field", path="grass", value="heavy", label="Growth")
    assert answer.status_code == 200
    assert "Saved, but" in answer.json()["panel"]
    assert "secret" not in answer.text
    monkeypatch.undo()
    assert plan.get("/panel/ground").json()["document"]["grass"] == "heavy"


@pytest.mark.parametrize(
    ("operation", "path", "message"),
    [
        ({"do": "fly"}, "", "fly"),
        ({"do": "set_field", "path": "rods.count", "value": -1}, "rods.count", "must be 0 or more"),
        ({"do": "set_field", "path": "rods.counts", "value": 1}, "", "There is no 'counts' to set here"),
        ({"do": "set_field", "path": "runs.9.name", "value": "x"}, "", "no longer in the plan"),
        ({"do": "set_field", "path": "wings", "value": 1}, "", "A plan has no 'wings'"),
        ({"do": "add_herd", "kind": "dragon"}, "stock.0.kind", "there is no kind of animal 'dragon'"),
        ({"do": "place_fixture", "kind": "moat", "run": "line1", "at_m": 1}, "", "There is no 'moat' to place"),
        ({"do": "place_every", "kind": "gate", "run": "line1", "every_m": 0.5}, "place_every.every_m", "must be 1 or"),
        ({"do": "place_every", "kind": "gate", "run": "line1", "every_m": 9e3}, "", "Give a shorter step"),
        ({"do": "set_fields", "fields": {"rods.count": -1}}, "rods.count", "must be 0 or more"),
        ({"do": "move_strand", "strand": 3, "cm": "x"}, "move_strand.cm", "is not understood; write a length"),
        ({"do": "lay_rods", "how": "row"}, "", "Click where the rods go"),
    ],
)
def test_an_operation_that_cannot_be_done_is_refused_by_name(
    plan: PlanPage, operation: dict[str, Any], path: str, message: str
) -> None:
    plan.draw()
    refused = plan.operate(operation)
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == path
    assert message in refused.json()["message"]
    assert plan.get("/panel/ground").json()["edition"] == plan.state["edition"]


def test_water_points_stand_beside_the_line_at_equal_steps(plan: PlanPage) -> None:
    plan.draw()
    plan.do("place_every", kind="water_point", run="line1", every_m="150 m")
    spots = [mark["points"][0] for mark in plan.state["document"]["landmarks"]]
    assert spots == [[150, 2], [300, 2], [398, 50], [398, 200]]
    again = plan.operate({"do": "place_every", "kind": "water_point", "run": "line1", "every_m": 150})
    assert "is at each of these places already" in again.json()["message"]


def test_fixtures_stand_at_equal_steps_and_are_not_doubled(plan: PlanPage) -> None:
    plan.draw()
    plan.do("place_every", kind="switch", run="line1", every_m="50 m")
    first = [f["at_m"] for f in plan.state["document"]["fixtures"]]
    assert first == [50.0 * step for step in range(1, len(first) + 1)]
    plan.do("place_every", kind="switch", run="line1", every_m=25)
    fixtures = plan.state["document"]["fixtures"]
    assert len({f["at_m"] for f in fixtures}) == len(fixtures) > len(first)
    again = plan.operate({"do": "place_every", "kind": "switch", "run": "line1", "every_m": 25})
    assert "is at each of these places already" in again.json()["message"]


def test_values_that_need_one_another_are_judged_together(plan: PlanPage) -> None:
    plan.do("add_energizer")
    alone = plan.operate({"do": "set_field", "path": "own_energizers.0.released_j", "value": 9})
    assert alone.status_code == 422
    both = {"own_energizers.0.released_j": 9, "own_energizers.0.stored_j": 12}
    assert plan.do("set_fields", fields=both, label="Released").status_code == 200
    assert plan.state["document"]["own_energizers"][0]["stored_j"] == 12


def test_what_was_set_aside_can_be_brought_back(plan: PlanPage) -> None:
    plan.draw()
    PlanPage(plan.client, plan.id).save(grass="heavy")
    assert plan.save(soil="wet_clay").status_code == 409
    html = plan.client.get(f"/plans/{plan.id}/history").text
    assert "(set aside)" in html
    assert html.count('data-test="revision"') == 4
    number = re.findall(r"/history/(\d+)", html)[0]
    address = f"/plans/{plan.id}/history/{number}"
    assert plan.client.post(address, data={"csrf": "guessed"}).status_code == 403
    assert plan.client.post(address, data={"csrf": plan.csrf}).status_code == 303
    document = plan.get("/panel/ground").json()["document"]
    assert (document["soil"], document["grass"]) == ("wet_clay", "moderate")
    assert plan.client.post(f"/plans/{plan.id}/history/99", data={"csrf": plan.csrf}).status_code == 404


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"rods": {"count": "many"}}, "rods.count"),
        ({"rods": {"count": 10**400}}, "rods.count"),
        ({"post_spacing_m": "3 parsecs"}, "post_spacing_m"),
        ({"strands": [{"cm": -3, "role": "live"}]}, "strands.0.cm"),
        ({"runs": [{"id": "a", "name": "A", "points": [[0, 0], [0, 0]]}]}, "runs.0"),
        ({"version": 9}, ""),
    ],
)
def test_bad_input_names_its_field_and_changes_nothing(plan: PlanPage, changes: dict[str, Any], path: str) -> None:
    answer = plan.save(**changes)
    assert answer.status_code == 422
    assert answer.json()["faults"][0]["path"] == path
    assert plan.get("/panel/ground").json()["edition"] == 1


@pytest.mark.parametrize("raw", [b"", b"{", b"[" * 100_000, b'{"edition": NaN}', b"\xff\xfe"])
def test_bodies_that_are_no_json_are_refused(plan: PlanPage, raw: bytes) -> None:
    answer = plan.client.put(f"/api/plans/{plan.id}", content=raw, headers={"X-CSRF-Token": plan.csrf})
    assert answer.status_code == 422
    assert answer.json()["faults"]


@pytest.mark.parametrize(
    ("path", "status"),
    [
        ("/stand?run=line1&at_m=nan&season=dry", 422),
        ("/stand?run=line1&at_m=inf&season=dry", 422),
        ("/stand?run=line1", 422),
        ("/stand?run=line1&at_m=3&season=dry&strand=-9", 200),
    ],
)
def test_odd_questions_get_words_not_a_failure(plan: PlanPage, path: str, status: int) -> None:
    plan.draw()
    answer = plan.get(path)
    assert answer.status_code == status
    assert status == 200 or answer.json()["message"]


@pytest.mark.parametrize("raw", [b"{", b"[]", b'{"edition": 1}', b'{"edition": 1e400, "based_on": 1}'])
def test_odd_bodies_of_undo_get_words(plan: PlanPage, raw: bytes) -> None:
    headers = {"X-CSRF-Token": plan.csrf, "Content-Type": "application/json"}
    answer = plan.client.post(f"/api/plans/{plan.id}/undo", content=raw, headers=headers)
    assert answer.status_code == 422
    assert answer.json()["message"]


@pytest.mark.parametrize("path", ["/plans/abc/volts", "/plans/99999999999999999999999/volts"])
def test_pages_of_no_plan_are_not_here(demo: TestClient, path: str) -> None:
    answer = demo.get(path)
    assert answer.status_code == 404
    assert "<h1>Not here</h1>" in answer.text


def test_characters_that_cannot_be_kept_are_refused(plan: PlanPage) -> None:
    named = plan.save(name="a\0b")
    assert named.status_code == 422
    assert named.json()["faults"] == [{"path": "name", "message": "holds a character that cannot be used here"}]
    summed = plan.send("PUT", "", document=plan.state["document"] | {"grass": "heavy"}, summary="a\0b")
    assert summed.status_code == 422
    csrf = word(plan.client.get("/").text)
    assert plan.client.post("/farms", data={"csrf": csrf, "name": "a\0b"}).status_code == 422
    reading = {"csrf": csrf, "run": "line1", "at_m": "nan", "strand": "1", "kv": "5", "note": "a\0b"}
    assert plan.client.post(f"/plans/{plan.id}/log/reading", data=reading).status_code == 422


def test_signing_in_with_odd_characters_is_refused(client: TestClient) -> None:
    csrf = word(client.get("/sign-in").text)
    assert client.post("/sign-in", data={"csrf": csrf, "login": "a\0b", "password": "x"}).status_code == 422


def test_nan_in_a_document_is_refused(plan: PlanPage) -> None:
    raw = json.dumps(
        {"edition": 1, "based_on": 1, "document": plan.state["document"] | {"post_spacing_m": float("nan")}}
    )
    answer = plan.client.put(f"/api/plans/{plan.id}", content=raw, headers={"X-CSRF-Token": plan.csrf})
    assert answer.status_code == 422


def test_fifty_megabytes_are_turned_away(plan: PlanPage) -> None:
    def pieces() -> Iterator[bytes]:
        for _ in range(50):
            yield b"x" * 1_000_000

    headers = {"X-CSRF-Token": plan.csrf}
    known = plan.client.put(f"/api/plans/{plan.id}", content=b"x" * 12_000_000, headers=headers)
    streamed = plan.client.put(f"/api/plans/{plan.id}", content=pieces(), headers=headers)
    assert (known.status_code, streamed.status_code) == (413, 413)
    assert "larger than 10 MB" in known.json()["message"]


def test_files_go_out(demo: TestClient, reach: str) -> None:
    assert demo.get(f"{reach}/parts.csv").text.startswith("group,part")
    assert demo.get(f"{reach}/plan.json").json()["format"] == "adze-plan"
    for kind, begins in (("geojson", '{"type"'), ("gpx", "<?xml"), ("kml", "<?xml"), ("csv", "line,point")):
        answer = demo.get(f"{reach}/fence.{kind}")
        assert answer.text.replace("\n", "").replace(" ", "").startswith(begins.replace(" ", ""))
        assert f"fence.{kind}" in answer.headers["content-disposition"]


def test_a_reading_is_logged_and_a_wrong_one_kept_as_typed(plan: PlanPage) -> None:
    plan.draw()
    address = f"/plans/{plan.id}/log/reading"
    csrf = word(plan.client.get(f"{address}?run=line1&at_m=100").text)
    data = {"csrf": csrf, "run": "line1", "at_m": "100", "strand": "1", "kv": "lots", "note": "by the oak"}
    wrong = plan.client.post(address, data=data)
    assert wrong.status_code == 422
    assert "write a number such as 4.6" in wrong.text
    assert 'value="by the oak"' in wrong.text
    assert plan.client.post(address, data=data | {"kv": "6.2"}).status_code == 303
    assert "by the oak" in plan.get("/panel/log").json()["panel"]


def test_signing_out_ends_the_session(demo: TestClient) -> None:
    csrf = word(demo.get("/").text)
    assert demo.post("/sign-out", data={"csrf": csrf}).status_code == 303
    assert demo.get("/").status_code == 303


def test_an_unknown_failure_gives_a_reference_and_no_trace(demo: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: object, **__: object) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr("adze.web.routes.plans.farms.farms_view", broken)
    answer = demo.get("/")
    assert answer.status_code == 500
    assert "Reference" in answer.text
    assert "secret detail" not in answer.text


def test_strands_that_are_dragged_are_judged_and_not_saved(plan: PlanPage) -> None:
    plan.draw()
    plan.save(stock=[{"id": "a", "kind": "ewe", "schooled": True}])
    before = plan.get("/panel/strands").json()
    wide = plan.client.post(
        f"/api/plans/{plan.id}/try",
        json={"strands": [{"cm": 20}, {"cm": 80}]},
        headers={"X-CSRF-Token": plan.csrf},
    ).json()
    (ewe,) = wide["animals"]
    assert (ewe["status"], ewe["gap"]) == ("fails", [20, 80])
    assert wide["felt"][0]["animal"] == "ewe"
    assert plan.get("/panel/strands").json()["edition"] == before["edition"]


@pytest.mark.parametrize(
    ("strands", "says"),
    [
        ([{"cm": 50}, {"cm": 40}], "is not above strand 1"),
        ([{"cm": 50}, {"cm": 50}], "is not above strand 1"),
        ([{"cm": 20 + i} for i in range(30)], "at most 12"),
        ([{"cm": -3}], "must be 1 or more"),
    ],
)
def test_strands_that_cannot_be_are_refused_in_words(plan: PlanPage, strands: list[object], says: str) -> None:
    plan.draw()
    answer = plan.client.post(
        f"/api/plans/{plan.id}/try", json={"strands": strands}, headers={"X-CSRF-Token": plan.csrf}
    )
    assert answer.status_code == 422
    assert says in answer.json()["message"]


@pytest.mark.parametrize(
    ("query", "says"), [("", "5 strips"), ("?paper=Letter", "strips"), ("?paper=A99", "not a known paper")]
)
def test_the_story_pole_goes_on_paper(demo: TestClient, reach: str, query: str, says: str) -> None:
    answer = demo.get(f"{reach}/paper/pole{query}")
    assert answer.status_code == 200
    assert says in answer.text
    assert "strand sheet" in answer.text
    assert answer.text.count("data-strip=") >= 5


def test_a_measured_body_moves_the_strands_and_nonsense_is_refused_at_its_input(plan: PlanPage) -> None:
    plan.draw()
    tops = []
    for shoulder in ("60 cm", "90 cm"):
        plan.save(stock=[{"id": "a", "kind": "ewe", "shoulder_cm": shoulder}])
        tops.append(plan.state["forecast"]["fences"][""]["strands"][-1]["cm"])
    assert tops[0] < tops[1]
    refused = plan.save(stock=[{"id": "a", "kind": "ewe", "shoulder_cm": 400}])
    assert refused.status_code == 422
    assert "withers or shoulder 400 cm; between" in refused.json()["message"]


def test_both_ways_and_every_conductor_are_computed_when_asked(demo: TestClient, reach: str) -> None:
    both = demo.get(f"/api{reach}/ways").json()["html"]
    assert "All live" in both
    assert "Live and earth in turn" in both
    assert both.count("taken here") == 1
    rows = demo.get(f"/api{reach}/conductors").json()["html"]
    assert "2.5 mm high-tensile steel" in rows
    assert "Barbed" not in rows


def test_conductors_of_a_plan_without_a_line_say_what_is_missing(plan: PlanPage) -> None:
    answer = plan.get("/conductors")
    assert answer.status_code == 422
    assert "Draw a line" in answer.json()["message"]
    assert "Choose the animals" in plan.get("/ways").json()["html"]


@pytest.mark.parametrize(
    ("herd", "says"),
    [
        ({"sheared": "last May"}, "is not a day such as 2026-05-20"),
        ({"training": {"came": "2026-05-20", "released": "2026-05-01"}}, "before they came"),
        ({"training": {"came": "2026-05-20", "touches": -1}}, "must be 0 or more"),
        ({"head_cm": "2 m"}, "width of the head 200 cm; between"),
        ({"nose_cm": "wide"}, "length"),
    ],
)
def test_nonsense_of_a_herd_is_refused_in_words(plan: PlanPage, herd: dict[str, object], says: str) -> None:
    answer = plan.save(stock=[{"id": "a", "kind": "ewe"} | herd])
    assert answer.status_code == 422
    assert says in answer.json()["message"]


def test_a_save_that_is_sent_again_stands_once(plan: PlanPage) -> None:
    plan.draw()
    base = {"edition": plan.state["edition"], "based_on": plan.state["revision"], "stage": "ground"}

    def send(once: str, soil: str) -> Any:
        body = base | {"once": once, "document": plan.state["document"] | {"soil": soil}, "summary": "Soil"}
        return plan.client.put(f"/api/plans/{plan.id}", json=body, headers={"X-CSRF-Token": plan.csrf})

    first, again = send("token-one", "wet_clay"), send("token-one", "wet_clay")
    assert (first.status_code, again.status_code) == (200, 200)
    assert again.json()["revision"] == first.json()["revision"]
    late, late_again = send("token-two", "dry_sand"), send("token-two", "dry_sand")
    assert (late.status_code, late_again.status_code) == (409, 409)
    assert late_again.json()["clash"]["mine"] == late.json()["clash"]["mine"]
    assert plan.client.get(f"/plans/{plan.id}/history").text.count('data-test="revision"') == 4


def test_what_another_account_typed_is_refused_with_words(plan: PlanPage) -> None:
    plan.draw()
    reading = {"csrf": plan.csrf, "run": "line1", "at_m": "5", "strand": "1", "kv": "5.5", "season": "dry"}
    step = {"steps": [{"what": "checked", "once": "s1"}]}
    for typed_by in ("0", "somebody"):
        heads = {"X-Typed-By": typed_by, "X-CSRF-Token": plan.csrf}
        form = plan.client.post(f"/plans/{plan.id}/log/reading", data=reading, headers=heads)
        phone = plan.client.post(f"/api/plans/{plan.id}/trace/field", json=step, headers=heads)
        assert (form.status_code, phone.status_code) == (409, 409)
        assert "typed by another account on this device. Sign in as that account" in form.text
        assert "typed by another account" in phone.json()["message"]
    own = re.search(r'data-account="(\d+)"', plan.client.get("/").text)
    assert own
    heads = {"X-Typed-By": own[1], "X-CSRF-Token": plan.csrf}
    assert plan.client.post(f"/plans/{plan.id}/log/reading", data=reading, headers=heads).status_code == 303


def test_a_reading_that_is_sent_again_is_kept_once(plan: PlanPage) -> None:
    plan.draw()
    address = f"/plans/{plan.id}/log/reading"
    tokens = [
        re.search(r'name="once"\s+value="([^"]+)"', plan.client.get(f"{address}?run=line1&at_m=5").text)
        for _ in range(2)
    ]
    reading = {"csrf": plan.csrf, "run": "line1", "at_m": "5", "strand": "1", "kv": "5.5", "season": "dry"}
    for token in (tokens[0], tokens[0], tokens[1]):
        assert token
        assert plan.client.post(address, data=reading | {"once": token[1]}).status_code == 303
    with zipfile.ZipFile(io.BytesIO(plan.client.get("/everything.zip").content)) as archive:
        own = next(name for name in archive.namelist() if f"({plan.id})/readings.csv" in name)
        assert len(archive.read(own).splitlines()) == 3
