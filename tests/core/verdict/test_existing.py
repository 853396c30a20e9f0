"""Lines on and beside existing fences."""

import pytest

from adze.core.animals.strand_rules import Role
from adze.core.basics.status import Status
from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_ground import judge_ground
from adze.services.operations.registry import read_operation
from tests.conftest import simple_plan

LINE = {"id": "r0", "name": "Line", "points": [[0, 0.25], [200, 0.25]]}
COWS = [{"id": "c", "kind": "cow", "schooled": True}]


def old(**more: object) -> dict[str, object]:
    base = {"id": "o", "kind": "old_fence", "name": "Old fence", "points": [[0, 0], [200, 0]], "condition": "carry"}
    return base | more


def plan(*marks: dict[str, object], **changes: object) -> Plan:
    base: dict[str, object] = {"runs": [LINE], "landmarks": list(marks), "stock": COWS, "behind": "old_fence"}
    return simple_plan(**(base | {"strands": []} | changes))


def found(*marks: dict[str, object], **changes: object) -> dict[str, Finding]:
    return {f.title: f for f in judge_ground(plan(*marks, **changes)).findings}


def test_brackets_want_a_fence_behind_them() -> None:
    assert found()["Brackets without a fence"].status is Status.FAILS
    assert "Brackets without a fence" in found(old(points=[[0, 0], [150, 0]]))
    assert "Brackets without a fence" not in found(old(points=[[0, 0], [170, 0]]))


@pytest.mark.parametrize(
    ("condition", "title"),
    [("climbable", "It cannot carry strands"), ("keep", "It cannot carry strands"), (None, "Is it sound?")],
)
def test_only_a_sound_fence_carries_strands(condition: str | None, title: str) -> None:
    assert title in found(old(condition=condition))
    assert title not in found(old(condition="sound"))


@pytest.mark.parametrize(("bracket_cm", "short"), [(19, True), (20, False)])
def test_a_bracket_holds_a_strand_off_metal(bracket_cm: float, short: bool) -> None:
    assert ("Brackets too short" in found(old(made="woven"), bracket_cm=bracket_cm)) == short
    assert "Brackets too short" not in found(old(made="rail"), bracket_cm=bracket_cm)


@pytest.mark.parametrize(
    ("made", "away_m", "title"),
    [
        ("woven", 0.15, "Live strand at old metal"),
        ("woven", 0.25, None),
        ("rail", 0.15, None),
        ("barbed", 0.45, "Barbed wire beside a live strand"),
        ("barbed", 0.55, None),
    ],
)
def test_a_live_line_keeps_off_old_metal(made: str, away_m: float, title: str | None) -> None:
    line = LINE | {"points": [[0, away_m], [200, away_m]]}
    rows = found(old(made=made), runs=[line], behind="")
    assert {"Live strand at old metal", "Barbed wire beside a live strand"} & set(rows) == ({title} if title else set())


def test_the_old_mesh_keeps_its_own_height() -> None:
    deer = [{"id": "d", "kind": "deer"}]
    low = found(old(made="woven", tall_cm=110), stock=deer)["Red deer: over both"]
    assert low.status is Status.MARGINAL
    assert "Red deer: over both" not in found(old(made="woven", tall_cm=190), stock=deer)
    assert "Red deer: over both" not in found(old(made="woven"), stock=deer)


def test_whose_it_is_and_what_it_is_for_horses() -> None:
    assert "The neighbour's fence" in found(old(whose="neighbour"))
    assert "The neighbour's fence" not in found(old(whose="mine"))
    horses = [{"id": "h", "kind": "horse", "schooled": True}]
    assert found(old(made="barbed"), stock=horses)["Old wire with horses"].status is Status.FAILS
    assert found(old(made="woven"), stock=horses)["Old wire with horses"].status is Status.MARGINAL
    assert "Old wire with horses" not in found(old(made="rail"), stock=horses)


def test_offset_and_top_are_taken_as_a_set() -> None:
    whole = plan(old(made="woven", tall_cm=110))
    offset = read_operation({"do": "take_add_on", "top": False}).apply(whole).plan
    both = read_operation({"do": "take_add_on", "top": True}).apply(whole).plan
    assert [s.stands for s in offset.strands] == ["bracket"]
    assert [(s.cm, s.stands, s.role) for s in both.strands[1:]] == [(120, "over", Role.LIVE)]
    labels = {line.label: line.quantity for line in bill(both).lines}
    assert labels["Post-top bracket with insulator, 20 cm over the post"] == pytest.approx(34)
    assert labels["Stand-off bracket with insulator, 15 to 25 cm"] == pytest.approx(34)
    own = read_operation({"do": "stand_strand", "strand": 1, "stands": "post"}).apply(both).plan
    assert "Post-top bracket with insulator, 20 cm over the post" not in {line.label for line in bill(own).lines}
    assert "Steel T-post" in {line.label for line in bill(own).lines}


def test_a_set_without_animals_is_refused() -> None:
    with pytest.raises(ValueError, match="Choose the animals first"):
        read_operation({"do": "take_add_on", "top": True}).apply(plan(old(), stock=[]))
