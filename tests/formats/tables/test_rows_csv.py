"""CSV that a spreadsheet opens without running anything in it."""

import csv
import io
from collections.abc import Callable

import pytest

from adze.formats.errors import FormatError
from adze.formats.ground.corners_csv import write_corners
from adze.formats.ground.ground_files import read_ground
from adze.formats.ground.imported import ImportChoice, into_plan
from adze.formats.parts.prices_csv import read_prices
from adze.formats.parts.units_csv import read_units
from adze.formats.tables.rows_csv import csv_rows, harmless, rows_csv, unguarded
from adze.formats.work.weather import read_weather
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


@pytest.mark.parametrize("end", ["\n", "\r\n", "\r"])
def test_rows_are_read_whatever_ends_their_lines(end: str) -> None:
    assert csv_rows(f"a,b{end}1,2{end}") == [["a", "b"], ["1", "2"]]
    hours = read_weather(f"at,temp_c,wind_ms,rain_mm,thunder{end}2026-05-01T10:00:00Z,9,4,0,0{end}")
    assert [hour.wind_ms for hour in hours] == [4.0]
    units = read_units(f"Shed,mains,4,2,8,5{end}Hill,battery,1,0.7,7,4{end}")
    assert [unit.label for unit in units] == ["Shed", "Hill"]


@pytest.mark.parametrize("read", [csv_rows, read_weather, read_units, lambda text: read_prices(text, simple_plan())])
def test_what_is_no_csv_is_refused_with_words(read: Callable[[str], object]) -> None:
    with pytest.raises(FormatError, match="CSV: cannot be read"):
        read(f"part,price\r\n{'x' * 4_100_000},1\r\n")


def test_a_line_that_is_named_like_a_formula_keeps_its_name() -> None:
    plan = simple_plan(runs=[{"id": "r", "name": "=1+1", "points": [[0, 0], [90, 0]]}])
    text = write_corners(plan)
    assert "'=1+1" in text
    again, _ = into_plan(read_ground(text.encode()), None, ImportChoice(), "file")
    assert [run.name for run in again.runs] == ["=1+1"]
