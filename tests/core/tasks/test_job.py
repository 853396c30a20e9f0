"""The job of a fence: its steps, their parts and figures, the nest's job, and taking it down."""

import random
from collections import Counter
from datetime import UTC, datetime, timedelta

import pytest

from adze.core.advice.beginnings import begun
from adze.core.build.parts import bill, needs_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.stages import Incomplete
from adze.core.tasks import how
from adze.core.tasks.figures import end_figures, give_cm, tie_figures, twitch_m
from adze.core.tasks.job import job_of
from adze.core.tasks.nest import bird_clock, kit_of, loads
from adze.core.tasks.schedule import Hand, schedule
from adze.core.tasks.tools import tools_for
from tests.conftest import simple_plan
from tests.core.build.test_parts import drawn, gate, line

NOON = datetime(2027, 5, 12, 12, tzinfo=UTC)


def test_a_brace_s_figures_by_hand() -> None:
    """Strands at 60 and 100 cm: rail 2.5 times 1.00 m at 80 cm; twitch 2 x 2 x sqrt(2.5^2 + 0.8^2) + 10 %."""
    found = end_figures(simple_plan(strands=[{"cm": 60}, {"cm": 100}]))
    assert (found.kind, found.rail_m, found.rail_cm) == ("braced", 2.5, 80)
    assert found.twitch_m == pytest.approx(11.5, abs=0.05)
    assert twitch_m(3.0, 400) == pytest.approx(4 * 5 * 1.1)


def test_a_strand_gives_as_a_taut_string() -> None:
    """w = F L / 4 T: 5 kg on 5 m at 1 kN gives 6.1 cm; twice the strain, half the give."""
    assert give_cm(5, 1.0) == pytest.approx(6.125)
    assert give_cm(5, 2.0) == pytest.approx(give_cm(5, 1.0) / 2)
    with pytest.raises(ValueError, match="strain it first"):
        give_cm(5, 0)


def test_a_tail_reaches_from_the_top_to_the_lowest_live_strand() -> None:
    rows = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 110}]
    assert tie_figures(simple_plan(strands=rows)).top_tail_cm == 110 - 30 + 15


@pytest.mark.parametrize("seed", range(12))
def test_every_part_is_taken_by_a_step_that_names_it(seed: int) -> None:
    plan = drawn(random.Random(seed))
    found = job_of(plan)
    taken: Counter[str] = Counter()
    for step in found.steps:
        for label, quantity, _ in step.parts:
            assert any(label in line for line in step.how), (step.key, label)
            taken[label] += quantity
    at_hand = {"Power"}  # the unit, its supply and the tester stand in the shed until they are hung
    for need in needs_of(plan):
        if need.quantity > 0 and need.group not in at_hand:
            assert taken[need.label] > 0, need.label


def test_steps_wait_for_what_they_need() -> None:
    plan = simple_plan(fixtures=[gate(200, "rope", run="line1", width_m=4)])
    steps = {step.key: step for step in job_of(plan).steps}
    assert steps["services"].is_hold
    assert "services" in steps["line1/ends"].after
    assert "line1/ends" in steps["line1/guide"].after
    assert steps["g/sealed"].after == ("g/trench",)
    assert "g/sealed" in steps["g/gate"].after
    assert set(steps["out"].after) >= {"line1/strands", "rods", "lead", "g/gate"}
    assert steps["wanted"].is_hold
    assert steps["stock"].after == ("tidy", "as_built")


def test_own_minutes_take_the_place_of_the_usual() -> None:
    plan = simple_plan()
    usual = {step.key: step.minutes for step in job_of(plan).steps}
    slow = {step.key: step.minutes for step in job_of(plan, {"driven_post": 60.0}).steps}
    assert slow["line1/posts"] == pytest.approx(10 * usual["line1/posts"])
    assert slow["line1/ends"] == usual["line1/ends"]


def test_schools_change_what_is_said() -> None:
    by_hand = changed(simple_plan(), {"work": {"turns": 7, "joint": "twist", "tension": "figure"}})
    how = " ".join(line for step in job_of(by_hand).steps for line in step.how)
    assert "Finish with 7 turns" in how
    assert "wind the tails back" in how
    assert "kN on the strainer's gauge" in how


def test_a_rotary_hammer_takes_half_the_time() -> None:
    by_hand, rotary = simple_plan(), changed(simple_plan(), {"work": {"rods": "rotary"}})
    minutes = [{step.key: step.minutes for step in job_of(plan).steps}["rods"] for plan in (by_hand, rotary)]
    assert minutes[1] == minutes[0] / 2


def test_a_rail_under_one_high_strand_alone_is_at_four_fifths() -> None:
    assert end_figures(simple_plan(strands=[{"cm": 30}, {"cm": 100}])).rail_cm == 80
    assert end_figures(simple_plan(strands=[{"cm": 120}])).rail_cm == 96


def test_light_lines_have_neither_braces_nor_strainers() -> None:
    strip = simple_plan(conductor="poly_steel_9", post="plastic", strands=[{"cm": 90}])
    found = job_of(strip)
    assert not any("Brace post" in line for step in found.steps for line in step.how)
    assert not [step for step in found.steps if step.phase in ("tension", "guide")]


def test_nothing_drawn_has_no_steps() -> None:
    with pytest.raises(Incomplete, match="Draw the fence first"):
        job_of(simple_plan(runs=[]))


def test_round_a_nest_the_kit_and_the_covered_eggs_come_first() -> None:
    found = job_of(begun(Plan(name="Nest"), "nest"))
    assert found.is_nest
    order = [step.key for step in found.steps]
    assert order[:5] == ["go", "rehearse", "kit", "scan", "cover"]
    assert [s.key for s in found.holds] == ["go", "rehearse", "kit", "uncover", "watch", "gone"]


def test_the_kit_of_a_nest_is_what_its_list_has() -> None:
    plan = begun(Plan(name="Nest"), "nest")
    kit, listed = dict(kit_of(plan)), {line.label: line.quantity for line in bill(plan).lines}
    assert listed["Earth rod 1 m × 16 mm, galvanised"] == 3
    # Three round rods of 16 mm, a metre long, at the density of steel, and 1.5 kg of clamps and lead.
    assert kit["3 earth stakes of 1 m, clamps and lead"] == pytest.approx(3 * 1.578 + 1.5, abs=0.1)
    assert f"{listed['Light plastic post']:g} posts with their insulators on" in kit
    assert "Battery of 75 Ah, charged" in kit
    assert "Deep-cycle battery 12 V 75 Ah, pair" in listed
    assert "Lightning diverter" not in kit
    assert "Lightning diverter" not in listed
    own = tuple(kit.items())
    assert loads(own, 2)[0] == pytest.approx(loads(own, 1)[0] / 2)
    assert 45 < loads(own, 1)[0] < 55
    assert [loads(own, people)[1] for people in (1, 2, 4)] == [4, 2, 1]  # at most 15 kg a walk


def test_a_nest_is_left_for_a_week_before_the_round_and_longer_before_its_removal() -> None:
    steps = job_of(begun(Plan(name="Nest"), "nest")).steps
    laid = schedule(steps, [Hand("A", "leader"), Hand("B", "any")], 8.0)
    day = {key: int(end // laid.day) for key, end in laid.ends.items()}
    assert day["rounds"] - day["watch"] >= 7
    assert day["remove"] > day["rounds"]
    assert any("300 m or more away" in line for step in steps if step.key == "gone" for line in step.how)


@pytest.mark.parametrize(
    ("minutes", "covered", "out", "words", "loud"),
    [
        (3, False, None, "3 minutes since it left", False),
        (6, False, None, "cover them now", True),
        (25, True, None, "25 minutes since it left", False),
        (31, True, None, "longer than rehearsed", True),
        (80, True, 50, "80 minutes since it left", False),
        (100, True, 61, "take the fence away", True),
    ],
)
def test_the_clock_is_loud_when_a_limit_passes(
    minutes: float, covered: bool, out: float | None, words: str, loud: bool
) -> None:
    left = NOON - timedelta(minutes=minutes)
    gone = NOON - timedelta(minutes=out) if out else None
    clock = bird_clock(left, left if covered else None, gone, None, NOON)
    assert clock is not None
    assert words in clock.says
    assert clock.is_loud is loud


def test_the_clock_stops_when_the_bird_is_back() -> None:
    assert bird_clock(NOON, NOON, NOON, NOON, NOON) is None
    assert bird_clock(None, None, None, None, NOON) is None


def test_taking_down_begins_with_the_stock_and_ends_in_the_shed() -> None:
    down = changed(simple_plan(), {"work": {"taking_down": True}})
    found = job_of(down)
    assert found.steps[0].key == "down:stock"
    assert found.steps[-1].key == "down:shed"
    assert any("off before you cut anything" in line for step in found.steps for line in step.how)


def test_brackets_are_a_step_of_their_own() -> None:
    cows = [{"id": "h", "kind": "beef_cow", "count": 10, "schooled": True}]
    plan = simple_plan(runs=[line([[0, 0], [120, 0]])], strands=[], stock=cows, behind="old_fence")
    steps = {step.key.rpartition("/")[2]: step for step in job_of(plan).steps}
    brackets = steps["posts"]
    assert brackets.title.startswith("Brackets of")
    assert any("pilot hole of 6 mm" in line for line in brackets.how)
    assert {label for label, _, _ in brackets.parts} == {
        "Stand-off bracket with insulator, 15 to 25 cm",
        "Fence staple 40 mm, galvanised, barbed",
    }
    assert not any("driver" in tool for tool in brackets.tools)
    assert "insulators" not in steps
    labels = {tool.label for tool in tools_for(plan)}
    assert "Drill, bit of 6 mm" in labels
    assert "Post driver" not in labels


def test_posts_in_rock_are_told_how() -> None:
    plan = simple_plan(runs=[line([[0, 0], [200, 0]])])
    said = {soil: " ".join(how.post_lines(changed(plan, {"soil": soil}), 0, 0)) for soil in ("loam", "gravel")}
    assert "rotary hammer first" in said["gravel"]
    assert "rotary hammer" not in said["loam"]


def test_a_nest_without_stakes_has_no_step_for_them() -> None:
    plan = begun(Plan(name="Nest"), "nest")
    bare = changed(plan, {"rods": plan.rods.model_dump() | {"count": 0}})
    assert "earth" not in {step.key for step in job_of(bare).steps}
    assert not [thing for thing, _ in kit_of(bare) if "stake" in thing]
