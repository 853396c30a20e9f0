"""A search over a pipe: questions out, answers in, one JSON object a line."""

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from adze.core.practice.play import PipeError, question, taken
from adze.core.practice.simulated_farm import simulated_farm
from tests.core.trace.farms import CASES, begun, cases


def _asked(case: Path, answer: Any, *options: str) -> tuple[list[dict[str, Any]], int, str]:
    """Every question of a search over a pipe, its exit code, and what it says of an error."""
    command = [sys.executable, "-m", "adze.cli", "trace", "--pipe", str(case), *options]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as run:
        assert run.stdin
        assert run.stdout
        assert run.stderr
        asked = []
        for line in run.stdout:
            asked.append(json.loads(line))
            told = answer(asked[-1])
            if asked[-1]["do"] == "stop":
                break
            run.stdin.write((told if isinstance(told, str) else json.dumps(told)).encode() + b"\n")
            run.stdin.flush()
        run.stdin.close()
        return asked, run.wait(timeout=60), run.stderr.read().decode()


def test_a_case_is_played_to_its_end() -> None:
    row = cases()["T30004"]
    farm = simulated_farm(row.farm(), *row.hidden(), seed=1)
    asked, code, said = _asked(CASES, farm.answer, "--case", "T30004")
    assert code == 0, said
    assert asked[-1]["do"] == "stop"
    assert 0 <= asked[-1]["clear"] <= 1
    assert farm.is_restored
    reads = [row for row in asked if row["do"] == "read"]
    assert all(row["at"][0] == row["leg"] for row in reads)


@pytest.mark.parametrize(
    ("answer", "says"),
    [
        ("nonsense", "is no JSON object"),
        ('{"kv": "four"}', "kv: 'four' is not a number"),
        ('{"seen": {"kind": "x"}}', "seen"),
    ],
)
def test_an_answer_that_is_not_understood_ends_it(answer: str, says: str) -> None:
    _, code, said = _asked(CASES, lambda _: answer, "--case", "T30007")
    assert code == 2
    assert says in said


def test_a_file_of_many_cases_asks_which() -> None:
    asked, code, said = _asked(CASES, lambda _: {})
    assert (asked, code) == ([], 2)
    assert "16 such cases" in said


def test_a_find_on_a_span_that_is_not_there_is_refused() -> None:
    search = begun("T30007")
    step = search.next_step()
    with pytest.raises(PipeError, match="a span of the case"):
        taken(search, step, {"seen": {"kind": "LS", "at": ["s99", 3.0]}})
    assert question(search, step)["do"] in ("read", "look")
