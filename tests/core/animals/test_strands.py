"""What must always hold of designed and dragged strands."""

import dataclasses
from itertools import pairwise

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from adze.core.animals.strand_checks import check, gaps, smallest_mend
from adze.core.animals.strand_reasons import reasons
from adze.core.animals.strand_rules import SWING_CM, Animal, Duty, Role, Scheme, Strand, bottom_group, design, limits_of
from adze.core.basics.status import Status, rank
from adze.core.plan.stock import animal_of
from adze.core.tables.animals import animal_kinds

LIVE, EARTH, DEAD = Role.LIVE, Role.EARTH, Role.DEAD


def kind(name: str, *, schooled: bool = True, woolled: bool = True) -> Animal:
    kind = animal_kinds()[name]
    return animal_of(kind, schooled=schooled, fleece_cm=kind.fleece_cm if woolled else kind.shorn_cm)


herds = st.lists(
    st.builds(kind, st.sampled_from(sorted(animal_kinds())), schooled=st.booleans(), woolled=st.booleans()),
    min_size=1,
    max_size=3,
    unique_by=lambda a: a.kind,
).map(tuple)
duties = st.sampled_from(Duty)
fences = st.lists(st.integers(5, 180), min_size=1, max_size=8, unique=True).map(
    lambda cm: tuple(Strand(float(c), LIVE) for c in sorted(cm))
)


@settings(max_examples=80)
@given(herds, duties)
def test_an_all_live_design_fails_none_of_its_own_checks(animals: tuple[Animal, ...], duty: Duty) -> None:
    pattern = design(animals, duty)
    failing = [f for f in check(animals, duty, pattern.strands) if f.status is Status.FAILS]
    assert not failing or not pattern.holds


@settings(max_examples=80)
@given(herds, duties, st.sampled_from(Scheme))
def test_designs_are_in_order_with_room_to_swing(animals: tuple[Animal, ...], duty: Duty, scheme: Scheme) -> None:
    pattern = design(animals, duty, scheme)
    cm = [s.cm for s in pattern.strands]
    assert all(b - a >= SWING_CM for a, b in pairwise(cm))
    assert cm[-1] <= pattern.post_cm - 3
    assert pattern == design(animals, duty, scheme)
    assert LIVE in {s.role for s in pattern.strands}


@settings(max_examples=60)
@given(fences, st.sampled_from(sorted(animal_kinds())), duties, st.integers(1, 200))
def test_another_live_strand_worsens_no_check(fence: tuple[Strand, ...], name: str, duty: Duty, cm: int) -> None:
    assume(all(abs(s.cm - cm) >= 1 for s in fence))
    more = tuple(sorted((*fence, Strand(float(cm), LIVE)), key=lambda s: s.cm))
    before = {f.check: rank(f.status) for f in check((kind(name),), duty, fence)}
    after = {f.check: rank(f.status) for f in check((kind(name),), duty, more)}
    assert all(after[c] <= before[c] for c in before)


@given(st.sampled_from(sorted(animal_kinds())), duties, st.floats(0.5, 30))
def test_a_larger_head_is_never_asked_for_closer_strands(name: str, duty: Duty, more: float) -> None:
    animal = kind(name)
    larger = dataclasses.replace(animal, head_cm=animal.head_cm + more)
    assert limits_of(larger, duty).gap_at_nose_cm >= limits_of(animal, duty).gap_at_nose_cm


def test_pushing_animals_get_narrower_gaps_than_sniffing_ones() -> None:
    new, schooled = (limits_of(kind("goat", schooled=s), Duty.HOLD) for s in (False, True))
    assert new.gap_at_nose_cm < schooled.gap_at_nose_cm


def test_ground_and_earth_strand_give_no_pulse() -> None:
    openings = gaps((Strand(10, EARTH), Strand(25, LIVE), Strand(40, EARTH), Strand(60, DEAD), Strand(80, LIVE)))
    assert [(g.lower, g.upper) for g in openings] == [(0, 25), (25, 40), (40, 80)]


def test_a_fence_without_live_strands_fails_everything() -> None:
    found = check((kind("cow"),), Duty.HOLD, (Strand(50, EARTH), Strand(90, DEAD)))
    assert {f.status for f in found} == {Status.FAILS}


def test_the_bottom_group_never_takes_every_live_strand() -> None:
    assert bottom_group((Strand(15, LIVE), Strand(30, LIVE))) == (0,)
    assert bottom_group((Strand(15, LIVE), Strand(30, EARTH), Strand(60, LIVE))) == (0,)


@pytest.mark.parametrize(
    ("heights", "says"),
    [
        ((50, 30), "strand 2: height 30 cm is not above"),
        ((-5, 30), "strand 1: height is -5"),
        ((float("nan"),), "strand 1"),
    ],
)
def test_heights_out_of_order_are_refused_by_strand(heights: tuple[float, ...], says: str) -> None:
    with pytest.raises(ValueError, match=says):
        check((kind("cow"),), Duty.HOLD, tuple(Strand(h, LIVE) for h in heights))


@settings(max_examples=25)
@given(fences, st.sampled_from(["ewe", "cow", "weaner", "fox"]))
def test_a_mend_mends_and_harms_nothing(fence: tuple[Strand, ...], name: str) -> None:
    animals = (kind(name),)
    found = check(animals, Duty.HOLD, fence)
    bad = next((f for f in found if f.status is not Status.HOLDS and f.check not in ("pulse", "reach")), None)
    assume(bad is not None)
    assert bad is not None
    mend = smallest_mend(animals, Duty.HOLD, fence, bad)
    if mend.kind == "advice":
        assert "computed design" in mend.words()
        return
    new = Strand(mend.cm or 0, LIVE)
    kept = fence if mend.kind == "add" else tuple(s for i, s in enumerate(fence) if i != mend.strand)
    changed = tuple(sorted((*kept, new), key=lambda s: s.cm))
    after = {f.check: f for f in check(animals, Duty.HOLD, changed)}
    assert after[bad.check].status is Status.HOLDS
    assert all(rank(after[f.check].status) <= rank(f.status) for f in found)


def test_mends_are_said_as_actions() -> None:
    animals = (kind("weaner"), kind("sow"))
    fence = (Strand(13, EARTH), Strand(32, LIVE), Strand(60, LIVE))
    under = next(f for f in check(animals, Duty.HOLD, fence) if f.check == "under")
    assert smallest_mend(animals, Duty.HOLD, fence, under).words() == "Make strand 1 live"


def test_two_purposes_that_pull_apart_are_named() -> None:
    pattern = design((kind("deer"), kind("rabbit")), Duty.HOLD)
    assert not pattern.holds
    assert "rabbit" in pattern.refusal
    assert "deer" in pattern.refusal


def test_no_animals_no_design() -> None:
    with pytest.raises(ValueError, match="choose at least one"):
        design((), Duty.HOLD)


@pytest.mark.parametrize("duty", list(Duty))
@pytest.mark.parametrize("schooled", [True, False])
def test_every_reason_gives_the_limit_that_the_checks_use(duty: Duty, schooled: bool) -> None:
    for key in animal_kinds():
        one = kind(key, schooled=schooled)
        limit = limits_of(one, duty)
        told = {r.what.split(",")[0]: r for r in reasons(one, duty)}
        assert told["lowest strand"].limit_cm == limit.lowest_cm
        assert told["top strand"].limit_cm == limit.top_cm
        assert told["gap at the nose"].limit_cm == limit.gap_at_nose_cm
        assert all(r.says for r in told.values())
        assert ("sniffs" in told["gap at the nose"].says) == limit.sniffs


@settings(max_examples=80)
@given(fences, st.sampled_from(sorted(animal_kinds())), duties, st.floats(1.0, 1.6))
def test_what_stops_a_head_stops_a_larger_one(fence: tuple[Strand, ...], name: str, duty: Duty, more: float) -> None:
    small = kind(name)
    large = small.sized(small.nose_cm, small.shoulder_cm, small.head_cm * more)
    one, other = (next(f for f in check((a,), duty, fence) if f.check == "head") for a in (small, large))
    assume(limits_of(small, duty).ducks == limits_of(large, duty).ducks)
    assert rank(other.status) <= rank(one.status)
