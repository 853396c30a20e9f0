"""Readings in words: against the forecast, and against what the animals want."""

from datetime import UTC, datetime

import pytest

from adze.core.plan.stock import wanted_of
from adze.services.log.readings import Entry, ReadingError, reading_words
from adze.store.log.readings import Reading
from tests.conftest import simple_plan

AT = datetime(2027, 5, 12, 9, tzinfo=UTC)


def reading(kv: float, **more: object) -> Reading:
    base: dict[str, object] = {
        "id": 1, "run": "line1", "at_m": 100.0, "strand": 1, "kv": kv, "amps": None, "outward": None, "season": "usual",
        "note": "", "forecast_low_kv": 4.0, "forecast_kv": 4.5, "forecast_high_kv": 5.0, "read_at": AT,
        "read_by_name": "Ann",
    }  # fmt: skip
    return Reading(**(base | more))  # type: ignore[arg-type]


def test_within_the_forecast_and_short_of_what_is_wanted() -> None:
    plan = simple_plan(stock=[{"id": "g", "kind": "goat"}])
    assert wanted_of(plan) > 4.4
    words = reading_words(plan, reading(4.4), "UTC")
    assert words.status == "marginal"
    assert "are needed there: the plan itself is too weak" in words.says
    calm = simple_plan(stock=[{"id": "c", "kind": "cow", "schooled": True}])
    assert reading_words(calm, reading(4.9), "UTC").status == "holds"


def test_below_the_forecast_is_a_leak_whatever_is_wanted() -> None:
    words = reading_words(simple_plan(), reading(2.0), "UTC")
    assert (words.status, "has a leak" in words.says) == ("fails", True)


def test_at_the_end_of_its_scale_a_tester_tells_no_more() -> None:
    over = reading(9.9, is_over=True, forecast_kv=11.0, forecast_low_kv=10.0, forecast_high_kv=12.0)
    words = reading_words(simple_plan(), over, "UTC")
    assert (words.status, words.kv) == ("holds", "9.9 or more")


@pytest.mark.parametrize(("text", "kv", "over"), [("4,6", 4.6, False), ("9.9+", 9.9, True), ("> 9.9", 9.9, True)])
def test_kv_as_typed(text: str, kv: float, over: bool) -> None:
    typed = Entry("line1", 0, 1, text, "", None, "usual", "")  # type: ignore[arg-type]
    assert typed.read_kv() == (kv, over)


def test_no_figure_is_no_reading() -> None:
    with pytest.raises(ReadingError, match="write a number"):
        Entry("line1", 0, 1, "lots", "", None, "usual", "").read_kv()  # type: ignore[arg-type]
