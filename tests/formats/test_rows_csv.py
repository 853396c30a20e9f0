"""CSV that a spreadsheet opens without running anything in it."""

import csv
import io

import pytest

from adze.formats.corners_csv import write_corners
from adze.formats.ground_files import read_ground
from adze.formats.imported import ImportChoice, into_plan
from adze.formats.rows_csv import harmless, rows_csv, unguarded
from tests.conftest import simple_plan


@pytest.mark.parametrize("text", ["=1+1", "+cmd", "-2+3", "@sum(a1)", "\t=1"])
def test_a_text_that_begins_like_a_formula_is_guarded_and_read_back(text: str) -> None:
    assert str(harmless(text)).startswith("'")
    assert unguarded(str(harmless(text))) == text


@pytest.mark.parametrize("value", ["Sea bank", "", 3.5, -2, None, "it's"])
def test_other_values_stay(value: object) -> None:
    assert harmless(value) == value


def test_rows_come_out_as_they_went_in() -> None:
    rows = list(csv.reader(io.StringIO(rows_csv(("a", "b"), [("=x", None), (-3, 'say "so"\nhere')]))))
    assert rows == [["a", "b"], ["'=x", ""], ["-3", 'say "so"\nhere']]


def test_a_line_that_is_named_like_a_formula_keeps_its_name() -> None:
    plan = simple_plan(runs=[{"id": "r", "name": "=1+1", "points": [[0, 0], [90, 0]]}])
    text = write_corners(plan)
    assert "'=1+1" in text
    again, _ = into_plan(read_ground(text.encode()), None, ImportChoice(), "file")
    assert [run.name for run in again.runs] == ["=1+1"]
