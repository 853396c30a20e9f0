"""Trace on the page: elimination first, one step at a time, everything typed counts, a step back, a find, the end."""

import json
import re
from datetime import UTC, datetime, timedelta
from html import unescape
from typing import Any

import pytest

from adze.core.practice.lessons import LESSONS
from tests.web.conftest import PlanPage, said
from tests.web.log.test_devices import at
from tests.web.log.test_devices import make as made
from tests.web.log.test_devices import post as sent
from tests.web.log.test_log import read


def panel(plan: PlanPage) -> str:
    return said(plan.get("/panel/trace").json()["panel"])


def post(plan: PlanPage, path: str = "", **body: Any) -> Any:
    return plan.client.post(f"/api/plans/{plan.id}/trace{path}", json=body, headers={"X-CSRF-Token": plan.csrf})


def step(plan: PlanPage, what: str, **body: Any) -> str:
    answer = post(plan, "/steps", what=what, **body)
    assert answer.status_code == 200, answer.text[:400]
    return said(answer.json()["panel"])


def at_the_fence(plan: PlanPage) -> str:
    """A search where elimination is done."""
    plan.draw()
    assert post(plan, season="usual").status_code == 200
    step(plan, "checked")
    step(plan, "unit", kv="")
    return step(plan, "lead", kv="")


def drawn(page: str) -> dict[str, Any]:
    """What the ground and the strip draw."""
    found = re.search(r'data-trace-drawn="([^"]+)"', page)
    assert found
    told: dict[str, Any] = json.loads(unescape(found[1]))
    return told


def test_what_was_read_since_the_last_mend_stands_on_the_ground(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="line1", at_m="400", kv="3.1", amps="6.2")
    page = step(plan, "read", run="line1", at_m="650", kv="2.8", amps="0.4")
    told = drawn(page)
    read = [(row["run"], row["kv"], row["words"]) for row in told["readings"]]
    assert read == [("line1", 3.1, "3.1 kV, 6.2 A"), ("line1", 2.8, "2.8 kV, 0.4 A")]
    assert abs(told["readings"][0]["at_m"] - 400) < 13
    assert told["readings"][0]["xy"] == pytest.approx([400, 0], abs=13)
    half = [row for row in told["pieces"] if row["half"]]
    whole_m = sum(row["to"] - row["from"] for row in half)
    assert told["half"]["words"] == f"half of it lies in {'this' if len(half) == 1 else 'these'} {whole_m:.0f} m"
    assert told["go"]["run"] == "line1"
    assert f'value="{told["go"]["at_m"]:.0f}"' in page  # found it: mostly where one was sent
    page = step(plan, "found", run="line1", at_m="500", cause="insulator")
    assert drawn(page)["readings"] == []


def test_where_a_search_stands_is_told_without_computing_it(plan: PlanPage) -> None:
    def stands() -> str:
        return str(plan.get("/trace/stands").json()["stands_at"])

    def rail() -> str:
        page = plan.client.get(f"/plans/{plan.id}/ground").text
        return page.split('data-stage="trace"')[1].split("data-line>")[1].split("<")[0]

    plan.draw()
    assert stands() == ""
    assert rail() == "find a fault"
    page = at_the_fence(plan)
    begun = stands()
    assert f'data-trace-stands="{begun}" data-rail="a search goes on"' in page
    assert rail() == "a search goes on"
    page = step(plan, "look", run="line1", at_m="100")
    assert stands() != begun
    assert f'data-trace-stands="{stands()}"' in page
    post(plan, "/undo")
    assert stands() == begun
    post(plan, "/end")
    assert stands() == ""
    assert rail() == "find a fault"


def test_what_can_wait_is_noted_and_stands_in_the_log(plan: PlanPage) -> None:
    at_the_fence(plan)
    page = step(plan, "later", run="line1", at_m="200", note="  split   peg ")
    assert "split peg" in page
    assert "First line, 200 m along" in page
    assert "split peg" in said(plan.get("/panel/log").json()["panel"])
    number = int(panel(plan).split('data-mended="')[1].split('"')[0])
    answer = plan.client.post(
        f"/api/plans/{plan.id}/log/defects",
        json={"mended": number, "stage": "trace"},
        headers={"X-CSRF-Token": plan.csrf},
    )
    mended = answer.json()["panel"]
    assert "Something for later" in mended
    assert "split peg" not in said(mended)
    for body, words in (
        ({"run": "line1", "note": " "}, "write up to 300 characters"),
        ({"run": "gone", "note": "slack"}, "Choose a line"),
        ({"run": "line1", "at_m": "900", "note": "slack"}, "First line is 700 m long"),
    ):
        refused = post(plan, "/steps", what="later", **body)
        assert refused.status_code == 422
        assert words in refused.text


def test_a_blank_plan_says_what_is_missing(plan: PlanPage) -> None:
    assert "No fence is drawn yet" in panel(plan)


def test_elimination_comes_first_in_the_trades_order(plan: PlanPage) -> None:
    plan.draw()
    assert "Begin the search" in panel(plan)
    page = said(post(plan, season="usual").json()["panel"])
    assert "Before anybody walks" in page
    assert "Never use a multimeter" in page
    page = step(plan, "checked")
    assert "Read the unit alone" in page
    assert "authorised repairer. Never open the unit" in page
    page = step(plan, "unit", kv="3.0")
    assert "3.0 kV" in page
    assert "low" in page
    page = step(plan, "lead", kv="3.0")
    assert "How it stands" in page


def test_every_step_says_where_to_go_and_why(plan: PlanPage) -> None:
    page = at_the_fence(plan)
    assert "about 1 minute" in page or "about" in page
    assert "The kV missing at the start show what to expect later" in page
    assert "A hard short to soil" in page
    assert "Half of it lies in" in page
    assert 'data-trace-drawn="' in page


def test_a_reading_far_out_moves_the_likely_stretch_and_undo_brings_it_back(plan: PlanPage) -> None:
    before = at_the_fence(plan)
    after = step(plan, "read", run="line1", at_m="100", kv="1.2", amps="30", outward=True, once="a1")
    assert "1.2 kV, 30 A outward" in after
    assert after.split("Half of it lies in")[1] != before.split("Half of it lies in")[1]
    assert "1.2 kV" in step(plan, "read", run="line1", at_m="100", kv="1.2", amps="30", once="a1")
    undone = said(post(plan, "/undo").json()["panel"])
    assert undone.split("How it stands")[1] == before.split("How it stands")[1]


def test_found_and_mended_reads_here_again_and_the_end_is_kept(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="line1", at_m="100", kv="1.2", amps="30")
    page = step(plan, "found", run="line1", at_m="120", cause="insulator")
    assert "Read again here" in page
    assert "No fault that matters" in page
    assert "mended" in page
    ended = said(post(plan, "/end").json()["panel"])
    assert "Begin the search" in ended
    assert "Insulator broken" in ended
    page = said(post(plan, season="usual").json()["panel"])
    assert "Before anybody walks" in page


def test_the_gain_of_a_mend_is_told_beside_what_was_missing(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="line1", at_m="100", kv="1.2", amps="30")
    page = step(plan, "found", run="line1", at_m="120", cause="insulator")
    assert 'data-test="gain"' not in page
    page = step(plan, "read", run="line1", at_m="120", kv="3.0")
    assert "The repair raised the voltage here by 1.8 kV of the" in page
    assert "kV are still missing" in page
    page = step(plan, "found", run="line1", at_m="400", cause="insulator")
    page = step(plan, "read", run="line1", at_m="400", kv="9.0")
    assert "no kV are missing" in page


def test_looked_and_cannot_go_there_count(plan: PlanPage) -> None:
    at_the_fence(plan)
    assert "nothing" in step(plan, "look", run="line1", at_m="50")
    assert "could not be read" in step(plan, "skip", run="line1", at_m="80", leg="")
    assert "Rods 0.4 kV" in step(plan, "rods", kv="0.4")
    assert "Walked all of it" in step(plan, "sweep")


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"what": "read", "run": "line1", "at_m": "100"}, "type what the tester shows"),
        ({"what": "read", "run": "line1", "at_m": "100", "kv": "19"}, "more than the unit gives"),
        ({"what": "read", "run": "line1", "at_m": "100", "kv": "x"}, "write a number such as 4.6"),
        ({"what": "read", "run": "line1", "at_m": "100", "amps": "900"}, "must lie between 0 and 500"),
        ({"what": "read", "run": "line9", "at_m": "100", "kv": "4"}, "choose a line of this plan"),
        ({"what": "look", "run": "line1", "at_m": "99999"}, "m long"),
        ({"what": "found", "run": "line1", "at_m": "1", "cause": "gremlin"}, "choose one from the list"),
        ({"what": "found", "cause": "insulator"}, "choose a line"),
        ({"what": "dance"}, "is not a step of a search"),
    ],
)
def test_what_is_wrong_is_said_and_nothing_is_kept(plan: PlanPage, body: dict[str, str], says: str) -> None:
    before = at_the_fence(plan)
    answer = post(plan, "/steps", **body)
    assert answer.status_code == 422
    assert says in answer.text
    assert panel(plan).split("So far")[1] == before.split("So far")[1]


def test_without_a_search_no_step_is_kept(plan: PlanPage) -> None:
    plan.draw()
    assert "No search is going on" in post(plan, "/steps", what="checked").text
    assert "nothing to take back" in post(plan, "/undo").text
    assert "is not known; choose dry" in post(plan, season="spring").text


def test_a_line_that_was_taken_off_meanwhile_is_said(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="line1", at_m="10", kv="2")
    other = {"id": "line7", "name": "New line", "points": [[0, 0], [300, 0]]}
    assert plan.save(runs=[other]).status_code == 200
    assert "A line since removed" in panel(plan)


def test_practice_answers_as_the_hidden_farm_does_and_is_scored(plan: PlanPage) -> None:
    plan.draw()
    page = said(post(plan, season="usual", hidden=1).json()["panel"])
    assert "practice" in page
    assert "Unit alone" in page
    assert ">Found it<" not in page
    for _ in range(40):
        form = page.split('id="trace-next-step"')[1].split("</section>")[0]
        what = form.split('data-trace="')[1].split('"')[0]
        if what == "end":
            break
        typed = {name: form.split(f'data-step="{name}" value="')[1].split('"')[0] for name in ("run", "at_m", "leg")}
        page = step(plan, what, **typed)
    ended = said(post(plan, "/end").json()["panel"])
    assert "1 of 1 found, the fence restored" in ended
    assert "by every advice" in ended
    assert "walking all" in ended
    assert plan.get("/panel/log").status_code == 200


def test_practice_refuses_what_is_no_practice(plan: PlanPage) -> None:
    plan.draw()
    assert "1 to 3" in post(plan, season="usual", hidden=7).text
    assert "is none" in post(plan, season="usual", lesson="none of these").text
    post(plan, season="usual", hidden=2)
    answer = post(plan, "/steps", what="found", run="line1", at_m="3", cause="insulator")
    assert "In practice you can read, look" in answer.text
    assert "cannot take a step back" in post(plan, "/undo").text


def test_a_search_begins_with_the_readings_of_the_last_walk(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "3.1", amps="18", way="outward")
    read(plan, "2.9", 300)
    assert "begin with the 2 readings of the last walk" in panel(plan)
    assert post(plan, season="usual", with_log=True).status_code == 200
    step(plan, "checked")
    step(plan, "unit", kv="")
    page = step(plan, "lead", kv="")
    assert "3.1 kV, 18 A" in page
    assert "2.9 kV" in page


def test_a_search_begins_with_what_a_device_shows_and_without_what_was_read_before_it_fell(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "7.4", 200, at=(datetime.now(UTC) - timedelta(hours=6)).isoformat())
    token = made(plan, name="Bank", run="line1", at_m="500").json()["token"]
    sent(plan.client, token, {"at": at(300), "kv": 7.2}, {"at": at(20), "kv": 2.2}, {"at": at(5), "kv": 2.1})
    assert "begin with what Bank shows, 2.1 kV" in panel(plan)
    read(plan, "2.9", 200)
    assert "begin with the 1 reading of the last walk and what Bank shows, 2.1 kV" in panel(plan)
    assert post(plan, season="usual", with_log=True).status_code == 200
    step(plan, "checked")
    step(plan, "unit", kv="")
    page = step(plan, "lead", kv="")
    assert "2.1 kV by Bank" in page
    assert "2.9 kV" in page
    assert "7.4 kV" not in page
    assert "0 min so far" in page
    assert "where you stand" in page  # at the unit: nobody walked to the device


def test_good_readings_of_the_log_lower_the_doubt_of_a_search(plan: PlanPage) -> None:
    plan.draw()
    now = datetime.now(UTC)
    for days in (30, 24, 18, 12):
        for at_m, kv in ((200, "8.0"), (690, "7.9")):
            read(plan, kv, at_m, at=(now - timedelta(days=days)).isoformat())
    for _ in range(2):
        read(plan, "2.0", 690)  # the walk on which it was found low teaches nothing
    assert post(plan, season="usual").status_code == 200
    step(plan, "checked")
    step(plan, "unit", kv="")
    page = step(plan, "lead", kv="")
    assert "From 8 good readings of the log" in page
    practice = post(plan, "/end")
    assert practice.status_code == 200
    assert "good readings of the log" not in said(post(plan, season="usual", hidden=1).json()["panel"])


@pytest.mark.parametrize(("lesson", "faults"), [("legs", 1), ("near", 1), ("hooves", 0)])
def test_a_lesson_hides_what_it_teaches(plan: PlanPage, lesson: str, faults: int) -> None:
    plan.draw()
    page = said(post(plan, season="usual", lesson=lesson).json()["panel"])
    assert "practice" in page
    if not faults:
        assert "Rods" in step(plan, "rods")
    ended = unescape(said(post(plan, "/end").json()["panel"]))
    taught = LESSONS[lesson]
    assert f"{taught.title}: " in ended
    assert taught.teaches in ended
    assert ("nothing was hidden" in ended) == (faults == 0)
    assert "halving by amps" in ended


def with_a_switch(plan: PlanPage, *, is_open: bool = False, kv_alone: bool = True) -> str:
    """A search on a line with a switch half way along."""
    plan.draw()
    switch = {"id": "gap", "kind": "switch", "run": "line1", "at_m": 350, "name": "Gap switch", "is_open": is_open}
    assert plan.save(fixtures=[switch]).status_code == 200
    assert post(plan, season="usual", kv_alone=kv_alone).status_code == 200
    step(plan, "checked")
    step(plan, "unit", kv="")
    return step(plan, "lead", kv="")


def test_a_tester_without_amps_is_asked_for_kv_alone(plan: PlanPage) -> None:
    page = with_a_switch(plan)
    assert "Read kV at" in page
    assert "Read kV and amps" not in page
    assert 'data-step="amps"' not in page


def test_a_switch_is_opened_read_beside_and_shut_again(plan: PlanPage) -> None:
    before = with_a_switch(plan)
    page = step(plan, "switch", switch="gap", opens=True)
    assert "Gap switch open" in page
    assert "on the fed side" in page
    page = step(plan, "read", run="line1", at_m="350", kv="6.0")
    assert "Shut Gap switch again" in page
    page = step(plan, "switch", switch="gap", opens=False)
    assert "Shut Gap switch again" not in page
    assert page.split("Half of it lies in")[1] != before.split("Half of it lies in")[1]


def test_a_switch_that_is_none_is_named(plan: PlanPage) -> None:
    with_a_switch(plan)
    answer = post(plan, "/steps", what="switch", switch="gone")
    assert answer.status_code == 422
    assert "Switch: choose one that the plan has shut" in answer.text


def test_what_is_told_of_a_switch_afterwards_counts_for_every_reading(plan: PlanPage) -> None:
    with_a_switch(plan, kv_alone=False)
    step(plan, "read", run="line1", at_m="100", kv="6.5", amps="1")
    page = step(plan, "read", run="line1", at_m="600", kv="0", amps="0")
    assert "Gap switch is shut, but the last reading fits better if it is open" in page
    page = step(plan, "switch", switch="gap", opens=True, all_along=True)
    assert "Gap switch was open from the start" in page
    assert "was told shut" not in page
    assert "kV at" in page


def test_a_switch_that_is_gone_from_the_plan_counts_no_more(plan: PlanPage) -> None:
    with_a_switch(plan)
    step(plan, "switch", switch="gap", opens=True, all_along=True)
    assert plan.save(fixtures=[]).status_code == 200
    page = panel(plan)
    assert "A switch since removed was open from the start" in page
    assert "on the fed side" not in page


def test_a_reading_on_a_line_that_is_switched_off_is_questioned(plan: PlanPage) -> None:
    with_a_switch(plan, is_open=True)
    page = step(plan, "read", run="line1", at_m="600", kv="4.1")
    assert "First line is off in the plan (Gap switch), yet it reads 4.1 kV" in page
    assert "Set it shut at Ground" in page
    page = step(plan, "read", run="line1", at_m="600", kv="0.1")
    assert "and reads so" in page


def test_in_practice_a_switch_is_worked_too(plan: PlanPage) -> None:
    plan.draw()
    plan.save(fixtures=[{"id": "gap", "kind": "switch", "run": "line1", "at_m": 350, "name": "Gap switch"}])
    post(plan, season="usual", hidden=1, kv_alone=True)
    page = step(plan, "switch", switch="gap", opens=True)
    if "Gap switch open" not in page.split("So far")[1]:  # the hidden fault was come upon on the way
        page = step(plan, "switch", switch="gap", opens=True)
    assert "Gap switch open" in page
    page = step(plan, "read", run="line1", at_m="600", kv="")
    assert " A " not in page.split("So far")[1].split("</tr>")[0]


def strand_search(plan: PlanPage) -> str:
    """A search on a line of three live strands that are joined where the pulse comes in alone."""
    run = {"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 300]], "joined": "near"}
    strands = [{"cm": 20 + 25 * k, "role": "live"} for k in range(3)]
    assert plan.save(runs=[run], energizer_at=[-5, -5], strands=strands).status_code == 200, plan.state
    assert post(plan, season="usual").status_code == 200
    step(plan, "checked")
    step(plan, "unit", kv="")
    return step(plan, "lead", kv="")


def expected_kv(page: str) -> list[float]:
    """What each strand should show at the line's end, as the form has it."""
    return [float(text) for text in re.findall(r"healthy, at its end: ([0-9.]+)", page)]


def test_one_strand_lower_than_its_neighbours_is_named_and_counts(plan: PlanPage) -> None:
    page = strand_search(plan)
    well = expected_kv(page)
    assert len(well) == 3
    shown = [f"{kv * share:.2f}" for kv, share in zip(well, (0.3, 0.97, 1.02), strict=True)]
    after = step(plan, "strands", run="line1", at_m="700", strand_kv=shown)
    assert "First line: It is on strand 1" in after
    assert "the others are well" in after
    assert "It is the lowest: look for growth" in after
    assert "Read strand 1 alone from here on" in after
    assert after.split("Half of it lies in")[1] != page.split("Half of it lies in")[1]


def test_strands_low_alike_are_not_one_strand(plan: PlanPage) -> None:
    well = expected_kv(strand_search(plan))
    page = step(plan, "strands", run="line1", at_m="700", strand_kv=[f"{kv / 2:.2f}" for kv in well])
    assert "All live strands are equally low" in page


def test_strands_that_were_not_read_are_asked_for(plan: PlanPage) -> None:
    strand_search(plan)
    for body, field, words in (
        ({"strand_kv": ["", "", ""]}, "trace.strand_kv", "kV: type what at least one strand shows."),
        ({"strand_kv": ["x"]}, "trace.strand_kv", "kV of strand 1"),
        ({"strand_kv": ["3"], "at_m": "9000"}, "trace.at_m", "First line is 700 m long"),
        ({"strand_kv": ["3"], "run": "none"}, "trace.run", "choose a line of this plan"),
    ):
        answer = post(plan, "/steps", **({"what": "strands", "run": "line1", "at_m": "700"} | body))
        assert answer.status_code == 422
        (fault,) = answer.json()["faults"]
        assert fault["path"] == field
        assert words in fault["message"]


def spur_share(page: str) -> int:
    found = re.search(r"About (\d+)% lies on or past the fence that joins at First line, 400 m along", page)
    assert found, page[:600]
    return int(found[1])


def test_fence_on_no_plan_is_said_and_the_search_goes_on(plan: PlanPage) -> None:
    at_the_fence(plan)
    page = step(plan, "spur", run="line1", at_m="400")
    assert "Fence on no plan joins at First line, 400 m along" in page
    first = spur_share(page)
    for at_m, kv, amps in (("100", "2.0", "30"), ("300", "1.8", "30"), ("400", "1.7", "30"), ("600", "1.7", "0")):
        page = step(plan, "read", run="line1", at_m=at_m, kv=kv, amps=amps)
    assert spur_share(page) > first + 10
    assert "unhook it there and read again" in page
    assert "Where it joins: choose a line." in post(plan, "/steps", what="spur").text


def test_places_are_typed_in_the_units_of_the_plan(plan: PlanPage) -> None:
    at_the_fence(plan)
    plan.save(units="imperial")
    page = panel(plan)
    assert "Feet along" in page
    assert "Metres along" not in page
    assert "First line, 2,297 ft</option>" in page
    page = step(plan, "read", run="line1", at_m="1000", kv="2.0", amps="20")
    assert "First line, 1,000 ft along" in page
    page = step(plan, "read", run="line1", at_m="100 m", kv="2.0", amps="20")
    assert "First line, 328 ft along" in page
    told = post(plan, "/steps", what="look", run="line1", at_m="3000").text
    assert "Feet along: First line is 2,297 ft long." in told
    assert "is not understood" in post(plan, "/steps", what="look", run="line1", at_m="far").text
    assert "Feet along" in plan.client.get(f"/plans/{plan.id}/trace/field").text


def test_rods_that_cannot_be_read_are_not_asked_for_again(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="", kv="5.1", amps="9")
    assert "Read kV at the rods, fence on" in panel(plan)
    assert 'data-step="leg" value="rods"' in panel(plan)
    step(plan, "skip", run="", leg="rods")
    page = panel(plan)
    assert "Read kV at the rods" not in page
    assert re.search(r"Rods</td>\s*<td[^>]*>could not be read", page)


def test_a_weak_unit_stops_the_search_before_anybody_walks(plan: PlanPage) -> None:
    plan.draw()
    assert post(plan, season="usual").status_code == 200
    step(plan, "checked")
    page = step(plan, "unit", kv="3.0")
    assert "Stop here: without a fence the unit gives 3.0 of its" in page
    assert "an authorised repairer" in page
    # The lead-out shows what the unit gives: the unit it is.
    assert "Stop here: without a fence" in step(plan, "lead", kv="2.9")


def test_a_well_unit_and_a_poor_lead_out(plan: PlanPage) -> None:
    plan.draw()
    assert post(plan, season="usual").status_code == 200
    step(plan, "checked")
    assert "Stop here" not in step(plan, "unit", kv="9.0")
    assert "Stop here: the lead-out loses 4.0 kV before the fence begins." in step(plan, "lead", kv="5.0")
