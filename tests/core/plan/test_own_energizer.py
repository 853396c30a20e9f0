"""What a plate seldom tells of one's own energizer: joules on 500 ohm, the time to the peak."""

import math

import pytest
from pydantic import ValidationError

from adze.core.energizer.unit_pulse import peak_on
from adze.core.plan.catalogue import most_joules, pulse_of, unit_of
from adze.core.plan.power import OwnEnergizer
from tests.conftest import simple_plan

PLATE = {"key": "own1", "label": "Barn", "stored_j": 12.0, "released_j": 8.5, "open_kv": 9.0, "kv_500": 7.0}


def own(**more: object) -> dict[str, object]:
    return {"own_energizers": [PLATE | more], "energizer": "own1"}


@pytest.mark.parametrize("micros", [18.0, 25.0, 35.0])
def test_a_time_to_the_peak_is_met(micros: float) -> None:
    unit = unit_of(simple_plan(**own(peak_500_us=micros)))
    assert unit
    assert peak_on(pulse_of(unit).parts, 500.0).at_s * 1e6 == pytest.approx(micros, rel=0.05)


def test_joules_on_500_ohm_hold_what_a_body_gets() -> None:
    assert [most_joules(simple_plan(**own(**more))) for more in ({}, {"j_500": 2.5})] == [5.0, 2.5]
    assert most_joules(simple_plan(energizer=None)) == math.inf


@pytest.mark.parametrize(
    ("more", "field", "words"),
    [
        ({"j_500": 9.0}, "j_500", "more than the 8.5 J released"),
        ({"peak_500_us": 1.0}, "peak_500_us", "greater than or equal to 2"),
    ],
)
def test_what_cannot_be_is_named(more: dict[str, object], field: str, words: str) -> None:
    with pytest.raises(ValidationError) as caught:
        OwnEnergizer.model_validate(PLATE | more)
    first = caught.value.errors()[0]
    assert first["loc"] == (field,)
    assert words in first["msg"]


def test_a_time_that_cannot_be_had_is_told() -> None:
    unit = unit_of(simple_plan(**own(peak_500_us=115.0)))
    assert unit
    assert any("115 µs" in note for note in pulse_of(unit).notes)
