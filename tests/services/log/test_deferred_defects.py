"""What is noted for later is named when the way to the next place passes it, and only then."""

from datetime import date

import pytest

from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.trace.plan_farm import farm_of, spot_of
from adze.core.trace.search import FaultSearch, begin
from adze.services.log.deferred_defects import later_view
from adze.store.log.upkeep import Defect


@pytest.fixture
def search(line_plan: Plan) -> FaultSearch:
    return begin(farm_of(line_plan, Season.USUAL))


def noted(at_m: float, words: str = "cracked insulator") -> Defect:
    return Defect(id=int(at_m), run="line1", at_m=at_m, words=words, noted_on=date(2027, 5, 1), by_name="Ann")


@pytest.mark.parametrize(("to_m", "passed"), [(300.0, 0), (392.0, 1), (1000.0, 2), (1600.0, 3)])
def test_the_way_passes_what_lies_before_its_end(
    line_plan: Plan, search: FaultSearch, to_m: float, passed: int
) -> None:
    to = search.grid.place(spot_of(line_plan, Place("line1", to_m)))
    rows = (noted(400), noted(800, "leaning post"), noted(1595))
    view = later_view(line_plan, rows, search, to)
    names = ["cracked insulator, First line, 400 m along", "leaning post, First line, 800 m along"]
    assert tuple(words for _, words in view.passed[:2]) == tuple(names[:passed])
    assert len(view.passed) == passed
    at = [f"First line, {name} along" for name in ("400 m", "800 m", "1.59 km")]
    assert [where for _, where, _ in view.rows] == at


def test_where_nobody_is_sent_nothing_is_passed(line_plan: Plan, search: FaultSearch) -> None:
    assert later_view(line_plan, (noted(400),)).passed == ()
    assert later_view(line_plan, (noted(400),), search, search.here).passed == ()
