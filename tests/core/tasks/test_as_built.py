"""What stands otherwise than drawn: figures taken, limits named, what is gone passed over."""

import random

import pytest

from adze.core.basics.faults import FieldFault
from adze.core.basics.units import Units
from adze.core.build.construction import fence_of
from adze.core.plan.changes import changed
from adze.core.tasks.as_built import as_built, built_figures
from tests.core.build.test_parts import drawn

_DRAWN = drawn(random.Random(4))
PLAN = changed(
    _DRAWN,
    {
        "netting": None,
        "behind": "",
        "strands": [{"cm": 30}, {"cm": 60}, {"cm": 90}],
        "fences": [],
        "runs": [run.model_dump() | {"fence": None} for run in _DRAWN.runs],
    },
)


@pytest.mark.parametrize("seed", range(40))
def test_what_is_drawn_typed_back_changes_nothing_that_is_measured(seed: int) -> None:
    plan = drawn(random.Random(seed))
    figures = list(built_figures(plan))
    again = as_built(plan, {figure.key: figure.drawn for figure in figures})
    assert list(built_figures(again)) == figures


@pytest.mark.parametrize("units", list(Units))
def test_typed_back_in_either_unit_heights_stand_within_a_quarter_inch(units: Units) -> None:
    plan = changed(PLAN, {"units": units})
    (heights,) = (figure for figure in built_figures(plan) if figure.key == "heights.")
    again = as_built(plan, {"heights.": heights.drawn})
    for one, other in zip(fence_of(again), fence_of(plan), strict=True):
        assert one.cm == pytest.approx(other.cm, abs=0.33)


def test_figures_take_the_place_of_what_is_drawn() -> None:
    run = PLAN.runs[0].id
    noted = {"rods.count": "2", "rods.length_m": "1.2 m", "heights.": "28 55 88", "spacing.": "7.5"}
    made = as_built(PLAN, noted | {f"end.{run}.start": "stiff", "end.gone.start": "block"})
    assert (made.rods.count, made.rods.length_m, made.post_spacing_m) == (2, 1.2, 7.5)
    assert [strand.cm for strand in fence_of(made)] == [28, 55, 88]
    assert made.runs[0].start_end == "stiff"


@pytest.mark.parametrize(
    ("key", "typed", "words"),
    [
        ("rods.count", "three", "whole number from 0"),
        ("rods.count", "999", "whole number from 0"),
        ("rods.length_m", "12", "not from 0.30 m to 6.00 m"),
        ("rods.spacing_m", "far", "not understood"),
        ("heights.", "28, 55", "3 strands are drawn"),
        ("heights.", "28, 55, 40", "strand 3: 40 is not above"),
        ("heights.", "28, 55, 900", "not from 1 to 300"),
        ("heights.", "28, x, 90", "strand 2"),
        ("spacing.", "200", "not from 1.00 m to 30.00 m"),
        (f"end.{PLAN.runs[0].id}.start", "glued", "'glued' is not known"),
    ],
)
def test_a_figure_that_cannot_be_is_named_with_its_limit(key: str, typed: str, words: str) -> None:
    with pytest.raises(FieldFault, match=words) as told:
        as_built(PLAN, {key: typed})
    assert told.value.field == key
