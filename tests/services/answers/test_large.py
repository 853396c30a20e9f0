"""A farm as large as promised: it is judged, and quickly enough not to notice a step backwards only in the field."""

import time

from adze.core.ground.edit import moved
from adze.services.answers.forecasts import forecast_json
from bench.farm import large_farm


def test_a_large_farm_is_judged_in_time() -> None:
    plan = large_farm()
    assert sum(len(run.points) for run in plan.runs) > 2000
    assert (len(plan.runs), len(plan.fixtures)) == (200, 400)
    forecast_json(plan)
    start = time.process_time()
    found = forecast_json(moved(plan, frozenset({("run", "branch20")}), 0.3, 0.0))
    # 0.5 to 0.8 s on a shared machine: this only catches a step backwards.
    assert time.process_time() - start < 3
    assert found["ground"]["zones"]
    assert len(found["routes"]) >= 200
