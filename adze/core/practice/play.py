"""A search played against a world: over a pipe, one JSON object a line, or with a stand-in."""

import json
import math
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any, TextIO

from adze.core.trace.belief import RODS_PLACE, TraceReading
from adze.core.trace.grid import Spot
from adze.core.trace.mended import KINDS, Find
from adze.core.trace.next_step import NextStep
from adze.core.trace.search import FaultSearch

_MOST_DEEDS = 400
Answer = Callable[[dict[str, Any]], dict[str, Any]]


class PipeError(ValueError):
    """An answer that is not understood; says which and what is wrong."""


def question(search: FaultSearch, step: NextStep) -> dict[str, Any]:
    """A step as it is asked of a world."""
    if step.do == "stop":
        return {"do": "stop", "clear": round(step.clear, 4)}
    if step.do == "sweep":
        return {"do": "sweep", "spans": list(step.spans)}
    if step.do == "read_rods":
        return {"do": "read_rods"}
    if step.do == "switch":
        return {"do": "switch", "id": step.switch, "open": step.opens}
    spot = search.grid.at(step.place, step.leg or search.grid.legs[step.place][0])
    asked: dict[str, Any] = {"do": step.do, "at": [spot.span, round(spot.at_m, 6)]}
    return asked | ({"leg": spot.span} if step.do == "read" else {})


def taken(search: FaultSearch, step: NextStep, answer: dict[str, Any]) -> FaultSearch:
    """The search after a step and its answer. Raises PipeError for one that is not understood."""
    minutes = max(0.0, _number(answer, "minutes", search.minutes + step.minutes) - search.minutes)
    seen = answer.get("seen")
    if seen:
        return search.found(_find(search, seen), minutes)
    if step.do == "sweep":
        return search.swept_all(step.spans, minutes)
    after = search.walked(step.place if step.place >= 0 else search.grid.start, minutes)
    if step.do == "switch":
        return after.switched(step.switch, opens=step.opens)
    if step.do == "look":
        return after.inspected(step.place)
    if step.do == "read_rods":
        kv = _number(answer, "rods_kv", None)
        return after.skipped_at(RODS_PLACE) if kv is None else after.read(TraceReading(RODS_PLACE, kv))
    kv, amps = _number(answer, "kv", None), _number(answer, "amps", None)
    if kv is None and amps is None:
        return after.skipped_at(step.at)
    return after.read(TraceReading(step.at, kv, amps))


def _number(answer: dict[str, Any], name: str, instead: Any) -> Any:
    value = answer.get(name)
    if value is None:
        return instead
    if not isinstance(value, int | float) or isinstance(value, bool) or not math.isfinite(value):
        raise PipeError(f"answer: {name}: {value!r} is not a number")
    return float(value)


def _find(search: FaultSearch, seen: Any) -> Find:
    try:
        kind, (span, at_m) = seen["kind"], seen["at"]
        length_m = search.grid.spans[search.grid.span_number[span]].length_m
        return Find(KINDS[kind], Spot(span, min(max(float(at_m), 0.0), length_m)))
    except (KeyError, TypeError, ValueError):
        kinds = ", ".join(KINDS)
        raise PipeError(f"answer: seen: {seen!r} needs a kind ({kinds}) and at, a span of the case and m") from None


def play(search: FaultSearch, answer: Answer) -> tuple[FaultSearch, NextStep]:
    """Play a search to its end; the last step says how clear the fence is."""
    for _ in range(_MOST_DEEDS):
        step = search.next_step()
        if step.do == "stop":
            break
        search = taken(search, step, answer(question(search, step)))
    else:
        step = replace(search.stop(), minutes=0.0)
    answer(question(search, step))
    return search, step


def over_pipe(lines: Iterable[str], out: TextIO) -> Answer:
    """Answers read from lines, one to each question written. Raises PipeError."""
    answers = iter(lines)

    def ask(asked: dict[str, Any]) -> dict[str, Any]:
        out.write(json.dumps(asked, allow_nan=False) + "\n")
        out.flush()
        line = next(answers, "")
        if asked["do"] == "stop" and not line.strip():
            return {}
        try:
            found = json.loads(line)
        except json.JSONDecodeError as error:
            raise PipeError(f"answer to {asked['do']}: is no JSON object ({error.msg})") from None
        if not isinstance(found, dict):
            raise PipeError(f"answer to {asked['do']}: is no JSON object")
        return found

    return ask
