"""The verdict on the animals: what raises their kV, training one by one, the old fence, how long it stands."""

from datetime import date

import pytest

from adze.core.advice.plan_changes import apply_remedy
from adze.core.animals.strand_checks import check, smallest_mend
from adze.core.animals.strand_rules import Duty, Role, Strand
from adze.core.basics.status import Status
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of, wanted_by, wanted_of
from adze.core.tables.services import SERVICE_LIVES
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge import judge
from adze.core.verdict.judge_ground import judge_ground
from adze.core.verdict.judge_stock import judge_stock
from tests.conftest import simple_plan


def found(**changes: object) -> dict[str, Finding]:
    return {f.title: f for f in judge_stock(simple_plan(**changes)).findings}


def herd(kind: str = "beef_cow", **more: object) -> dict[str, object]:
    return {"id": "h", "kind": kind, "count": 2} | more


@pytest.mark.parametrize(
    ("more", "kv", "words"),
    [
        ({"schooled": True}, 2.5, "beef cow, trained"),
        ({}, 3.0, "beef cow, new to the fence"),
        ({"shoulder_cm": 160, "schooled": True}, 3.0, "beef cow, large, trained"),
        ({"shoulder_cm": 154, "schooled": True}, 2.5, "beef cow, trained"),
        ({"thick_coated": True, "schooled": True}, 3.0, "beef cow, thick-coated, trained"),
        ({"sex": "entire", "schooled": True}, 3.5, "beef cow, bold, new to the fence"),
        ({"bold": True, "thick_coated": True, "shoulder_cm": 160}, 4.5, "beef cow, large, thick-coated, bold, new"),
    ],
)
def test_size_coat_boldness_and_being_new_raise_the_kv(more: dict[str, object], kv: float, words: str) -> None:
    plan = simple_plan(stock=[herd(**more)])
    assert wanted_of(plan) == kv
    assert wanted_by(plan).startswith(words)


def test_a_fox_that_has_been_in_before_wants_more() -> None:
    assert wanted_of(simple_plan(stock=[herd("fox", bold=True)])) == wanted_of(simple_plan(stock=[herd("fox")])) + 0.5
    assert found(stock=[herd("fox", bold=True)])["Fox: bold"].figure == "5.5 kV"


def test_what_is_kept_out_is_never_schooled() -> None:
    plan = simple_plan(stock=[herd("fox"), herd("ewe") | {"id": "e"}])
    taught = apply_remedy(plan, "schooled:all")
    assert [h.schooled for h in taught.stock] == [False, True]
    wide = (Strand(10, Role.LIVE), Strand(60, Role.LIVE))
    for kind, word in (("fox", "closer"), ("ewe", "Train")):
        animals = animals_of(simple_plan(stock=[herd(kind)]))
        pulse = next(f for f in check(animals, Duty.HOLD, wide) if f.check == "pulse")
        assert word in smallest_mend(animals, Duty.HOLD, wide, pulse).words()


def training(*animals: tuple[str, int]) -> dict[str, object]:
    rows = [{"name": name, "touches": touches} for name, touches in animals]
    return {"came": date(2026, 5, 1), "touches": 40, "animals": rows}


def test_touches_one_by_one_name_who_is_left() -> None:
    day = date(2026, 5, 20)
    one = found(stock=[herd(training=training(("Bella", 2), ("Juno", 1)))], on_date=day)["Beef cow: in the pen"]
    assert one.figure == "3"
    assert "Still to learn: Juno" in one.reason
    both = found(stock=[herd(training=training(("Bella", 2), ("Juno", 3)))], on_date=day)
    assert "Beef cow: ready to be let out" in both
    some = found(stock=[herd(count=5, training=training(("Bella", 2)))], on_date=day)["Beef cow: in the pen"]
    assert "4 not noted yet" in some.reason


def old_fence(condition: str) -> dict[str, object]:
    return {"id": "o", "kind": "old_fence", "points": [[0, -1], [100, -1]], "condition": condition}


def test_the_old_fence_gets_what_its_trouble_asks() -> None:
    title = "Trouble with the old fence"
    stock = [herd(schooled=True)]
    assert title not in found(stock=stock)
    bare = found(stock=stock, trouble="rubbing")[title]
    assert bare.status is Status.MARGINAL
    assert "No existing fence is drawn" in bare.reason
    sound = {"stock": stock, "trouble": "rubbing", "landmarks": [old_fence("carry")], "strands": []}
    assert found(**sound, behind="old_fence")[title].status is Status.HOLDS
    rotten = found(**{**sound, "landmarks": [old_fence("keep")]}, behind="old_fence")[title]
    assert "not sound enough" in rotten.mend


@pytest.mark.parametrize(
    ("service", "conductor", "post", "status"),
    [
        ("strip", "poly_steel_9", "plastic", Status.HOLDS),
        ("years", "poly_steel_9", "timber", Status.MARGINAL),
        ("years", "steel_25", "timber", Status.HOLDS),
        ("years", "steel_25", "plastic", Status.MARGINAL),
        ("season", "poly_steel_3", "fibreglass", Status.HOLDS),
        ("", "steel_25", "timber", None),
    ],
)
def test_parts_last_as_long_as_the_fence_is_to_stand(
    service: str, conductor: str, post: str, status: Status | None
) -> None:
    one = found(stock=[herd()], service=service, conductor=conductor, post=post).get("How long it is to stand")
    assert (one and one.status) == status


@pytest.mark.parametrize("service", list(SERVICE_LIVES))
def test_the_usual_parts_for_a_service_last_it(service: str) -> None:
    life = SERVICE_LIVES[service]
    one = found(stock=[herd()], service=service, conductor=life.conductor, post=life.post)["How long it is to stand"]
    assert one.status is Status.HOLDS


def test_a_handle_gate_holds_only_what_knows_it() -> None:
    def titles(**more: object) -> set[str]:
        gate = {"id": "g", "kind": "gate", "run": "line1", "at_m": 50, "name": "Gate"} | more
        plan: Plan = simple_plan(stock=[herd(schooled=more.pop("schooled", False))], fixtures=[gate])
        return {f.title for f in judge_ground(plan).findings}

    assert "A light gate before new stock" in titles()
    assert "A light gate before new stock" not in titles(style="drive_over")


def test_the_hard_jolt_is_told_for_wild_animals_that_want_five_kv() -> None:
    told = {
        kind: any("One hard shock" in words for words in judge_stock(simple_plan(stock=[herd(kind)])).cautions)
        for kind in ("deer", "fox", "rabbit", "ewe")
    }
    assert told == {"deer": True, "fox": True, "rabbit": False, "ewe": False}


@pytest.mark.parametrize(
    ("kind", "stored_j", "released_j", "is_too_little"),
    [
        ("fox", 1.0, 0.7, True),  # more than 1 J stored is asked
        ("fox", 1.02, 0.7, False),
        ("bear", 1.4, 0.98, True),  # at least 1 J released is asked
        ("bear", 1.4, 1.0, False),
        ("ewe", 0.3, 0.2, False),
    ],
)
def test_predators_ask_joules_of_the_unit(kind: str, stored_j: float, released_j: float, is_too_little: bool) -> None:
    own = {"key": "own_unit", "label": "Own", "supply": "mains", "stored_j": stored_j, "released_j": released_j}
    own |= {"open_kv": 8.0, "kv_500": 4.0, "pulse_s": 1.3, "price": 100.0}
    plan = simple_plan(stock=[herd(kind)], own_energizers=[own], energizer="own_unit")
    titles = {f.title for f in judge(plan).verdicts[Stage.POWER].findings}
    assert (f"Too little for a {kind}" in titles) is is_too_little
