"""Pieces laid into rolls: every piece once, none longer than its roll, as few rolls as can be."""

import math
import random
from itertools import product

import pytest

from adze.core.build.cuts import Offer, cheapest_packs, laid
from adze.core.build.joints import joints_of
from adze.core.build.needs import CutPiece
from adze.core.build.parts import PartLine, bill
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.prices import Allowance
from adze.core.tables.prices import prices
from tests.conftest import simple_plan


def rows(*lengths: float) -> tuple[CutPiece, ...]:
    return tuple(CutPiece(f"piece {i}", length) for i, length in enumerate(lengths))


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


WHERE = [f"First line, strain {n}, {cm} cm" for n in (1, 2) for cm in (30, 60, 90)]


def cut_of(line: PartLine) -> list[CutPiece]:
    assert line.cutting
    return [piece for roll in line.cutting.rolls for piece in roll]


def test_pieces_are_strands_by_strain_cores_and_leads_in_one() -> None:
    """Strains of 400 and 1,200 m, 5 % waste, 50 cm at both ends; the top one's tails go down 60 + 15 cm."""
    by_label = {line.label: cut_of(line) for line in bill(gated()).lines if line.cutting}
    (wire,) = [pieces for label, pieces in by_label.items() if label.startswith("2.5 mm")]
    tops = (421, 421, 421 + 2 * 0.75, 1261, 1261, 1261 + 2 * 0.75)
    assert sorted(sum(p.length_m for p in wire if p.where.startswith(w)) % 500 for w in WHERE) == pytest.approx(
        sorted(x % 500 for x in tops)
    )
    where = {p.where for pieces in by_label.values() for p in pieces}
    assert {"Gate, core 1", "Gate, core 2", "lead-out", "to the rods"} <= where


def test_cables_are_bought_by_the_piece_and_strands_by_the_metre() -> None:
    for line in bill(gated()).lines:
        if line.cutting and line.part:
            assert line.packs * line.pack == pytest.approx(line.cutting.bought * line.cutting.roll_m)
        elif line.cutting:
            assert line.packs == math.ceil(line.quantity / line.pack) <= line.cutting.bought


def test_waste_and_tails_are_the_farmer_s_own() -> None:
    plain = replaced(gated(), allowance=Allowance(waste_percent=0, tail_cm=20, lead_m=1))
    (wire,) = [line.quantity for line in bill(plain).lines if line.label.startswith("2.5 mm")]
    assert wire == math.ceil(3 * (1600 + 4 * 0.2) + 4 * 0.75)


def test_every_joint_has_its_place_and_fastener() -> None:
    found = list(joints_of(gated()))
    assert [j.kind for j in found].count("rod") == 3
    strands = [j for j in found if j.kind == "strands"]
    assert [j.where for j in strands] == [f"First line, strain {n}, {end}" for n in (1, 2) for end in ("start", "end")]
    assert {j.fasteners for j in strands} == {1}
    cables = [(j.words[:16], j.fasteners, j.strip_cm) for j in found if j.kind == "cable"]
    assert cables == [("core to the live", 2, 2.5), ("core to the eart", 2, 2.5)]
    assert found[0].strip_cm == 9


def test_the_lead_out_is_one_piece_from_the_drum() -> None:
    far = simple_plan(energizer_at=[0, -82])
    (lead,) = [line for line in bill(far).lines if line.part == "lead_out"]
    assert lead.cutting
    assert (lead.cutting.whole, lead.cutting.roll_m, lead.packs, lead.pack) == (0, 100, 1, 100)
    assert [p.length_m for p in lead.cutting.rolls[0]] == [87.0]


@pytest.mark.parametrize(
    ("quantity", "offers", "counts"),
    [
        (60, ((25, 20.0), (10, 9.0)), (2, 1)),
        (55, ((25, 20.0), (10, 9.0)), (1, 3)),
        (45, ((25, 20.0), (10, 9.0)), (1, 2)),
        (3, ((100, 20.0), (1, 9.0)), (1, 0)),
        (2, ((100, 20.0), (1, 9.0)), (0, 2)),
        (20, ((20, 10.0), (10, 5.0)), (1, 0)),
        (0, ((20, 10.0), (10, 5.0)), (0, 0)),
        (0.3, ((0.1, 1.0),), (3,)),
    ],
)
def test_the_cheapest_packs_by_hand(
    quantity: float, offers: tuple[tuple[float, float], ...], counts: tuple[int, ...]
) -> None:
    found = cheapest_packs(quantity, tuple(Offer(*offer) for offer in offers))
    if quantity == 20:  # a large one or two small ones cost the same
        assert sum(n * size for n, (size, _) in zip(found, offers, strict=True)) == 20
    else:
        assert found == counts


@pytest.mark.parametrize("seed", range(20))
def test_no_other_mix_of_packs_costs_less(seed: int) -> None:
    rng = random.Random(seed)
    offers = tuple(Offer(rng.choice((1, 5, 10, 25, 40)), round(rng.uniform(1, 30), 2)) for _ in range(3))
    quantity = rng.randint(1, 90)
    found = cheapest_packs(quantity, offers)
    assert sum(n * o.size for n, o in zip(found, offers, strict=True)) >= quantity
    paid = sum(n * o.price for n, o in zip(found, offers, strict=True))
    ways = product(*(range(math.ceil(quantity / o.size) + 1) for o in offers))
    least = min(
        sum(n * o.price for n, o in zip(way, offers, strict=True))
        for way in ways
        if sum(n * o.size for n, o in zip(way, offers, strict=True)) >= quantity
    )
    assert paid == pytest.approx(least, abs=1e-4)


def test_no_pack_at_all_is_said() -> None:
    with pytest.raises(ValueError, match="no pack is offered"):
        cheapest_packs(3, ())


def test_a_lead_in_one_piece_is_bought_as_one_roll() -> None:
    rods = {"count": 10, "length_m": 2, "spacing_m": 3, "position": [-12, -12]}
    row = next(x for x in bill(simple_plan(rods=rods)).lines if x.part == "earth_lead")
    each = prices()["earth_lead"]
    assert row.quantity > each.pack
    assert (row.packs, row.pack) == (1, each.pack * math.ceil(row.quantity / each.pack))
    assert row.cost == pytest.approx(each.price * row.pack / each.pack)
