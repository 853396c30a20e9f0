"""Parts in the real interface: a shop's workbook brought in, a kit beside the list, a joint on the ground."""

import io
from pathlib import Path

import openpyxl
import pytest

from tests.browser.pages.base import Browser
from tests.browser.test_journeys import demo

pytestmark = pytest.mark.browser


def workbook(path: Path, *rows: tuple[object, ...]) -> str:
    book = openpyxl.Workbook()
    assert book.active is not None
    for row in rows:
        book.active.append(row)  # type: ignore[union-attr]
    out = io.BytesIO()
    book.save(out)
    path.write_bytes(out.getvalue())
    return str(path)


def test_a_shop_s_workbook_is_looked_at_and_brought_in(browser: Browser, tmp_path: Path) -> None:
    bench = demo(browser).stage("parts").surface("shops")
    wrong = workbook(tmp_path / "wrong.xlsx", ("name", "cost"), ("strainer", 2))
    bench.find("#prices-file").send_keys(wrong)
    bench.until(lambda: "headings part and price" in bench.text('[data-surface="shops"]'), "not refused")
    right = workbook(tmp_path / "right.xlsx", ("Part", "Pack", "Unit", "Price"), ("strainer", 1, "dozen", 31.5))
    bench.find("#prices-file").send_keys(right)
    bench.until(lambda: "dozen" in (bench.find("#prices-csv").get_attribute("value") or ""), "not read")
    bench.do("Bring them in", "#bench")
    assert [(row["part"], row["pack"]) for row in bench.document()["own_prices"]] == [("strainer", 12)]
    assert browser.script_errors() == []


def test_a_kit_beside_the_list_and_a_joint_on_the_ground(browser: Browser) -> None:
    bench = demo(browser).stage("parts").surface("kits")
    bench.until(lambda: "This fence leaves out" in bench.text('[data-surface="kits"]'), "no kit beside it")
    bench.surface("cuts").unfold("Joints")
    bench.button("energizer", '[data-surface="cuts"]').click()
    bench.until(lambda: bench.says().startswith("energizer: lead-out"), "not shown on the ground")
    assert bench.on_surface() == "drawing"
