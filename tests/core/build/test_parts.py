"""Parts lists of fences of different kinds against lists counted by hand, and what must hold of any list."""

import random

import pytest

from adze.core.advice.beginnings import begun
from adze.core.basics.status import Status
from adze.core.build.ends import bags_for, end_kind, end_kinds
from adze.core.build.joints import joints_of
from adze.core.build.parts import bill, parts_by_line
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan

SUPPLY = {"Battery 1 J", "Lead-out cable, 20 kV double insulated", "Lightning diverter", "Pulse tester with amps"}
RING = [[0, 0], [80, 0], [80, 60], [0, 60], [0, 0]]


def line(points: list[list[float]], key: str = "r0", **more: object) -> dict[str, object]:
    return {"id": key, "name": key.title(), "points": points} | more


def fence(plan: Plan) -> dict[str, float]:
    """The list without the energizer's side: part, or label where it has no key, and how many."""
    shown = [x for x in bill(plan).lines if x.group not in ("Power", "Earth", "Signs")]
    return {x.part or x.label: x.quantity for x in shown}


def gate(at_m: float, style: str, **more: object) -> dict[str, object]:
    return {"id": "g", "kind": "gate", "run": "r0", "at_m": at_m, "name": "Gate", "style": style} | more


def test_a_paddock_of_tape() -> None:
    """280 m in a ring, three tapes of 40 mm on timber every 4 m, a gate of ropes fed under."""
    plan = simple_plan(
        runs=[line(RING)], strands=[{"cm": cm} for cm in (45, 80, 115)], conductor="tape_40", post="timber",
        post_spacing_m=4, fixtures=[gate(40, "rope", width_m=4)],
    )  # fmt: skip
    assert fence(plan) == {
        "stiff_post": 1 + 3 + 2, "Timber post": 9 + 9 + 14 + 19 + 14, "Tape clamp, screwed on": 195,
        "tape_end": 12, "tape_corner": 9, "Tape 40 mm, stainless": 3 * (280 * 1.05 + 2), "tape_tensioner": 6,
        "tape_buckle": 3, "link_cable": 8, "tape_clamp": 2 + 1, "joint_clamp": 1, "gate_rope": 2,
        "under_gate_cable": pytest.approx(4 + 2 * (0.5 + 0.45 + 0.6)), "duct": 5, "duct_seal": 2,
        "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_a_strip_of_polywire_that_moves() -> None:
    """150 m on light posts, one wire on a reel, for days: no brace, no strainer, no spring."""
    plan = simple_plan(
        runs=[line([[0, 0], [150, 0]], use="temporary")], strands=[{"cm": 90}], conductor="poly_steel_9",
        post="plastic", post_spacing_m=8, service="strip",
    )  # fmt: skip
    assert fence(plan) == {
        "stiff_post": 2, "Light plastic post": 18, "poly_end": 2, "Polywire, 9 stainless 0.20": 159, "reel": 1,
        "joint_clamp": 1, "poly_joiner": 1, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_netting_brings_its_own() -> None:
    plan = simple_plan(runs=[line([[0, 0], [120, 0]])], strands=[], netting="sheep_90", post="plastic")
    assert fence(plan) == {
        "Sheep netting, 90 cm": 120,
        "joint_clamp": 1,
        "poly_joiner": 1,
        "cutout_switch": 1,
        "switch_lead": 2,
    }


def test_five_strands_of_steel_with_a_gate() -> None:
    """200 m straight, gate with handles half way, fed under: two strains of 100 m, two ends, two gate posts."""
    heights = (25, 45, 65, 85, 110)
    plan = simple_plan(
        runs=[line([[0, 0], [200, 0]])], strands=[{"cm": cm} for cm in heights], post="steel_t", post_spacing_m=6,
        fixtures=[gate(100, "handle", width_m=4)],
    )  # fmt: skip
    assert fence(plan) == {
        "end_post": 4, "brace_kit": 4, "Steel T-post": 32, "Clip on the front of a steel post": 160,
        "end_insulator": 20, "2.5 mm high-tensile steel": 5 * (210 + 2) + 4, "tube": 4, "strainer": 10,
        "joint_clamp": 4 * 4 + 2 + 2, "gate_set": 5, "gate_insulator": 5,
        "under_gate_cable": pytest.approx(4 + 2 * 1.35),
        "duct": 5, "duct_seal": 2, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_seven_in_turn_take_clips_and_two_cores() -> None:
    """Live and earth in turn, 60 m, a gate of springs half way: earth strands clipped and joined like the live ones."""
    rows = [(15, "live"), (30, "earth"), (45, "live"), (62, "earth"), (80, "live"), (100, "earth"), (120, "live")]
    plan = simple_plan(
        runs=[line([[0, 0], [60, 0]])], strands=[{"cm": cm, "role": role} for cm, role in rows], post="timber",
        fixtures=[gate(30, "spring", width_m=3)],
    )  # fmt: skip
    assert fence(plan) == {
        "end_post": 4, "brace_kit": 4, "Timber post": 8, "Screw-in ring": 4 * 8, "end_insulator": 4 * 4,
        "earth_clip": 3 * 8, "2.5 mm high-tensile steel": pytest.approx(7 * (63 + 2) + 4 * 1.2, abs=0.5),
        "tube": 4 * 1.2, "strainer": 7 * 2, "joint_clamp": 4 * (3 + 2) + 2 * 2 + 3, "spring_gate": 4,
        "under_gate_cable": pytest.approx(2 * (3 + 2 * (0.5 + 0.15 + 0.6))), "duct": 4, "duct_seal": 2,
        "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_brackets_on_an_old_fence_need_no_ends() -> None:
    """120 m beside a sound fence: one strand for cows on brackets every 6 m, tied off at both ends."""
    cows = [{"id": "c", "kind": "cow", "schooled": True}]
    plan = simple_plan(runs=[line([[0, 0], [120, 0]])], strands=[], stock=cows, behind="old_fence")
    assert fence(plan) == {
        "bracket": 20, "staple": 20, "end_insulator": 2, "2.5 mm high-tensile steel": 127, "strainer": 1,
        "joint_clamp": 2, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_coated_wire_for_horses() -> None:
    """280 m in a ring, three coated wires on timber every 5 m, a gate with handles: nine sides pulled from."""
    plan = simple_plan(
        runs=[line(RING)], strands=[{"cm": cm} for cm in (60, 95, 130)], conductor="steel_coated", post="timber",
        post_spacing_m=5, stock=[{"id": "h", "kind": "horse", "schooled": True}],
        fixtures=[gate(40, "handle", width_m=4)],
    )  # fmt: skip
    assert fence(plan) == {
        "end_post": 1 + 3 + 2, "brace_kit": 1 + 2 * 3 + 2, "Timber post": 7 + 7 + 11 + 15 + 11,
        "Screw-in ring": 3 * 51, "end_insulator": 3 * 4, "corner_insulator": 3 * 3,
        "2.5 mm steel, polymer coated to 8 mm": 3 * (280 * 1.05 + 2), "strainer": 3 * 2,
        "joint_clamp": 4 * 2 + 2 + 2, "gate_set": 3, "gate_insulator": 3,
        "under_gate_cable": pytest.approx(4 + 2 * (0.5 + 0.6 + 0.6)),
        "duct": 5, "duct_seal": 2, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_coated_wire_has_its_joiners() -> None:
    plan = simple_plan(runs=[line([[0, 0], [900, 0]])], strands=[{"cm": 90}, {"cm": 120}], conductor="steel_coated")
    found = fence(plan)
    assert (found["coated_joiner"], found["spring"], found["strainer"]) == (2 * 2, 2, 2)
    assert found["brace_kit"] == 2


def test_a_spine_of_two_strands_under_a_road() -> None:
    """400 m, live over earth on fibreglass every 8 m, a road of 6 m: two cores, each in its duct."""
    rows = [{"cm": 50, "role": "live"}, {"cm": 85, "role": "earth"}]
    road = {"id": "x", "kind": "crossing", "run": "r0", "at_m": 50, "name": "Road", "width_m": 6}
    plan = simple_plan(
        runs=[line([[0, 0], [400, 0]], use="spine")], strands=rows, fixtures=[road], post="fibreglass",
        post_spacing_m=8,
    )  # fmt: skip
    assert fence(plan) == {
        "end_post": 2, "brace_kit": 2, "Fibreglass post": 6 + 43, "end_insulator": 2, "earth_clip": 49,
        "2.5 mm high-tensile steel": 2 * (420 + 1), "strainer": 2, "spring": 2, "joint_clamp": 2 * 2 + 3,
        "under_gate_cable": pytest.approx(2 * (6 + 2 * (0.5 + 0.5 + 0.6))), "duct": 2 * 6 + 1, "duct_seal": 2 * 2,
        "sleeve": 1, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def _begun(key: str) -> Plan:
    return begun(Plan.model_validate({"name": "Small site"}), key)


def test_hives() -> None:
    """9 by 6 m, five polywires on light posts every 3 m, a gate with handles that is fed under."""
    assert fence(_begun("hives")) == {
        "stiff_post": 1 + 3 + 2, "Light plastic post": 1 + 1 + 1 + 2 + 1, "poly_end": 5 * 4, "poly_corner": 5 * 3,
        "Polywire, 9 stainless 0.20": pytest.approx(5 * (31.5 + 2), abs=0.5), "poly_joiner": 4 * 4 + 2 + 1,
        "joint_clamp": 1, "gate_set": 5, "gate_insulator": 5,
        "under_gate_cable": pytest.approx(2 + 2 * (0.5 + 0.2 + 0.6)), "duct": 3,
        "duct_seal": 2, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_a_square_round_a_nest() -> None:
    """10 by 10 m, six polywires, no gate: it is put up round a bird and taken off again."""
    assert fence(_begun("nest")) == {
        "stiff_post": 1 + 3, "Light plastic post": 4 * 3, "poly_end": 6 * 2, "poly_corner": 6 * 3,
        "Polywire, 9 stainless 0.20": 6 * (42 + 1), "poly_joiner": 5 * 2 + 1, "joint_clamp": 1,
    }  # fmt: skip


def test_young_trees_in_a_row() -> None:
    """18 by 5 m round three trees, four polywires."""
    assert fence(_begun("trees")) == {
        "stiff_post": 1 + 3, "Light plastic post": 5 + 1 + 5 + 1, "poly_end": 4 * 2, "poly_corner": 4 * 3,
        "Polywire, 9 stainless 0.20": pytest.approx(4 * (46 * 1.05 + 1), abs=0.8), "poly_joiner": 3 * 2 + 1,
        "joint_clamp": 1, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_a_training_pen() -> None:
    """15 by 10 m inside a wall: one polywire on brackets every 3 m, a gate of one handle."""
    assert fence(_begun("training")) == {
        "bracket": 2 + 2 + 3 + 4 + 3 + 1, "staple": 2 + 2 + 3 + 4 + 3 + 1, "poly_end": 4, "poly_corner": 3,
        "Polywire, 9 stainless 0.20": pytest.approx(50 * 1.05 + 2, abs=0.5), "poly_joiner": 2 + 1, "joint_clamp": 1,
        "gate_set": 1, "gate_insulator": 1,
        "under_gate_cable": pytest.approx(3 + 2 * (0.5 + 0.3 + 0.6), abs=0.01), "duct": 4,
        "duct_seal": 2, "cutout_switch": 1, "switch_lead": 2,
    }  # fmt: skip


def test_a_road_takes_a_duct_for_each_core() -> None:
    rows = [{"cm": 40}, {"cm": 70, "role": "earth"}, {"cm": 100}]
    road = {"id": "x", "kind": "crossing", "run": "r0", "at_m": 50, "name": "Road", "width_m": 6}
    found = fence(simple_plan(runs=[line([[0, 0], [100, 0]])], strands=rows, fixtures=[road]))
    assert found["duct"] == 2 * 6 + 2 * 0.5
    assert found["duct_seal"] == 4
    assert found["sleeve"] == 1
    wide = fence(simple_plan(runs=[line([[0, 0], [100, 0]])], strands=rows, fixtures=[road | {"width_m": 7}]))
    assert wide["sleeve"] == 2


@pytest.mark.parametrize(
    ("kind", "parts"),
    [
        ("braced", {"end_post": 2, "brace_kit": 2}),
        ("block", {"end_post": 2, "breast_block": 2}),
        ("prop", {"end_post": 2, "prop_stake": 2}),
        ("concreted", {"composite_end": 2, "concrete_bag": 6}),
        ("stiff", {"stiff_post": 2}),
    ],
)
def test_ends_of_each_kind(kind: str, parts: dict[str, float]) -> None:
    found = fence(simple_plan(end_kind=kind))
    known = {"end_post", "brace_kit", "breast_block", "prop_stake", "composite_end", "concrete_bag", "stiff_post"}
    assert {key: n for key, n in found.items() if key in known} == parts


def test_each_end_may_be_of_another_kind() -> None:
    """One end behind a breast block, the other in concrete, the gate's two posts propped: a post each."""
    run = line([[0, 0], [400, 0]], start_end="block", far_end="concreted")
    plan = simple_plan(runs=[run], strands=[{"cm": 50}, {"cm": 85}], fixtures=[gate(200, "handle", posts="prop")])
    found = fence(plan)
    assert (found["end_post"], found["breast_block"], found["prop_stake"]) == (1 + 2, 1, 2)
    assert (found["composite_end"], found["concrete_bag"]) == (1, 3)
    assert "brace_kit" not in found
    assert end_kinds(plan) == {"braced", "block", "concreted", "prop"}


def test_an_end_shared_by_lines_is_of_the_kind_that_its_owner_says() -> None:
    rows = [line([[0, 0], [100, 0]], "a", far_end="block"), line([[100, 0], [200, 0]], "b", start_end="stiff")]
    found = fence(simple_plan(runs=rows))
    assert (found["end_post"], found["brace_kit"], found["breast_block"]) == (3, 2, 1)
    assert "stiff_post" not in found


def test_the_strain_chooses_the_end() -> None:
    kinds = {key: end_kind(simple_plan(conductor=key)) for key in ("steel_25", "steel_20", "steel_16", "tape_40")}
    assert kinds == {"steel_25": "braced", "steel_20": "braced", "steel_16": "stiff", "tape_40": "stiff"}


def test_concrete_fills_the_hole_less_the_post() -> None:
    """A hole of 22 cm and 95 cm holds 36.1 litres, the post 2.7: 2.8 bags of 12 litres."""
    assert [bags_for(n) for n in (1, 2, 4)] == [3, 6, 12]


def drawn(rng: random.Random) -> Plan:
    """Some lines that meet at their ends or branch off, of two kinds of fence."""
    runs, spots = [], [[0.0, 0.0]]
    for i in range(rng.randint(1, 6)):
        start = rng.choice(spots)
        end = [round(start[0] + rng.uniform(-300, 300), 1), round(start[1] + rng.uniform(20, 300), 1)]
        spots.append(end)
        runs.append(line([start, end], f"r{i}", fence="tape" if rng.random() < 0.4 else None))
    tape = {
        "id": "tape",
        "name": "Tape",
        "conductor": "tape_40",
        "post": "timber",
        "strands": [{"cm": 60}, {"cm": 110}],
    }
    gates = [gate(10, rng.choice(["handle", "rope", "spring"]), run=rng.choice(runs)["id"])] * (rng.random() < 0.5)
    return simple_plan(runs=runs, fences=[tape], strands=[{"cm": 30}, {"cm": 90}], fixtures=gates)


@pytest.mark.parametrize("seed", range(25))
def test_any_list_adds_up_over_its_lines_and_shrinks_with_them(seed: int) -> None:
    plan = drawn(random.Random(seed))
    whole = {(x.group, x.label): x.quantity for x in bill(plan).lines}
    added: dict[tuple[str, str], float] = {}
    for part in parts_by_line(plan):
        for group, label, quantity, _ in part.rows:
            added[group, label] = added.get((group, label), 0.0) + quantity
    assert added == {key: pytest.approx(n, abs=0.35) for key, n in whole.items()}
    assert all(n > 0 for n in whole.values())
    fasteners: dict[str, int] = {}
    for joint in joints_of(plan):
        if joint.part:
            fasteners[joint.part] = fasteners.get(joint.part, 0) + joint.fasteners
    joined = {x.part: x.quantity for x in bill(plan).lines if x.group == "Joints" or x.part == "rod_clamp"}
    assert joined == fasteners
    fewer = replaced(plan, runs=plan.runs[:-1], fixtures=tuple(f for f in plan.fixtures if f.run != plan.runs[-1].id))
    if fewer.runs:
        less = {
            (x.group, x.label): x.quantity for x in bill(fewer).lines if x.group in ("Conductor", "Gates and crossings")
        }
        assert all(n <= whole.get(key, 0) + 0.01 for key, n in less.items())


def test_a_plan_without_lines_needs_nothing() -> None:
    assert bill(simple_plan(runs=[])).lines == ()
    assert parts_by_line(simple_plan(runs=[])) == ()
    assert judge(simple_plan(runs=[])).status is not Status.HOLDS
