"""Trace cases: what they say of a farm, and what is wrong with a broken one."""

import json
from pathlib import Path

import pytest

from adze.formats.cases.trace_case import read_trace_cases
from adze.formats.errors import FormatError

CASES = Path(__file__).parents[2] / "golden" / "trace.json"


def test_every_case_is_a_farm_with_its_world() -> None:
    found = read_trace_cases(CASES.read_text())
    assert len(found) == 16
    farm = found[0].farm()
    assert farm.start == "n0"
    assert farm.hazards["s0"].trees == 2
    faults, truth = found[0].hidden()
    assert [fault.kind for fault in faults] == ["LS"]
    assert truth.grass == pytest.approx(1.333, abs=1e-3)


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        (("start",), None, "case T30000: start: must be text"),
        (("network", "spans"), [], "network: nothing"),
        (("minutes", "reading"), -1, "case T30000: minutes.reading: must be 0 or more"),
        (("look", "finds"), 1.0, "case T30000: look.finds: must be less than 1"),
        (("walk", "m_per_min"), 0, "case T30000: walk.m_per_min: must be more than 0"),
        (("network", "source"), {}, "case T30000: network.source.node: is missing"),
        (("worlds",), {}, "case T30000: worlds: is not known here"),
    ],
)
def test_a_broken_case_names_itself_and_the_key(path: tuple[str, ...], value: object, says: str) -> None:
    case = json.loads(CASES.read_text())["cases"][0]
    holder = case
    for key in path[:-1]:
        holder = holder[key]
    holder[path[-1]] = value
    if says == "network: nothing":
        assert read_trace_cases(json.dumps(case))[0].farm().network.spans == ()
        return
    with pytest.raises(FormatError, match=says):
        read_trace_cases(json.dumps(case))[0].farm()


def test_what_is_no_case_file_is_said() -> None:
    for text in ("[", "[]", '{"cases": []}', '{"cases": 3}'):
        with pytest.raises(FormatError, match="case file"):
            read_trace_cases(text)
