"""The log's readings set against the plan: what they teach."""

from typing import Any

from adze.core.animals.strand_rules import Role
from adze.core.basics.units import band_words, figure_words, kv_words
from adze.core.build.construction import fence_of
from adze.core.forecast.calibrate import Fit, Sample, calibrate
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place, place_words
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.store.connection import BeginTransaction
from adze.store.log import readings

_MOST = 200  # the newest are used


def calibration_of(begin_transaction: BeginTransaction, *, plan_id: int, plan: Plan) -> Fit:
    """What the newest readings of live strands teach. Raises ValueError without any, Incomplete."""
    runs = {run.id: length_m(run) for run in plan.runs}
    samples = []
    with begin_transaction() as connection:
        rows = readings.list_readings(connection, plan_id=plan_id)[:_MOST]
    for reading in rows:
        if reading.run not in runs:
            continue
        fence = fence_of(fence_at(plan, reading.run).view)
        if reading.strand <= len(fence) and fence[reading.strand - 1].role is Role.LIVE:
            place = Place(reading.run, min(reading.at_m, runs[reading.run]))
            samples.append(Sample(place, Season(reading.season), reading.kv, reading.amps))
    return calibrate(replaced(plan, what_ifs=()), samples)


def fit_words(plan: Plan, fit: Fit) -> dict[str, Any]:
    """A fit as the page tells it."""
    known = fit.calibration
    return {
        "document": known.model_dump(),
        "stands": plan.calibration == known,
        "leak": figure_words(known.leak_factor),
        "leak_band": band_words(
            figure_words(known.leak_factor / known.leak_spread), figure_words(known.leak_factor * known.leak_spread)
        ),
        "soil": figure_words(known.soil_factor),
        "soil_left": f"{100 * known.soil_share:.0f}",
        "readings": known.readings,
        "before": kv_words(fit.before_kv),
        "after": kv_words(fit.after_kv),
        "tester": figure_words(fit.tester) if fit.is_tester_off else "",
        "doubtful": [(season.value, other.value) for season, other in fit.doubtful],
        "misfits": [
            {
                "where": place_words(plan, sample.place),
                "run": sample.place.run,
                "at_m": sample.place.at_m,
                "season": sample.season.value,
                "read": kv_words(sample.kv) if sample.kv else "0",
                "expected": kv_words(forecast),
                "low": sample.kv < forecast,
            }
            for sample, forecast in fit.misfits
        ],
    }
