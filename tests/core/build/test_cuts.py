"""Pieces laid into rolls: every piece once, none longer than its roll, as few rolls as can be."""

import random

import pytest

from adze.core.build.cuts import CutPiece, cuttings, laid, pieces
from adze.core.build.joints import joints_of
from adze.core.plan.document import Plan
from tests.conftest import simple_plan


def rows(*lengths: float) -> list[CutPiece]:
    return [CutPiece("wire", f"piece {i}", length) for i, length in enumerate(lengths)]


def test_longest_first_would_take_one_roll_more() -> None:
    """Six pieces that fill two rolls of 10 exactly: 4+3+3 twice; longest first takes 4+4 and needs a third."""
    found = laid(rows(4, 4, 3, 3, 3, 3), 10)
    assert len(found.rolls) == found.least == 2
    assert found.waste_m == pytest.approx(0)


@pytest.mark.parametrize("seed", range(20))
def test_every_piece_is_cut_once_and_no_roll_is_overdrawn(seed: int) -> None:
    rng = random.Random(seed)
    given = rows(*(round(rng.uniform(1, 90), 1) for _ in range(rng.randint(1, 24))))
    found = laid(given, 100)
    assert sorted(p.where for roll in found.rolls for p in roll) == sorted(p.where for p in given)
    assert all(sum(p.length_m for p in roll) <= 100 + 1e-9 for roll in found.rolls)
    assert found.least <= len(found.rolls) <= 2 * found.least


def test_a_strand_longer_than_a_roll_takes_whole_ones_and_a_rest() -> None:
    found = laid(rows(1230), 500)
    assert found.whole == 2
    ((rest,),) = found.rolls
    assert rest.length_m == pytest.approx(230)
    assert rest.where.endswith("the rest of it")


def test_a_roll_without_length_is_refused() -> None:
    with pytest.raises(ValueError, match="give its length"):
        laid(rows(1), 0)


def gated() -> Plan:
    gate = {"id": "g", "kind": "gate", "run": "line1", "at_m": 400, "name": "Gate", "width_m": 4}
    return simple_plan(strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}], fixtures=[gate])


def test_pieces_are_strands_by_strain_cores_and_leads_in_one() -> None:
    found = list(pieces(gated()))
    wire = [p for p in found if p.stuff.startswith("2.5 mm")]
    assert [p.length_m for p in wire] == [
        405.0, 405.0, 405.0 + 2 * 0.75, 1213.0, 1213.0, 1213.0 + 2 * 0.75,
    ]  # fmt: skip
    assert [p.where for p in found if "core" in p.where] == ["Gate, core 1", "Gate, core 2"]
    assert sum(p.where in ("lead-out", "to the rods") for p in found) == 2
    assert {c.stuff for c in cuttings(gated())} == {p.stuff for p in found}


def test_every_joint_has_its_place_and_fastener() -> None:
    found = list(joints_of(gated()))
    assert [j.kind for j in found].count("rod") == 3
    strands = [j for j in found if j.kind == "strands"]
    assert [j.where for j in strands] == [f"First line, strain {n}, {end}" for n in (1, 2) for end in ("start", "end")]
    assert {j.clamps for j in strands} == {1}
    (cable,) = [j for j in found if j.kind == "cable"]
    assert (cable.clamps, cable.strip_cm) == (4, 2.5)
    assert found[0].strip_cm == 9


def test_the_lead_out_is_one_piece_from_the_drum() -> None:
    far = simple_plan(energizer_at=[0, -82])
    (lead,) = [c for c in cuttings(far) if c.stuff.startswith("Lead-out")]
    assert (lead.whole, lead.roll_m) == (0, 100)
    assert [p.length_m for p in lead.rolls[0]] == [87.0]
