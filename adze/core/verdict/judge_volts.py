"""The verdict on the volts: kV everywhere, and what the animals feel of it."""

from collections.abc import Iterator
from itertools import groupby

import numpy as np

from adze.core.animals.touch import PATH_WORDS, Path
from adze.core.basics.status import Status, against, rank
from adze.core.basics.units import format_length, kv_words
from adze.core.forecast.apart import strand_words
from adze.core.forecast.tester_display import ABOVE_OPEN, read_words
from adze.core.forecast.touches import Touch, touches
from adze.core.forecast.volts import Solved, Volts, equivalent_at, solved
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place, place_words
from adze.core.ground.soil_areas import own_soil, soil_of
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import Built, standing_fences, views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.season import SEASON_WORDS, Season
from adze.core.plan.stages import Stage
from adze.core.plan.stock import wanted_of
from adze.core.tables.animals import animal_word
from adze.core.tables.ground import soils
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge_fence import lost_without
from adze.core.verdict.losses import explained
from adze.core.verdict.wired.dead_parts import DEAD_TITLE, dead_parts

_HIGHER = 1.1  # than at the energizer: worth a word


def worst_touches(found: Solved, season: Volts) -> tuple[tuple[Place, Touch], ...]:
    """Every animal's touch where the kV is least on each kind of soil, for each way of building."""
    plan, views = found.plan, views_by_run(found.plan)
    least: dict[tuple[str, int], tuple[float, Place, tuple[int, ...]]] = {}
    traces = {trace.run: trace for trace in season.traces}
    for (run, own), rows in groupby(found.circuit.pieces, key=lambda piece: (piece.run, piece.soil)):
        pieces, trace, soil = list(rows), traces[run], own or plan.soil
        low, high = np.searchsorted(trace.at_m, (pieces[0].from_m - 1e-6, pieces[-1].to_m + 1e-6))
        kind = soil, id(views[run])
        for strands, kvs, fed in trace.groups:
            kv = np.where(fed, kvs, np.inf)[low:high]
            i = int(np.argmin(kv))
            if np.isfinite(kv[i]) and (kind not in least or kv[i] < least[kind][0]):
                least[kind] = float(kv[i]), Place(run, float(trace.at_m[low + i])), strands
    felt = []
    for (soil, _), (_, place, strands) in least.items():
        terminal = found.circuit.terminal(place.run, strands[0] if strands else None)
        here = equivalent_at(found, place).seen_from(terminal)
        felt += [(place, one) for one in touches(views[place.run], here, season.weather, own_soil(plan, soil))]
    return tuple(felt)


def judge_volts(
    plan: Plan,
    seasons: dict[Season, Volts],
    felt: dict[Season, tuple[tuple[Place, Touch], ...]],
    blocked: str,
) -> Verdict:
    """Least kV in every season and the weakest touch of every animal."""
    if not seasons:
        return Verdict(Stage.VOLTS, "not known yet", unknown=blocked)
    found = [
        kv_finding(plan, season, forecast, built)
        for season, forecast in seasons.items()
        for built in standing_fences(plan)
        if np.isfinite(forecast.worst_on(frozenset(built.runs))[1])
    ]
    by_animal: dict[str, Finding] = {}
    for season, rows in felt.items():
        for place, one in rows:
            finding = touch_finding(plan, season, place, one)
            known = by_animal.get(one.animal.kind)
            if known is None or finding.severity > known.severity:
                by_animal[one.animal.kind] = finding
    found += by_animal.values()
    found += higher_at_the_end(plan, seasons)
    found += _carry_nothing(plan, next(iter(seasons.values())))
    found += dead_parts(plan)
    deciding = max(found, key=lambda f: f.severity)
    if deciding.status is not Status.HOLDS and deciding.season:
        forecast = seasons[deciding.season]
        told = explained(solved(plan, forecast.weather), forecast, deciding)
        found = [told if f is deciding else f for f in found]
    if deciding.status is not Status.HOLDS and deciding.title.startswith(DEAD_TITLE):
        line = f"nothing on {run_of(plan, deciding.place.run).name}" if deciding.place else ""
    elif deciding.status is Status.HOLDS or deciding.animal is None:
        season, forecast = min(seasons.items(), key=lambda row: row[1].worst[1])
        line = f"{read_words(plan, forecast.worst[1])} kV {season.value}"
    else:
        word = animal_word(deciding.animal)
        line = f"{word} feels {kv_words(deciding.value_kv)} kV {deciding.season.value if deciding.season else ''}"
    cautions = (
        "Switch off and check with the tester before mending. People with a pacemaker keep away from the fence.",
    )
    return Verdict(Stage.VOLTS, line, tuple(found), cautions)


def _carry_nothing(plan: Plan, forecast: Volts) -> Iterator[Finding]:
    """Live strands that the pulse does not reach on a line whose others it does, and what no longer holds there."""
    for trace in forecast.traces:
        off = [own for own in trace.apart if (trace.fed & ~own.fed).any()]
        if not off:
            continue
        numbers = tuple(sorted(n for own in off for n in own.group.numbers))
        at = trace.at_m[np.any([trace.fed & ~own.fed for own in off], axis=0)]
        lost = lost_without(views_by_run(plan)[trace.run], numbers)
        place = Place(trace.run, float(at[0]))
        name, long = run_of(plan, trace.run).name, format_length(float(at[-1] - at[0]), plan.units)
        verb, them = ("carry", "them") if len(numbers) > 1 else ("carries", "it")
        told = [f"{f.title[0].lower()}{f.title[1:]}" for f in lost]
        without = (
            f"Without {them} these checks fail: {'; '.join(told)}."
            if told
            else "The strands that are left hold every animal."
        )
        yield Finding(
            Stage.VOLTS,
            "Strands that carry nothing",
            max((f.status for f in lost), key=rank, default=Status.HOLDS),
            f"{strand_words(numbers).capitalize()} of {name} {verb} nothing on {long}: a switch for {them} is open, "
            f"or nothing connects {them} to the fed strands. {without}",
            place=place,
            where=place_words(plan, place),
            mend="Shut the switch, or add a strand link where they should be fed." if lost else "",
        )


def higher_at_the_end(plan: Plan, seasons: dict[Season, Volts]) -> Iterator[Finding]:
    """Where a place reads much more than the energizer, in the season in which it reads most: why that is so (S18)."""
    unit = unit_of(plan)
    rows = [(*forecast.highest, forecast.start_kv, season) for season, forecast in seasons.items()]
    place, kv, start, season = max(rows, key=lambda row: row[1])
    if unit is None or not (kv > ABOVE_OPEN * unit.open_kv or kv > _HIGHER * start):
        return
    yield Finding(
        Stage.VOLTS,
        "Higher than at the energizer",
        Status.HOLDS,
        "On a long clean line the pulse comes back from the open end, so the far end can read higher than the unit. "
        "A little grass or dirty insulators take that away.",
        figure=f"{read_words(plan, kv)} kV",
        limit=f"{read_words(plan, start)} kV at the energizer",
        place=place,
        where=place_words(plan, place),
        season=season,
    )


def kv_finding(plan: Plan, season: Season, forecast: Volts, built: Built) -> Finding:
    """The least kV of a season on the lines built in one way, against what their animals want."""
    least = forecast.least_on(frozenset(built.runs))
    place, kv, wanted = least.place, least.kv, wanted_of(built.view)
    on = f"{strand_words(least.strands)}, apart from the others, at " if least.strands else ""
    return Finding(
        Stage.VOLTS,
        f"Weakest spot, {SEASON_WORDS[season]}" + (f": {built.name}" if plan.fences else ""),
        against(kv, wanted),
        _kv_reason(plan, forecast, kv),
        figure=f"{read_words(plan, kv)} kV",
        limit=f"{kv_words(wanted)} kV",
        place=place,
        where=on + place_words(plan, place),
        season=season,
        value_kv=kv,
        limit_kv=wanted,
    )


def _kv_reason(plan: Plan, forecast: Volts, kv: float) -> str:
    unit = unit_of(plan)
    sag = 1 - kv / max(forecast.start_kv, 1e-9)
    if sag > 0.25:
        return "Leaks along the way and the strands' own resistance take it."
    if unit and forecast.start_kv < 0.7 * unit.open_kv:
        return "The whole fence loads the unit: growth and rods take the pulse from the start."
    return "The pulse arrives almost in full."


def touch_finding(plan: Plan, season: Season, place: Place, one: Touch) -> Finding:
    """What one animal feels against what holds or turns it."""
    soil = soil_of(plan, place) or plan.soil
    way = PATH_WORDS[one.path] + (f" on {soils()[soil].label.lower()}" if one.path is Path.SOIL else "")
    reason = f"The strand carries {kv_words(one.strand_kv)} kV; {kv_words(one.body_kv)} kV reach the body {way}."
    name = animal_word(one.animal.kind)
    return Finding(
        Stage.VOLTS,
        f"What the {name} feels",
        one.status,
        reason,
        figure=f"{kv_words(one.body_kv)} kV",
        limit=f"{kv_words(one.wanted_kv)} kV {one.wanted.value}",
        place=place,
        where=place_words(plan, place),
        season=season,
        value_kv=one.body_kv,
        limit_kv=one.wanted_kv,
        animal=one.animal.kind,
        strand_kv=one.strand_kv if one.path is Path.SOIL else 0.0,
    )
