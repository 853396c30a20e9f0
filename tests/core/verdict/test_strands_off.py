"""Strands that carry nothing beside others that do: what is said of them, and what a search sees."""

import pytest

from adze.core.basics.status import Status
from adze.core.ground.edit import Refused
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Stage
from adze.core.pulse.network import WireLine
from adze.core.trace.plan_farm import farm_of
from adze.core.trace.search import begin
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge import judge
from adze.services.operations.registry import read_operation
from tests.conftest import simple_plan

LAMBS = [{"id": "e", "kind": "ewe", "schooled": True}]
FOUR = [{"cm": cm, "role": "live"} for cm in (20, 40, 65, 95)]
LOW = {"id": "low", "kind": "switch", "name": "Low switch", "run": "line1", "at_m": 0.0, "strands": [1]}


def plan(*fixtures: dict[str, object], **changes: object) -> Plan:
    return simple_plan(**({"strands": FOUR, "energizer": "mains_6", "stock": LAMBS, "fixtures": fixtures} | changes))


def off(whole: Plan) -> Finding | None:
    rows = judge(whole).verdicts[Stage.VOLTS].findings
    return next((f for f in rows if f.title == "Strands that carry nothing"), None)


def test_a_shut_switch_leaves_nothing_to_say() -> None:
    assert off(plan(LOW)) is None


def test_without_the_lowest_strand_a_ewe_goes_under() -> None:
    found = off(plan(LOW | {"is_open": True}))
    assert found is not None
    assert found.status is not Status.HOLDS
    assert "Strand 1 of First line carries nothing on 1.60 km" in found.reason
    assert "under" in found.reason
    assert found.mend


def test_what_is_left_may_be_enough() -> None:
    cows = [{"id": "c", "kind": "beef_cow", "schooled": True}]
    found = off(plan(LOW | {"is_open": True}, stock=cows))
    assert found is not None
    assert found.status is Status.HOLDS
    assert "are left hold every animal" in found.reason


def test_a_low_strand_is_named_where_the_least_is() -> None:
    rows = judge(plan(LOW, grass="heavy")).verdicts[Stage.VOLTS].findings
    least = next(f for f in rows if f.title.startswith("Weakest spot"))
    assert least.where.startswith("strand 1, apart from the others, at ")


def test_a_search_takes_what_is_fed_as_one_conductor() -> None:
    farm = farm_of(plan(LOW | {"is_open": True, "at_m": 800}, grass="moderate"), Season.USUAL)
    lines = [span.line for span in farm.network.spans if isinstance(span.line, WireLine)]
    live = [sum(wire.terminal is not None for wire in line.wires) for line in lines]
    assert live == [4, 3]
    assert lines[0].leak_live_soil_s_per_m > lines[1].leak_live_soil_s_per_m
    assert begin(farm).next_step()


@pytest.mark.parametrize(
    ("strands", "words"),
    [([1, 9], r"Strand 9 is not live: choose of strands 1, 2, 3 and 4"), ([7, 8], "Strands 7 and 8 are not live")],
)
def test_a_strand_that_is_not_there_is_refused(strands: list[int], words: str) -> None:
    with pytest.raises(Refused, match=words):
        read_operation({"do": "carry_strands", "fixture": "low", "strands": strands}).apply(plan(LOW))


def test_every_strand_named_is_all_of_them() -> None:
    done = read_operation({"do": "carry_strands", "fixture": "low", "strands": [4, 3, 2, 1]}).apply(plan(LOW))
    assert done.plan.fixtures[0].model_dump()["strands"] == ()
    assert done.summary == "Low switch: all strands"


def test_a_sign_joins_no_strands() -> None:
    sign = {"id": "s", "kind": "sign", "name": "Sign", "run": "line1", "at_m": 5.0}
    with pytest.raises(Refused, match="does not join or separate strands"):
        read_operation({"do": "carry_strands", "fixture": "s", "strands": [1]}).apply(plan(sign))


def test_a_strand_taken_off_leaves_the_others_named() -> None:
    second = LOW | {"id": "second", "name": "Second switch", "strands": [2, 3]}
    trial = {"id": "if", "kind": "post", "run": "line1", "at_m": 10, "strand": 4}
    whole = plan(second, what_ifs=[trial])
    left = read_operation({"do": "remove_strand", "strand": 1}).apply(whole).plan
    assert [s.cm for s in left.strands] == [20, 65, 95]
    assert left.fixtures[0].model_dump()["strands"] == (2,)
    assert left.what_ifs[0].strand == 3
    gone = read_operation({"do": "remove_strand", "strand": 3}).apply(whole).plan
    assert gone.what_ifs == ()
    with pytest.raises(Refused, match="Low switch belongs to that strand"):
        read_operation({"do": "remove_strand", "strand": 0}).apply(plan(LOW))


def test_a_search_knows_a_bare_end_beyond_a_parting() -> None:
    farm = farm_of(plan(LOW | {"is_open": True}, end_insulators=False, grass="moderate"), Season.USUAL)
    nodes = {node for span in farm.network.spans for node in (span.a, span.b)}
    assert {shunt.node for shunt in farm.network.shunts} <= nodes
    assert begin(farm).next_step()
