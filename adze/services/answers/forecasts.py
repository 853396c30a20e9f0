"""Forecasts and verdicts of plans, kept by the plan's own object: services.plans gives one for one content."""

from itertools import pairwise
from typing import Any

import numpy as np

from adze.core.animals.strand_rules import Role
from adze.core.animals.touch import PATH_WORDS, Path
from adze.core.basics.cache import cached
from adze.core.basics.types import Real
from adze.core.basics.units import joule_words, kv_words
from adze.core.build.construction import fence_of
from adze.core.energizer.fit import fit_pulse
from adze.core.forecast.apart import strand_words
from adze.core.forecast.band import Band, band_of
from adze.core.forecast.tester_display import read_words, scale_end
from adze.core.forecast.touches import Touch, touches
from adze.core.forecast.volts import Trace, Volts, probe_at
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.places import Place, place_words
from adze.core.ground.routes import Route, heights_along, marks_along, routes
from adze.core.ground.soil_areas import soil_of
from adze.core.log.reading_judgement import Expected, with_tester
from adze.core.plan.constructions import every_fence, fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import stands_open
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.plan.stock import wanted_of
from adze.core.tables.animals import animal_word
from adze.core.tables.energizers import energizers
from adze.core.verdict.judge import Judgement, judge
from adze.services.answers.fence import fence_json
from adze.services.answers.ground import ground_json

_KEPT = 64
_NEAR_M = 0.01


def fit_catalogue() -> None:
    """Fit the catalogue's energizers once, so that the first try of a larger one does not wait."""
    for unit in energizers().values():
        fit_pulse(unit.catalogue)


def known_judgement(plan: Plan) -> Judgement | None:
    """The verdicts of a plan if they are kept already."""
    return judgement_of.known(plan)


@cached("judgements", _KEPT, identity_args=1)
def judgement_of(plan: Plan) -> Judgement:
    """The verdicts of a plan."""
    return judge(plan)


def _rounded(values: Any, digits: int = 3) -> list[float]:
    rounded: list[float] = np.round(values, digits).tolist()
    return rounded


def _traces_json(season: Volts) -> list[dict[str, Any]]:
    if not season.traces:
        return []
    at_m = _rounded(np.concatenate([trace.at_m for trace in season.traces]), 1)
    kv = _rounded(np.concatenate([trace.kv for trace in season.traces]))
    leak, back = (
        _rounded(np.concatenate([getattr(t, name) for t in season.traces]), 2) for name in ("leak_a", "return_a")
    )
    stops = np.cumsum([0, *(len(trace.at_m) for trace in season.traces)]).tolist()
    is_apart = any(trace.apart for trace in season.traces)
    return [
        {
            "run": trace.run,
            "at_m": at_m[low:high],
            "kv": kv[low:high],
            "leak_a": leak[low:high],
            "return_a": back[low:high] if trace.has_earth else [],
            **({"low_kv": _rounded(_low_kv(trace))} if is_apart else {}),
        }
        for trace, (low, high) in zip(season.traces, pairwise(stops), strict=True)
    ]


def _low_kv(trace: Trace) -> Real:
    """The least kV of all groups of strands that are fed, (P,): where none is apart, that of the live ones."""
    low: Real = np.min([np.where(fed, kv, trace.kv) for _, kv, fed in trace.groups], axis=0)
    return low


def _route_json(route: Route) -> dict[str, Any]:
    return {
        "name": route.name,
        "length_m": round(route.length_m, 1),
        "legs": [{"run": x.run, "from_m": x.from_m, "to_m": x.to_m} for x in route.legs],
    }


def route_json(plan: Plan, index: int) -> dict[str, Any]:
    """What stands along one route, and the ground under it; empty for a route that is not there."""
    ways = routes(plan)
    if not 0 <= index < len(ways):
        return {"marks": [], "profile": []}
    return {
        "marks": [{"kind": x.kind, "label": x.label, "at_m": round(x.at_m, 1)} for x in marks_along(plan, ways[index])],
        "profile": [[round(at, 1), round(height, 2)] for at, height in heights_along(plan, ways[index])],
    }


@cached("forecasts", _KEPT, identity_args=1)
def forecast_json(plan: Plan) -> dict[str, Any]:
    """What the browser draws: traces by season, routes, the rail's marks, the verdict."""
    judged = judgement_of(plan)
    worst = judged.worst
    ways = routes(plan)
    return {
        "blocked": judged.blocked,
        "wanted_kv": judged.wanted_kv,
        "scale_end": vars(scale_end(plan)),
        "status": judged.status.value,
        "seasons": {
            season.value: {
                "traces": _traces_json(forecast),
                "worst": {"run": forecast.worst[0].run, "at_m": forecast.worst[0].at_m, "kv": forecast.worst[1]},
                "start_kv": forecast.start_kv,
            }
            for season, forecast in judged.volts.items()
        },
        "stages": {s.value: {"status": v.status.value, "line": v.line} for s, v in judged.verdicts.items()},
        "worst": worst and {"season": worst.season, "place": worst.place and vars(worst.place), "stage": worst.stage},
        "routes": [_route_json(r) for r in ways],
        "fences": {built.id or "": fence_json(built) for built in every_fence(plan)},
        "ground": ground_json(plan),
    }


def _band(plan: Plan, season: Season) -> Band:
    judged = judgement_of(plan)
    if judged.blocked:
        raise Incomplete(Stage.VOLTS, judged.blocked)
    return band_of(plan, judged.volts[season])


def band_json(plan: Plan, season: Season) -> dict[str, Any]:
    """The band for the strip."""
    band = _band(plan, season)
    return {
        "season": season.value,
        "traces": [
            {
                "run": row.run,
                "at_m": _rounded(row.at_m, 1),
                "low": _rounded(row.low_kv),
                "high": _rounded(row.high_kv),
            }
            for row in band.runs
        ],
    }


def expected_at(plan: Plan, season: Season, place: Place) -> Expected:
    """The forecast of a tester's reading, live strand to soil, at a place. Raises Incomplete."""
    trace = next(t for t in judgement_of(plan).volts[season].traces if t.run == place.run)
    likely = float(np.interp(place.at_m, trace.at_m, trace.live_kv))
    low, high = _band(plan, season).live_at(place)
    return with_tester(low, likely, high)


def amps_at(plan: Plan, season: Season, place: Place) -> float:
    """The peak amps that are forecast to pass a place outward. Raises Incomplete."""
    return abs(probe_at(plan, Weather(season), place).pulse_a)


def stand_json(plan: Plan, season: Season, run_id: str, at_m: float, strand: int) -> dict[str, Any]:
    """The stand card: kV, amps, what each animal would feel, what is fixed here. Raises Incomplete."""
    run = run_of(plan, run_id)
    place = Place(run_id, min(max(at_m, 0.0), length_m(run)))
    weather = Weather(season)
    judged = judgement_of(plan)
    if judged.blocked:
        return {"where": place_words(plan, place), "blocked": judged.blocked}
    view = fence_at(plan, place.run).view
    fence = fence_of(view)
    number = min(max(strand, 0), len(fence) - 1) + 1
    chosen = fence[number - 1]
    trace = next(t for t in judged.volts[season].traces if t.run == place.run)
    is_off = _is_off(trace, place.at_m, number)
    # Beside a strand that is switched off hang live ones: what a hand meets there is theirs.
    probe = probe_at(plan, weather, place, None if is_off else number)
    leak = float(np.interp(place.at_m, trace.at_m, trace.leak_a))
    # Beside a dead strand hang live ones: what a hand meets there is theirs.
    reads = {Role.LIVE: probe.live_kv, Role.EARTH: probe.earth_kv, Role.DEAD: probe.live_kv}[chosen.role]
    return {
        "run": place.run,
        "at_m": round(place.at_m, 1),
        "name": run.name,
        "where": place_words(plan, place),
        "post": int(place.at_m // view.post_spacing_m) + 1,
        "strand": number,
        "strands": len(fence),
        "role": "off" if is_off else chosen.role.value,
        "cm": chosen.cm,
        "kv_soil": read_words(plan, reads),
        "kv_earth": read_words(plan, probe.between_kv) if trace.has_earth else None,
        "earth_strand_kv": read_words(plan, probe.earth_kv) if trace.has_earth else None,
        "apart": _apart_json(plan, trace, place.at_m),
        "true_kv": kv_words(probe.true_kv),
        "pulse_a": round(probe.pulse_a, 1),
        "leak_a": round(abs(leak), 1),
        "leak_way": "outward" if leak >= 0 else "back toward the start",
        "enough": bool((probe.between_kv if trace.has_earth else probe.live_kv) >= wanted_of(view)),
        "touches": [_touch_json(t) for t in touches(view, probe.equivalent, weather, soil_of(plan, place))],
        "fixed": [
            f"{f.name} ({f.kind}{', open' if stands_open(f) else ''})"
            for f in plan.fixtures
            if f.run == place.run and abs(f.at_m - place.at_m) <= max(view.post_spacing_m / 2, 2)
        ],
    }


def _touch_json(touch: Touch) -> dict[str, Any]:
    return {
        "animal": animal_word(touch.animal.kind),
        "kv": kv_words(touch.body_kv),
        "joules": joule_words(touch.body_j),
        "status": touch.status.value,
        "path": PATH_WORDS[touch.path] + (" and soil" if touch.path is Path.SOIL else ""),
        "reached": touch.reached.value if touch.reached else "not noticed",
        "wanted": touch.wanted.value,
    }


def _before(trace: Trace, at_m: float) -> int:
    """The sampled place before a place: where a line is parted, the one on the near side."""
    return max(0, int(np.searchsorted(trace.at_m, at_m - _NEAR_M)) - 1)


def _is_off(trace: Trace, at_m: float, number: int) -> bool:
    """Whether the pulse does not reach a live strand at a place, though it is apart from the others."""
    return any(number in own.group.numbers and not own.fed[_before(trace, at_m)] for own in trace.apart)


def _apart_json(plan: Plan, trace: Trace, at_m: float) -> list[dict[str, Any]]:
    """What a tester reads at a place on the strands that are apart from the others."""
    i = _before(trace, at_m)
    return [
        {
            "strands": strand_words(own.group.numbers),
            "kv": read_words(plan, float(np.interp(at_m - _NEAR_M, trace.at_m, own.live_kv))),
            "fed": bool(own.fed[i]),
        }
        for own in trace.apart
    ]
