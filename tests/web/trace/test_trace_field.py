"""A search in the field: what a phone gets, what it hands in, once each, in its order, with what is refused said."""

import json
import re
import struct
import subprocess
from html import unescape
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest

from adze.core.plan.season import Season
from adze.core.practice.simulated_farm import HiddenFault, Truth, simulated_farm
from adze.core.tables.causes import causes
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import LEAD_OUT, farm_of
from adze.formats.plan.plan_file import read_plan_document
from adze.services.trace.practice import hide
from tests.web.conftest import PlanPage, word
from tests.web.log.test_log import read
from tests.web.pictures.test_photos import picture
from tests.web.trace.test_trace import at_the_fence, panel, post, step

SCRIPT = Path(__file__).parents[2] / "js" / "told_search.js"


def known(plan: PlanPage, season: str = "usual") -> dict[str, Any]:
    told: dict[str, Any] = plan.get(f"/trace/field?season={season}").json()
    return told


def kit(plan: PlanPage, season: str = "usual") -> dict[str, Any]:
    """The head of the packed search."""
    answer = plan.get(f"/trace/kit?season={season}")
    assert answer.status_code == 200, answer.text[:300]
    (size,) = struct.unpack_from("<I", answer.content)
    head: dict[str, Any] = json.loads(answer.content[4 : 4 + size])
    return head


def done(what: str, **body: Any) -> dict[str, Any]:
    return {"what": what, "once": uuid4().hex[:12]} | body


def hand_in(plan: PlanPage, *steps: dict[str, Any]) -> dict[str, str]:
    answer = post(plan, "/field", steps=list(steps))
    assert answer.status_code == 200, answer.text[:300]
    refused: dict[str, str] = answer.json()["refused"]
    return refused


BEGUN = (done("begin"), done("checked"), done("unit"), done("lead"))


def test_a_search_begun_without_signal_stands_with_all_its_steps(plan: PlanPage) -> None:
    plan.draw()
    assert known(plan)["search"] == 0
    steps = [done(row["what"]) for row in BEGUN] + [done("read", run="line1", at_m="400", kv="3.1", amps="8")]
    assert hand_in(plan, *steps) == {}
    told = known(plan)
    assert told["search"] > 0
    assert [row["what"] for row in told["steps"]] == ["checked", "unit", "lead", "read"]
    assert told["steps"][-1]["once"] == steps[-1]["once"]
    assert (told["steps"][-1]["kv"], told["steps"][-1]["amps"]) == (3.1, 8.0)
    assert "3.1 kV, 8 A outward" in panel(plan)


def test_what_can_wait_is_noted_once_and_without_a_search(plan: PlanPage) -> None:
    plan.draw()
    later = done("later", run="line1", at_m="250", note="leaning post")
    assert hand_in(plan, later) == {}
    assert hand_in(plan, later, done("later", run="line1", note="")) != {}
    told = known(plan)
    assert told["later"] == [{"run": "line1", "at_m": 250.0, "words": "leaning post, First line, 250 m along"}]
    assert told["search"] == 0


def test_what_is_handed_in_twice_counts_once(plan: PlanPage) -> None:
    plan.draw()
    steps = [done(row["what"]) for row in BEGUN] + [done("look", run="line1", at_m="100")]
    hand_in(plan, *steps)
    before = known(plan)
    assert hand_in(plan, *steps) == {}
    assert known(plan) == before


def test_what_is_refused_is_named_and_the_rest_is_kept(plan: PlanPage) -> None:
    at_the_fence(plan)
    wrong = done("read", run="line1", at_m="100", kv="99")
    other = done("found", cause="none of these", run="line1", at_m="5")
    good = done("read", run="line1", at_m="100", kv="5.5")
    refused = hand_in(plan, wrong, other, good)
    assert set(refused) == {wrong["once"], other["once"]}
    assert "kV: must lie between 0 and 20" in refused[wrong["once"]]
    assert "choose one from the list" in refused[other["once"]]
    assert [row["once"] for row in known(plan)["steps"]][-1] == good["once"]


def test_a_packed_search_names_places_and_says_when_it_is_another(plan: PlanPage) -> None:
    at_the_fence(plan)
    head, told = kit(plan), known(plan)
    field = head["field"]
    assert field["mark"] == told["mark"]
    assert field["lead"] == LEAD_OUT
    assert any("First line" in place["words"] for place in field["places"])
    assert {line["run"] for line in field["lines"].values()} == {"line1"}
    assert len(field["places"]) == len(head["legs"])
    step(plan, "read", run="line1", at_m="400", kv="3")
    assert known(plan)["mark"] == told["mark"]
    step(plan, "found", run="line1", at_m="400", cause="insulator")
    assert known(plan)["mark"] != told["mark"]
    assert kit(plan)["search"]["finds"] == 1


def test_a_step_is_taken_back_by_its_token_and_once(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="line1", at_m="400", kv="3")
    first = known(plan)["steps"][-1]["once"]
    second = done("look", run="line1", at_m="100")
    hand_in(plan, second, done("undo", of=second["once"]), done("undo", of=second["once"]))
    assert known(plan)["steps"][-1]["once"] == first
    hand_in(plan, done("undo", of=first), done("undo", of="none of these"))
    assert [row["what"] for row in known(plan)["steps"]] == ["checked", "unit", "lead"]


def test_who_ends_a_search_that_has_ended_does_no_harm(plan: PlanPage) -> None:
    at_the_fence(plan)
    first = known(plan)["search"]
    assert hand_in(plan, done("end", search=first)) == {}
    assert known(plan)["search"] == 0
    post(plan, season="usual")
    assert hand_in(plan, done("end", search=first)) == {}
    assert known(plan)["search"] > first


def test_what_cannot_be_kept_for_the_field_says_why(plan: PlanPage) -> None:
    assert "No fence is drawn yet" in plan.get("/trace/kit").json()["message"]
    plan.draw()
    assert "choose dry, usual or wet" in plan.get("/trace/kit?season=mud").json()["message"]
    post(plan, season="usual", hidden=1)
    assert "Practice is going on" in plan.get("/trace/field").json()["message"]


def test_parts_that_a_phone_took_from_the_shed_count_once(plan: PlanPage) -> None:
    at_the_fence(plan)
    farm = re.search(r"/farms/(\d+)/shed", plan.client.get(f"/plans/{plan.id}/parts").text)
    assert farm
    address = f"/farms/{farm[1]}/shed"
    form = {"csrf": word(plan.client.get(address).text), "part": "rope_clamp", "quantity": "5", "note": ""}
    assert plan.client.post(address, data=form).status_code == 303
    assert [(row["part"], row["quantity"]) for row in known(plan)["shed"]] == [("rope_clamp", 5)]
    used = done("used", part="rope_clamp", quantity="2", what_for="Ford")
    assert hand_in(plan, used) == {}
    assert hand_in(plan, used) == {}
    assert [row["quantity"] for row in known(plan)["shed"]] == [3]
    assert "Ford" in panel(plan)
    for typed, words in (
        ({"quantity": "4"}, "the shed has 3 piece, not 4"),
        ({"part": "gone"}, "the shed no longer has it"),
    ):
        wrong = done("used", **({"part": "rope_clamp", "quantity": "1"} | typed))
        assert words in hand_in(plan, wrong)[wrong["once"]]
    assert [row["what"] for row in known(plan)["steps"]] == ["checked", "unit", "lead"]


def photo(plan: PlanPage, of: str, once: str, content: bytes) -> Any:
    return plan.client.post(
        f"/api/plans/{plan.id}/trace/field/photo",
        params={"of": of, "once": once},
        content=content,
        headers={"X-CSRF-Token": plan.csrf, "X-File-Name": "joint.jpg"},
    )


def test_a_photo_of_a_phone_stands_with_its_search_once(plan: PlanPage) -> None:
    plan.draw()
    steps = [done(row["what"]) for row in BEGUN]
    hand_in(plan, *steps)
    first = known(plan)["steps"][0]["once"]
    for _ in range(2):
        assert photo(plan, first, "one", picture()).status_code == 200
    assert photo(plan, first, "two", picture()).status_code == 200
    assert known(plan)["photos"] == 2
    assert panel(plan).count("photo-small") == 2
    assert "is not known here" in photo(plan, "none of these", "three", picture()).text
    assert photo(plan, first, "four", b"not a picture").status_code == 422
    hand_in(plan, done("end", search=known(plan)["search"]))
    assert photo(plan, first, "late", picture()).status_code == 200  # it came after the end
    assert known(plan)["photos"] == 0  # of the next search


def test_strands_and_spurs_of_a_phone_count(plan: PlanPage) -> None:
    plan.draw()
    strands = [{"cm": cm, "role": role} for cm, role in ((30, "live"), (60, "earth"), (90, "live"))]
    plan.save(strands=strands)
    at_the_fence(plan)
    line = kit(plan)["field"]["strands"][0]
    assert line["run"] == "line1"
    assert [row["words"] for row in line["rows"]] == ["strands 1 and 3", "earth strand"]
    assert all(len(row["at_m"]) == len(row["well_kv"]) > 1 for row in line["rows"])
    spur = done("spur", run="line1", at_m="100")
    assert hand_in(plan, done("strands", run="line1", at_m="200", strand_kv=["2.1", ""]), spur) == {}
    assert known(plan)["steps"][-2]["strand_kv"] == [2.1, None]
    assert kit(plan)["field"]["spurs"] == [spur["once"]]


def on_a_phone(plan: PlanPage, folder: Path) -> dict[str, Any]:
    """What a phone that has just heard of the server says of the search."""
    packed, file = folder / "search.bin", folder / "steps.json"
    packed.write_bytes(plan.get("/trace/kit?season=usual").content)
    file.write_text(json.dumps(known(plan)["steps"]))
    told = subprocess.run(["node", SCRIPT, packed, file], capture_output=True, text=True, check=True)
    shown: dict[str, Any] = json.loads(told.stdout)
    return shown


@pytest.mark.parametrize(
    "steps",
    [
        [],
        [done("read", run="", kv="5.1", amps="9")],
        [
            done("read", run="line1", at_m="400", kv="3.1", amps="6"),
            done("read", run="line1", at_m="600", kv="2.8", amps="0.4"),
            done("strands", run="line1", at_m="700", strand_kv=["2.4", "0.9"]),
            done("spur", run="line1", at_m="500"),
        ],
        [done("read", run="line1", at_m="300", kv="0.3", amps="300", outward=False)],
        [done("rods", kv="2.9"), done("look", run="line1", at_m="350")],
        [done("read", run="", kv="5.1", amps="9"), done("skip", run="", leg="rods")],
        [
            done("read", run="line1", at_m="400", kv="2.1", amps="11"),
            done("found", run="line1", at_m="450", cause="insulator"),
            done("read", run="line1", at_m="450", kv="6.1", amps="2"),
        ],
        [done("found", run="line1", at_m="450", cause="cut"), done("read", run="line1", at_m="690", kv="1.2")],
    ],
)
def test_a_phone_says_what_the_page_of_trace_says(plan: PlanPage, tmp_path: Path, steps: list[dict[str, Any]]) -> None:
    plan.draw()
    plan.save(strands=[{"cm": cm, "role": role} for cm, role in ((30, "live"), (60, "earth"), (90, "live"))])
    at_the_fence(plan)
    assert hand_in(plan, *steps) == {}
    says_alike(plan, tmp_path, has_read=bool(steps))


def says_alike(plan: PlanPage, folder: Path, *, has_read: bool = True) -> dict[str, Any]:
    """A phone says of the search what the page of Trace says; what it says."""
    page, told = unescape(panel(plan)), on_a_phone(plan, folder)
    words = told["words"]
    said_of = [words["title"], words["howFar"], words["leg"], words["reason"]]
    if has_read:  # before, many hypotheses weigh alike, and which of them are weighed against each other is open
        said_of += [text for row in words["means"] for text in row]
    said_of += [text for row in words["lookFor"] for text in row]
    said_of += [told["surprise"], told["strands"], told["spurs"], told["gain"], told["clear"], told["early"]]
    assert bool(told["early"]) == ("Stop here: chance of a fault" in page)
    said_of += [text for row in told["stands"] for text in row]
    said_of += [text for where, share in told["stretches"] for text in (*where.split(", ", 1), share)]
    assert [text for text in said_of if text and text not in page] == []
    return told


@pytest.mark.parametrize("cause", ["rods", "dry_rods"])
def test_the_rods_are_looked_at_where_most_lies_with_them_and_both_say_so(
    plan: PlanPage, tmp_path: Path, cause: str
) -> None:
    plan.draw()
    at_the_fence(plan)
    run = {"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 2300]]}
    strands = [{"cm": cm, "role": role} for cm, role in ((30, "live"), (60, "earth"), (90, "live"))]
    rods = {"count": 1, "position": [-5, -5]}
    wet = plan.save(runs=[run], strands=strands, energizer="mains_6", grass="heavy", rods=rods)
    assert wet.status_code == 200
    assert hand_in(plan, done("read", run="", kv="3.9", amps="16"), done("rods", kv="2.3")) == {}
    assert says_alike(plan, tmp_path)["words"]["title"] == "Look at the rods"
    assert "Mended at the rods" in panel(plan)
    step(plan, "read", run="line1", at_m="300", kv="3.2", amps="12")
    found = done("found", cause=cause)
    assert hand_in(plan, found) == {}
    told = says_alike(plan, tmp_path)
    if cause == "rods":
        assert told["words"]["title"] == "Read again here, at the lead-out, at the unit"
        assert hand_in(plan, done("read", run="", kv="5.1", amps="20")) == {}
        told = says_alike(plan, tmp_path)
        assert "The repair raised the voltage here by 1.2 kV" in told["gain"]
    else:
        assert told["gain"] == ""
        assert "their ground is dry" in panel(plan)
    assert ["The rods", "ruled out"] in told["stands"]
    assert hand_in(plan, done("undo", of=found["once"])) == {}
    assert says_alike(plan, tmp_path)["words"]["title"] == "Look at the rods"


def test_rods_that_are_not_there_are_not_what_it_was(plan: PlanPage) -> None:
    at_the_fence(plan)
    assert plan.save(rods={"count": 0}).status_code == 200
    wrong = done("found", cause="dry_rods")
    assert "the plan has no rods" in hand_in(plan, wrong)[wrong["once"]]


# What a tester shows along 2 km where growth is two and a half times the plan's, by the model.
GROWN_READINGS = [("0", "6.8", "17.4"), ("500", "6.5", "13.2"), ("1000", "6.5", "8.9"), ("1500", "6.4", "4.5")]


@pytest.mark.parametrize("said", ["mown", "grown", ""])
def test_growth_all_along_is_looked_at_and_both_say_so(plan: PlanPage, tmp_path: Path, said: str) -> None:
    plan.draw()
    at_the_fence(plan)
    run = {"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 1600]]}
    strands = [{"cm": cm, "role": role} for cm, role in ((30, "live"), (60, "earth"), (90, "live"))]
    assert plan.save(runs=[run], strands=strands, energizer="mains_6", grass="moderate").status_code == 200
    for at_m, kv, amps in GROWN_READINGS:
        assert hand_in(plan, done("read", run="line1", at_m=at_m, kv=kv, amps=amps)) == {}
        says_alike(plan, tmp_path)
    told = says_alike(plan, tmp_path)
    assert told["words"]["title"] == "Look at the growth along the fence"
    assert told["stretches"] == []
    assert any(words.startswith("Growth along the whole fence, about 2.") for words, _ in told["stands"])
    answer = done("found", cause=said) if said else done("skip", leg="growth")
    assert hand_in(plan, answer) == {}
    told = says_alike(plan, tmp_path)
    assert told["words"]["title"].startswith("Read again here" if said == "mown" else ("Read", "Look closely", "Stop"))
    assert told["words"]["title"] != "Look at the growth along the fence"
    assert bool(told["clear"]) == bool(said)
    assert {"mown": "cut or off", "grown": "left as it is", "": "none that matters"}[said] in panel(plan)


def test_a_search_that_began_with_the_log_stands_alike_on_both(plan: PlanPage, tmp_path: Path) -> None:
    plan.draw()
    read(plan, "2.9", 300, amps="18", way="outward")
    read(plan, "1.9", 650)
    assert post(plan, season="usual", with_log=True).status_code == 200
    for what in ("checked", "unit", "lead"):
        step(plan, what, kv="")
    assert "the unit" in says_alike(plan, tmp_path)["words"]["title"]
    assert hand_in(plan, done("read", run="", kv="3.3", amps="20")) == {}
    assert "at the rods" in says_alike(plan, tmp_path)["words"]["title"]
    assert hand_in(plan, done("rods", kv="0.4")) == {}
    says_alike(plan, tmp_path)


def test_what_to_look_for_is_told_alike_and_the_likelier_kind_comes_first(plan: PlanPage, tmp_path: Path) -> None:
    plan.draw()
    plan.save(strands=[{"cm": cm, "role": role} for cm, role in ((30, "live"), (60, "earth"), (90, "live"))])
    at_the_fence(plan)
    hand_in(plan, done("read", run="", kv="3.2", amps="33"), done("rods", kv="0.5"))
    hand_in(plan, done("read", run="line1", at_m="300", kv="3.4", amps="2"))
    told = says_alike(plan, tmp_path)["words"]
    assert told["title"].startswith("Look closely at")
    labels = [label for label, _ in told["lookFor"]]
    short = {cause.label for cause in causes().values() if cause.kind == "LS"}
    assert labels
    assert labels[0] in short


def test_where_lines_meet_both_call_a_place_by_the_leg_that_is_read(plan: PlanPage, tmp_path: Path) -> None:
    branch = {"id": "spur", "name": "Low branch", "points": [[400, 0], [400, -500]]}
    at_the_fence(plan)
    assert plan.save(runs=[*plan.state["document"]["runs"], branch]).status_code == 200
    titles = set()
    for run, at_m, kv, amps in (("", "", "3.0", "22"), ("line1", "390", "2.2", "21"), ("spur", "20", "2.1", "19")):
        assert hand_in(plan, done("read", run=run, at_m=at_m, kv=kv, amps=amps)) == {}
        titles.add(says_alike(plan, tmp_path)["words"]["title"])
    assert any("Low branch" in title for title in titles)


def test_a_round_of_practice_for_a_phone_holds_what_the_farm_would_answer(plan: PlanPage) -> None:
    plan.draw()
    told = plan.get("/trace/practice?season=usual&hidden=2").json()
    stored = read_plan_document(plan.state["document"])
    hidden = hide(stored, Season.USUAL, 2, told["seed"])
    faults = [HiddenFault(**fault) for fault in hidden["faults"]]
    assert [fault["kind"] for fault in told["faults"]] == [fault.kind for fault in faults]
    assert len(told["states"]) == 2 ** len(faults)
    farm = farm_of(stored, Season.USUAL)
    where = grid(farm)
    for mask, state in enumerate(told["states"]):
        left = [fault for number, fault in enumerate(faults) if mask >> number & 1]
        there = simulated_farm(farm, left, Truth(**hidden["truth"]), 1)
        assert state["restored"] == there.is_restored
        for place in (0, len(where.spots) // 2, len(where.spots) - 1):
            kv, amps = there.true_reading(where.at(place, where.legs[place][-1]), where.legs[place][-1])
            assert state["kv"][place] == pytest.approx(kv, abs=1e-3)
            assert state["amps"][place][-1] == pytest.approx(amps, abs=1e-2)
    assert told["states"][0]["restored"]
    assert told["walking_minutes"] > 0
    assert "choose dry, usual or wet" in plan.get("/trace/practice?season=mud").json()["message"]
    assert "1 to 3" in plan.get("/trace/practice?hidden=9").json()["message"]


def test_practice_that_ended_on_a_phone_is_on_record_once(plan: PlanPage) -> None:
    plan.draw()
    went = {
        "season": "usual", "seed": 7, "faults": 2, "left": 1, "restored": False, "minutes": 40, "metres": 900,
        "readings": 5, "steps": 8, "causes": ["insulator", "none of these"],
        "advice_minutes": 20, "advice_restored": True, "halving_minutes": 30, "walking_minutes": 33,
        "walking_restored": True,
    }  # fmt: skip
    round_ = done("practised", practised=went)
    assert hand_in(plan, round_) == {}
    assert hand_in(plan, round_) == {}
    page = panel(plan)
    assert "Practised 1 time, the fence restored 0 of 1" in page
    assert "1 of 2 found, the fence not restored; 5 readings, 900 m" in page
    assert "8 steps, 40 min" in page
    assert "nothing found" not in page
    assert known(plan)["search"] == 0
    wrong = done("practised", practised=went | {"season": "mud"})
    assert "choose dry, usual or wet" in hand_in(plan, wrong)[wrong["once"]]
    assert post(plan, "/field", steps=[done("practised", practised=went | {"minutes": -1})]).status_code == 422


def test_the_page_is_there_for_who_may_read(plan: PlanPage) -> None:
    plan.draw()
    page = plan.client.get(f"/plans/{plan.id}/trace/field").text
    assert 'data-do="begin"' in page
    assert "Switch off first, at the nearest switch" in page
