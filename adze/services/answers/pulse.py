"""The pulse as pictures: where its joules go, and the wave at a place."""

from typing import Any

import numpy as np

from adze.core.basics.units import kv_words
from adze.core.forecast.budget import Budget
from adze.core.forecast.volts import equivalent_at, solved
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.places import Place, place_words
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.pulse import laplace
from adze.core.pulse.network import Terminal

_LEAST_SHARE = 0.005  # of the joules: what is less is told together
_DRAWN_S = 3e-4


def budget_rows(plan: Plan, found: Budget) -> list[dict[str, Any]]:
    """What the picture shows, largest first after the unit: words, joules, share of what is stored."""
    names = {run.id: run.name for run in plan.runs}
    leaks = sorted(((names[run], j) for run, j in found.leaks_j.items()), key=lambda row: -row[1])
    large = [(f"Growth, posts: {name}", j) for name, j in leaks if j >= _LEAST_SHARE * found.stored_j]
    small = sum(j for _, j in leaks) - sum(j for _, j in large)
    rows = [("Stays in the unit", found.kept_j), *large]
    rows += [("Growth, posts: all other lines", small)] if small > 0 and len(large) < len(leaks) else []
    rows += [("What went wrong", found.mishaps_j), ("The strands themselves", found.wire_j)]
    rows += [("Rods at the energizer", found.rods_j), ("Rods along the line", found.far_rods_j)]
    kept = [(words, j) for words, j in rows if j > 1e-4 * found.stored_j]
    return [{"words": words, "joules": j, "share": j / found.stored_j} for words, j in kept]


def wave_at(plan: Plan, season: Season, run: str, at_m: float) -> dict[str, Any]:
    """The wave at a place, as points of a picture 300 by 110, with its figures. Raises Incomplete."""
    place = Place(run, min(max(at_m, 0.0), length_m(run_of(plan, run))))
    found = solved(plan, Weather(season))
    spot = equivalent_at(found, place)
    volts = laplace.waveforms(spot.open_v(Terminal.LIVE)[:-1], spot.solution.window)
    times = laplace.times_s(spot.solution.window)
    peak = float(laplace.peak_of(volts))
    kept = times <= _DRAWN_S
    y = volts[kept] * np.sign(peak or 1.0) / max(abs(peak), 1e-9)
    x = times[kept] / _DRAWN_S
    above = times[np.abs(volts) >= abs(peak) / 2]
    return {
        "where": place_words(plan, place),
        "points": " ".join(f"{30 + 262 * a:.1f},{78 - 66 * b:.1f}" for a, b in zip(x, y, strict=True)),
        "peak_kv": kv_words(abs(peak) / 1000),
        "half_us": round(1e6 * len(above) * spot.sample_s),
        "shown_kv": kv_words(float(found.shown_kv(spot.open_v(Terminal.LIVE)))),
        "tester_us": round(1e6 * plan.tester.response_s),
        "drawn_us": round(1e6 * _DRAWN_S),
    }
