"""Two people, one plan: nothing is lost that did not clash."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.plan.revise import Prefer, difference_words, differences, merge

BASE: dict[str, Any] = {
    "name": "Ring",
    "rods": {"count": 3, "length_m": 2},
    "runs": [{"id": "a", "name": "Hedge", "soil": None}, {"id": "b", "name": "Spur", "soil": None}],
    "strands": [{"cm": 30}, {"cm": 60}],
}


def changed(**changes: Any) -> dict[str, Any]:
    return BASE | changes


def test_changes_of_different_things_both_stand() -> None:
    mine, theirs = changed(rods={"count": 5, "length_m": 2}), changed(name="Ring two")
    merged = merge(BASE, mine, theirs)
    assert merged.document == changed(rods={"count": 5, "length_m": 2}, name="Ring two")
    assert merged.clashes == ()


def test_rows_are_matched_by_their_ids() -> None:
    mine = changed(runs=[BASE["runs"][0] | {"soil": "loam"}, BASE["runs"][1]])
    theirs = changed(runs=[BASE["runs"][0], BASE["runs"][1] | {"name": "East spur"}, {"id": "c", "name": "New"}])
    merged = merge(BASE, mine, theirs).document
    assert merged["runs"][0]["soil"] == "loam"
    assert [r["name"] for r in merged["runs"]] == ["Hedge", "East spur", "New"]


def test_a_removed_row_stays_removed() -> None:
    merged = merge(BASE, changed(runs=BASE["runs"][:1]), changed(name="x"))
    assert [r["id"] for r in merged.document["runs"]] == ["a"]


@pytest.mark.parametrize(("prefer", "count"), [(Prefer.MINE, 5), (Prefer.THEIRS, 7)])
def test_a_clash_goes_the_preferred_way_and_is_told(prefer: Prefer, count: int) -> None:
    mine, theirs = (changed(rods={"count": n, "length_m": 2}) for n in (5, 7))
    merged = merge(BASE, mine, theirs, prefer)
    assert merged.document["rods"]["count"] == count
    assert merged.clashes == (("rods", "count"),)


rows = st.fixed_dictionaries({"id": st.sampled_from("abc"), "soil": st.integers(0, 2)})
plans = st.fixed_dictionaries(
    {
        "name": st.text(max_size=3),
        "rods": st.fixed_dictionaries({"count": st.integers(0, 3)}),
        "runs": st.lists(rows, unique_by=lambda r: r["id"]),
    }
)


@given(plans, plans)
def test_one_sided_changes_always_stand_whole(base: dict[str, Any], mine: dict[str, Any]) -> None:
    def key(document: dict[str, Any]) -> dict[str, Any]:
        return document | {"runs": sorted(document["runs"], key=lambda r: r["id"])}

    assert key(merge(base, mine, base).document) == key(mine)
    assert key(merge(base, base, mine).document) == key(mine)
    assert not merge(base, mine, mine).clashes
    assert not differences(base, base)


def test_differences_are_said_with_names() -> None:
    other = changed(
        rods={"count": 5, "length_m": 2}, runs=[BASE["runs"][0] | {"soil": "loam"}, BASE["runs"][1]], strands=[]
    )
    words = [difference_words(d, other) for d in differences(BASE, other)]
    assert words == ["rods, how many: 3 → 5", "line, Hedge, soil: none → loam", "strands changed"]
