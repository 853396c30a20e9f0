"""Changes and actions: typed, each with a key that is read back into the same, and refused where it is none."""

import pytest

from adze.core.advice.plan_changes import (
    EVERY_HERD,
    Change,
    ChangeKind,
    apply_remedy,
    key_of,
    read_remedy,
    with_earth_between,
)
from adze.core.animals.strand_rules import Role, Scheme
from adze.core.build.construction import fence_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.verdict.actions import (
    ACTION_WORDS,
    Action,
    ActionKind,
    meeting_action,
    place_action,
    read_action,
)
from tests.conftest import simple_plan

HERD = [{"id": "e", "kind": "ewe", "count": 20}, {"id": "c", "kind": "beef_cow", "count": 5}]
OWN = {"id": "roadside", "name": "Roadside"}


@pytest.fixture
def plan() -> Plan:
    """Two herds, one line, and a construction of its own that no line has."""
    return simple_plan(stock=HERD, fences=[OWN])


@pytest.mark.parametrize("kind", list(ChangeKind))
def test_a_change_is_read_back_from_its_key(kind: ChangeKind) -> None:
    for change in (Change(kind, "x"), Change(kind, "x", "roadside")):
        assert read_remedy(change.key) == (change,)
    pair = Change(kind, "x"), Change(ChangeKind.RODS, "4")
    assert read_remedy(key_of(pair)) == pair


@pytest.mark.parametrize("kind", list(ActionKind))
def test_an_action_is_read_back_from_its_key_and_has_words(kind: ActionKind) -> None:
    action = Action(kind, ("a", "12.0"))
    assert read_action(action.key) == action
    assert action.words == ACTION_WORDS[kind]


def test_only_a_meeting_has_another_answer() -> None:
    join = meeting_action("a", "b", (1.5, -2.0), joined=True)
    assert join.key == "joined:a:b:1.50:-2.00"
    assert join.opposite == meeting_action("a", "b", (1.5, -2.0), joined=False)
    assert join.opposite.opposite == join
    assert place_action(ActionKind.SWITCH, "a", 12.34) == Action(ActionKind.SWITCH, ("a", "12.3"))
    assert place_action(ActionKind.SWITCH, "a", 12.34).opposite is None


def test_rods_energizer_and_growth_are_changed(plan: Plan) -> None:
    assert apply_remedy(plan, "rods:7").rods.count == 7
    assert apply_remedy(plan, "energizer:mains_6").energizer == "mains_6"
    cut = apply_remedy(plan, "grass:none")
    assert cut.grass == "none"
    assert {run.grass for run in cut.runs} == {None}


def test_strands_are_changed_of_one_construction_or_of_all_other_lines(plan: Plan) -> None:
    here = apply_remedy(plan, Change(ChangeKind.SCHEME, Scheme.ALTERNATE.value).key)
    assert here.scheme is Scheme.ALTERNATE
    assert here.fences[0].scheme is not Scheme.ALTERNATE
    there = apply_remedy(plan, Change(ChangeKind.SCHEME, Scheme.ALTERNATE.value, "roadside").key)
    assert there.scheme is not Scheme.ALTERNATE
    assert there.fences[0].scheme is Scheme.ALTERNATE
    assert apply_remedy(plan, "apron:on").apron
    assert apply_remedy(plan, "bottom:off").bottom_off


def test_earth_strands_come_between_live_ones(plan: Plan) -> None:
    plan = changed(plan, {"strands": [{"cm": cm} for cm in (30, 60, 90)]})
    strands = with_earth_between(plan)
    assert len(strands) > len(fence_of(plan))
    assert [s.cm for s in strands] == sorted(s.cm for s in strands)
    between = [i for i, s in enumerate(strands) if s.role is Role.EARTH]
    assert between
    assert all(strands[i - 1].role is strands[i + 1].role is Role.LIVE for i in between)
    assert fence_of(apply_remedy(plan, "earth:between")) == strands


def test_herds_are_schooled_and_shorn_all_or_by_kind(plan: Plan) -> None:
    assert [h.schooled for h in apply_remedy(plan, f"schooled:{EVERY_HERD}").stock] == [True, True]
    assert [h.schooled for h in apply_remedy(plan, "schooled:ewe").stock] == [True, False]
    assert not apply_remedy(plan, "shorn:ewe").stock[0].woolled


def test_changes_joined_by_a_plus_are_done_in_turn(plan: Plan) -> None:
    both = apply_remedy(plan, "rods:5+apron:on")
    assert both.rods.count == 5
    assert both.apron
    assert both == apply_remedy(apply_remedy(plan, "apron:on"), "rods:5")


@pytest.mark.parametrize(
    ("key", "says"),
    [
        ("", "not known"),
        ("tea:1", "not known"),
        ("rods:many", "not a number of rods"),
        ("rods:", "not a number of rods"),
        ("apron:on@gone", "no longer in the plan"),
        ("switch:line1", "names too little"),
        ("rods:4+tea:1", "not known"),
        ("drive-over:nothing", "no longer in the plan"),
    ],
)
def test_what_is_neither_is_refused_in_words(plan: Plan, key: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        apply_remedy(plan, key)
