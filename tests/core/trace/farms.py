"""Farms with hidden faults to search, from the golden cases."""

from functools import cache
from pathlib import Path

from adze.core.practice.play import Answer, question, taken
from adze.core.practice.simulated_farm import SimulatedFarm, simulated_farm
from adze.core.trace.search import FaultSearch, begin
from adze.formats.cases.trace_case import TraceCase, read_trace_cases

CASES = Path(__file__).parents[2] / "golden" / "trace.json"


@cache
def cases() -> dict[str, TraceCase]:
    """All cases by id."""
    return {case.id: case for case in read_trace_cases(CASES.read_text())}


@cache
def begun(case: str) -> FaultSearch:
    """A search on a case's farm before anything was read."""
    return begin(cases()[case].farm())


def hidden(case: str, seed: int = 1) -> SimulatedFarm:
    """The case's farm as it is."""
    return simulated_farm(cases()[case].farm(), *cases()[case].hidden(), seed=seed)


def played(search: FaultSearch, answer: Answer, most: int = 200) -> FaultSearch:
    """A search played until it stops."""
    for _ in range(most):
        step = search.next_step()
        if step.do == "stop":
            return search
        search = taken(search, step, answer(question(search, step)))
    raise AssertionError("the search does not end")
