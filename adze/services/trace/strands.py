"""Strands told apart in a search: what each of them should show, and what was read of them."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from adze.core.basics.units import M_PER_FT, Units, kv_words
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.places import Place as FencePlace
from adze.core.ground.places import place_words
from adze.core.log.strand_compare import StrandAlong, StrandRow, comparable, judged, strands_along, strands_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.services.log.readings import MOST_KV, number
from adze.services.trace import sentences
from adze.services.trace.events import KeptEvent, StrandsRead


@dataclass(frozen=True)
class StrandsToRead:
    """A line whose strands can be told apart, with what each should show at its far end.

    `end_shown` is where that is, in whole metres or feet as the plan's units are.
    """

    run: str
    name: str
    at_m: float
    end_shown: str
    rows: tuple[StrandRow, ...]


def strand_lines(plan: Plan, season: str) -> tuple[StrandsToRead, ...]:
    """The lines whose strands can be told apart. Raises Incomplete."""
    weather = Weather(Season(season))
    unit_m = M_PER_FT if plan.units is Units.IMPERIAL else 1.0
    found = []
    for run in plan.runs:
        if comparable(plan, run.id):
            far = round(length_m(run), 1)
            found.append(
                StrandsToRead(
                    run.id, run.name, far, f"{far / unit_m:.0f}", strands_at(plan, weather, FencePlace(run.id, far))
                )
            )
    return tuple(line for line in found if line.rows)


def strands_packed(plan: Plan, season: str) -> list[dict[str, Any]]:
    """The lines whose strands can be told apart, with what each should show along them, for a phone.

    Raises Incomplete.
    """
    weather = Weather(Season(season))
    lines = [(run.id, strands_along(plan, weather, run.id)) for run in plan.runs if comparable(plan, run.id)]
    return [{"run": run, "rows": [_packed(row) for row in rows]} for run, rows in lines if rows]


def _packed(row: StrandAlong) -> dict[str, Any]:
    return {
        "numbers": row.numbers,
        "words": row.words,
        "at_m": np.round(row.at_m, 2).tolist(),
        "well_kv": np.round(row.well_kv, 4).tolist(),
    }


def strands_event(plan: Plan, season: str, where: dict[str, Any], typed: Sequence[str]) -> StrandsRead:
    """Strands that were read: kV by strand, and what the search takes of them. Raises FieldFault."""
    rows = strands_at(plan, Weather(Season(season)), FencePlace(where["run"], where["at_m"]))
    read = tuple(
        number(text, "strand_kv", sentences.KV_OF.format(strand=row.words), MOST_KV) if text.strip() else None
        for row, text in zip(rows, [*typed, *[""] * len(rows)], strict=False)
    )
    return StrandsRead(**where, leg="", strand_kv=read, kv=judged(rows, read).counted_kv, amps=None)


def strand_event_words(plan: Plan, event: StrandsRead) -> tuple[str, str]:
    """Strands that were read: where, and what each showed."""
    shown = ", ".join("–" if kv is None else kv_words(kv) for kv in event.strand_kv)
    return sentences.STRANDS_READ.format(place=place_words(plan, event.place)), f"{shown} kV"


def strand_verdict(plan: Plan, season: str, events: Sequence[KeptEvent]) -> str:
    """What the strands that were read last say; empty where none were since the last mend."""
    mended = max((k for k, event in enumerate(events) if event.what == "found"), default=-1)
    since = (event.did for event in reversed(events[mended + 1 :]))
    last = next((did for did in since if isinstance(did, StrandsRead)), None)
    if last is None or last.run not in {run.id for run in plan.runs} or not comparable(plan, last.run):
        return ""
    rows = strands_at(plan, Weather(Season(season)), last.place)
    if len(rows) != len(last.strand_kv):
        return ""
    found = judged(rows, last.strand_kv)
    onward = sentences.STRAND_ALONE.format(strand=_named(rows, found.low)) if found.low else ""
    return f"{run_of(plan, last.run).name}: {found.words}{onward}"


def _named(rows: tuple[StrandRow, ...], numbers: tuple[int, ...]) -> str:
    return next(row.words for row in rows if row.numbers == numbers)
