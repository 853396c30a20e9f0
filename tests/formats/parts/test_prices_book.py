"""Price lists as workbooks: taken out, read in as shops send them, refused where they are something else."""

import io
from zipfile import ZIP_DEFLATED, ZipFile

import openpyxl
import pytest

from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.parts.parts_list import parts_csv, parts_json
from adze.formats.parts.parts_workbook import parts_workbook
from adze.formats.parts.prices_book import price_list_text, prices_workbook
from adze.formats.parts.prices_csv import COLUMNS, read_prices
from tests.conftest import simple_plan


def book(*rows: tuple[object, ...], before: tuple[tuple[object, ...], ...] = ()) -> bytes:
    made = openpyxl.Workbook()
    sheet = made.active
    assert sheet is not None
    for row in (*before, *rows):
        sheet.append(row)  # type: ignore[union-attr]
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def test_a_workbook_taken_out_and_brought_back_changes_no_cost(hallow: Plan) -> None:
    read = read_prices(price_list_text(prices_workbook(hallow)), hallow)
    lines = {line.key: line for line in bill(hallow).lines}
    assert {row.part for row in read} == set(lines)
    for row in read:
        line = lines[row.part]
        assert row.pack == pytest.approx(line.pack)
        assert not line.packs or row.price == pytest.approx(line.cost / line.packs, abs=0.006)


def test_a_shop_s_letterhead_above_the_rows_is_passed_over() -> None:
    text = price_list_text(
        book(
            ("Part", "Price", "Pack", "Code"),
            ("strainer", 31.5, 10, "A-114"),
            (None, None, None, None),
            ("end_post", 12, None, None),
            before=(("Hollow Lane Farm Supply",), ("Offer of", None)),
        )
    )
    (one, other) = read_prices(text, simple_plan())
    assert (one.part, one.price, one.pack, one.code) == ("strainer", 31.5, 10, "A-114")
    assert (other.part, other.price) == ("end_post", 12)


def test_text_is_taken_as_it_is() -> None:
    assert price_list_text("\ufeffpart,price\nstrainer,2".encode()) == "part,price\nstrainer,2"


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"PK\x03\x04 no zip", "cannot be opened"),
        (b"\xff\xfe\x00\xd8", "neither a workbook"),
        (book(("name", "cost"), ("strainer", 2)), "no sheet has a row with the headings part and price"),
    ],
)
def test_what_is_no_price_list_says_so(content: bytes, says: str) -> None:
    with pytest.raises(FormatError, match=says):
        price_list_text(content)


def test_a_workbook_with_entities_is_refused() -> None:
    made, out = ZipFile(io.BytesIO(book(("part", "price"), ("strainer", 2)))), io.BytesIO()
    with ZipFile(out, "w") as packed:
        for name in made.namelist():
            content = made.read(name)
            if name.endswith("workbook.xml"):
                content = b'<!DOCTYPE x [<!ENTITY a "aaaa">]>' + content
            packed.writestr(name, content)
    with pytest.raises(FormatError, match="cannot be opened"):
        price_list_text(out.getvalue())


def test_a_workbook_too_large_unpacked_is_refused() -> None:
    out = io.BytesIO(book(("part", "price"), ("strainer", 2)))
    with ZipFile(out, "a", ZIP_DEFLATED) as packed:
        packed.writestr("xl/filler.bin", bytes(60_000_000))
    with pytest.raises(FormatError, match="too large"):
        price_list_text(out.getvalue())


@pytest.mark.parametrize(
    ("row", "pack"),
    [
        ("tube,yd,10,4", 9.144),
        ("tube,ft,100,4", 30.48),
        ("strainer,dozen,1,80", 12),
        ("strainer,pcs,25,80", 25),
        ("gate_set,each,1,9", 1),
    ],
)
def test_a_shop_s_units_are_turned_into_the_list_s(row: str, pack: float) -> None:
    (read,) = read_prices(f"part,unit,pack,price\n{row}", simple_plan())
    assert read.pack == pytest.approx(pack)


def test_tax_is_on_every_list_that_leaves() -> None:
    plan = simple_plan(vat_percent=20)
    found = bill(plan)
    assert f"{found.with_vat:.2f}" in parts_csv(found)
    assert "20 % on top" in parts_csv(found)
    assert '"with_vat"' in parts_json(plan)
    assert "with_vat" not in parts_json(simple_plan())
    sheet = openpyxl.load_workbook(io.BytesIO(parts_workbook(plan)))["All"]
    last = len(found.lines) + 2
    assert sheet.cell(last + 1, 8).value == 20
    assert sheet.cell(last + 2, 8).value == f"=H{last}*(1+H{last + 1}/100)"


def test_the_workbook_has_the_sheets_of_the_work() -> None:
    made = openpyxl.load_workbook(io.BytesIO(parts_workbook(simple_plan())))
    assert made.sheetnames == ["All", "By line", "Cut list", "Joints", "Tools", "Prices"]
    assert tuple(cell.value for cell in made["Prices"][1]) == COLUMNS
    assert made["Cut list"].max_row > 1
    assert made["Joints"].max_row > 1
