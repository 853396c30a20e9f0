"""Price lists: taken, typed over, brought back; what is wrong is named with its line, and nothing is half read."""

import csv
import io

import pytest

from adze.core.build.parts import bill
from adze.core.plan.catalogue import catalogue
from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.parts.prices_csv import prices_csv, read_prices
from adze.services.operations.registry import read_operation
from tests.conftest import simple_plan


def priced(text: str, plan: Plan | None = None) -> Plan:
    return read_operation({"do": "bring_prices", "text": text}).apply(plan or simple_plan()).plan


def test_a_list_taken_and_brought_back_changes_no_cost(hallow: Plan) -> None:
    made = priced(prices_csv(hallow), hallow)
    assert all(line.own for line in bill(made).lines)
    assert bill(made).total == pytest.approx(bill(hallow).total, abs=0.5)
    assert [r["part"] for r in csv.DictReader(io.StringIO(prices_csv(made)))] == [x.key for x in bill(hallow).lines]


def test_own_packs_and_prices_are_paid_and_codes_kept() -> None:
    made = priced("part;pack;price;code\nstrainer;10;31,50;A-114\nSteel T-post;1;1.004,00;")
    lines = {line.key: line for line in bill(made).lines}
    strainer, post = lines["strainer"], lines["Steel T-post"]
    assert (strainer.packs, strainer.pack, strainer.cost, strainer.code, strainer.own) == (1, 10, 31.5, "A-114", True)
    assert post.cost == pytest.approx(post.packs * 1004)
    assert not lines["end_post"].own


def test_a_second_list_keeps_what_it_does_not_name() -> None:
    made = priced("part,price\nend_post,10", priced("part,price\nstrainer,2"))
    assert {row.part: row.price for row in made.own_prices} == {"strainer": 2, "end_post": 10}
    assert priced("", made).own_prices == ()


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "there is no row"),
        ("name,price\nstrainer,2", "line 1: the column 'part' is missing"),
        ("part,price\nstrainer,2\nstrainer,3", "line 3, part: 'strainer' is there twice"),
        ("part,price\nunicorn,2", "line 2, part: 'unicorn' is not known"),
        ("part,price,unit\nstrainer,2,kg", "line 2, unit: 'kg'; strainer is counted by the piece"),
        ("part,price,pack\nstrainer,2,0", "line 2, pack: 0 holds nothing"),
        ("part,price\nstrainer,-2", "line 2, price: -2 is less than nothing"),
        ("part,price\nstrainer,=1+1", "line 2, price: '=1+1' is not a number"),
        ("part,price\nstrainer,nan", "line 2, price: 'nan' is not a number"),
        ("part,price\nstrainer", "line 2, price: '' is not a number"),
    ],
)
def test_what_is_wrong_is_named_with_its_line(text: str, says: str) -> None:
    with pytest.raises(FormatError) as caught:
        read_prices(text, simple_plan())
    assert says in str(caught.value)


def test_the_power_page_and_the_list_say_the_same_of_a_unit() -> None:
    made = priced("part,price,pack\nBattery 1 J,77,1")
    assert catalogue(made)["battery_1"].price == 77
    assert next(line.cost for line in bill(made).lines if line.label == "Battery 1 J") == 77


def test_a_part_in_packs_of_several_sizes_is_bought_in_the_cheapest_mix() -> None:
    text = "part,pack,price,code\nSteel T-post,100,300,big\nSteel T-post,10,40,small"
    made = priced(text)
    line = {x.key: x for x in bill(made).lines}["Steel T-post"]
    assert line.quantity == 266
    assert [(n, offer.code) for n, offer in line.mix] == [(2, "big"), (7, "small")]
    assert (line.packs, line.cost, line.left_over) == (9, 880, 4)
    assert "2 of 100 and 7 of 10" in line.counted
    assert line.code == "big, small"
    assert bill(priced(prices_csv(made), made)).total == pytest.approx(bill(made).total, abs=0.5)
