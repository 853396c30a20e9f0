"""What animals feel, against the wanted kV that practice names."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.animals.touch import LEVEL_KV, Coat, Contact, Hooves, Level, Path, contact, level_reached, wanted_level
from adze.core.tables.animals import animal_kinds, touch_classes

MOIST_LOAM = (Hooves.MOIST, Coat.DRY, 100.0)


def meet(
    name: str, fleece: float = 0.0, path: Path = Path.SOIL, hooves: Hooves = Hooves.MOIST, soil: float = 100.0
) -> Contact:
    return contact(touch_classes()[animal_kinds()[name].touch_class], fleece, path, hooves, Coat.DRY, soil)


@pytest.mark.parametrize(
    ("name", "schooled", "fleece", "kv"),
    [
        ("cow", False, 0, 3.0),
        ("cow", True, 0, 1.9),
        ("horse", False, 0, 3.1),
        ("sow", True, 0, 1.9),
        ("ewe", False, 6, 4.9),
        ("ewe", False, 1.5, 3.4),
        ("goat", False, 0, 5.1),
        ("boar", False, 0, 4.8),
        ("deer", False, 0, 4.9),
        ("bear", False, 0, 4.9),
        ("fox", False, 0, 4.5),
        ("rabbit", False, 0, 2.9),
        ("dog", False, 0, 2.8),
    ],
)
def test_needed_kv_on_moist_loam(name: str, schooled: bool, fleece: float, kv: float) -> None:
    kind = touch_classes()[animal_kinds()[name].touch_class]
    assert meet(name, fleece).needed_kv(wanted_level(kind, schooled)) == pytest.approx(kv, abs=0.12)


def test_no_fence_gives_what_dry_sand_asks() -> None:
    assert meet("cow", hooves=Hooves.DRY, soil=2000).needed_kv(Level.TURNS) > 15


@given(st.floats(0, 15), st.floats(20, 5000))
def test_the_needed_kv_is_just_what_reaches_the_level(kv: float, soil: float) -> None:
    met = meet("ewe", 6, soil=soil)
    need = met.needed_kv(Level.TURNS)
    assert met.body_kv(need) == pytest.approx(LEVEL_KV[Level.TURNS])
    assert met.body_kv(kv) <= kv


def test_between_strands_the_soil_does_not_matter() -> None:
    assert meet("goat", path=Path.EARTH_STRAND, soil=20) == meet("goat", path=Path.EARTH_STRAND, soil=5000)


def test_fleece_holds_off_volts_and_eight_cm_is_all_that_counts() -> None:
    assert meet("alpaca", 8).body_kv(5) < meet("alpaca", 1.5).body_kv(5)
    assert meet("alpaca", 12) == meet("alpaca", 8)


@pytest.mark.parametrize(
    ("kv", "level"), [(0.3, None), (0.5, Level.NOTICES), (1.5, Level.RESPECTS), (2.0, Level.TURNS), (9, Level.DRIVEN)]
)
def test_levels(kv: float, level: Level | None) -> None:
    assert level_reached(kv) is level
