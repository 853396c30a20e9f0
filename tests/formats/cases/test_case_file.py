"""Case files: every broken one is named by case and key."""

import json
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from adze.cli import app
from adze.formats.cases.case_file import read_cases
from adze.formats.errors import FormatError
from adze.services.answers.cases import answer_case

GOLDEN = Path(__file__).parents[2] / "golden" / "cases.json"
RUN = CliRunner()


def base() -> dict[str, Any]:
    case: dict[str, Any] = json.loads(GOLDEN.read_text())["cases"][1]
    return case


def broken(*path: str | int, value: Any = None) -> dict[str, Any]:
    """The case with one key changed, or taken away for None."""
    case = base()
    part: Any = case
    for key in path[:-1]:
        part = part[key]
    if value is None:
        del part[path[-1]]
    else:
        part[path[-1]] = value
    return case


@pytest.mark.parametrize(
    ("case", "says"),
    [
        (broken("source", "V0"), "source.V0: is missing"),
        (broken("spans", 0, "len"), "spans.0.len: is missing"),
        (broken("spans", 0, "len", value=-5), "span s1: length_m is -5"),
        (broken("spans", 0, "len", value="long"), "spans.0.len: must be a number"),
        (broken("spans", 0, "type", value="zz"), "type 'zz' is not among the linetypes"),
        (broken("linetypes", "a", "R"), "linetypes.a.R: is missing"),
        (broken("linetypes", "a", "L", value=[[1.0, 2.0]]), "1x1 or 2x2"),
        (broken("shunts", 0, "to", value="X"), "shunts.0.to"),
        (broken("shunts", 0, "R", value=float("nan")), "shunts.0.R: must be a finite number"),
        (broken("source"), "source: is missing"),
        (broken("kind", value="magic"), "magic"),
        (broken("spans", 0, "b", value="n0"), "span s1: a and b are both 'n0'"),
        (broken("source", "Cpp", value=1e-9), "source.Cpp: is not known here; did you mean Cp?"),
        (broken("spanz", value=[]), "spanz: is not known here; did you mean spans?"),
        (broken("spans", 0, "lenght", value=5), "spans.0.lenght: is not known here; did you mean len?"),
        (broken("linetypes", "a", "G_LX", value=0), "linetypes.a.G_LX: is not known here"),
    ],
)
def test_a_broken_case_is_named(case: dict[str, Any], says: str) -> None:
    with pytest.raises(FormatError, match="case P2-mid-fault") as caught:
        answer_case(read_cases(json.dumps(case))[0])
    assert says in str(caught.value)


@pytest.mark.parametrize(
    ("quantity", "says"),
    [
        ("V.n9.L", "no node 'n9'"),
        ("V.s1@9999.L", "within the span"),
        ("I.zz", "no shunt or link"),
        ("W.n0", "not understood"),
        ("V.s9@1.L", "no span 's9'"),
        ("I.s1@0", "needs a place"),
    ],
)
def test_an_ask_that_has_no_answer_is_named(quantity: str, says: str) -> None:
    case = base() | {"ask": [quantity]}
    with pytest.raises(FormatError, match="P2-mid-fault") as caught:
        answer_case(read_cases(json.dumps(case))[0])
    assert says in str(caught.value)


def test_a_case_without_answers_is_solved_all_the_same() -> None:
    case = base()
    del case["expected"]
    values = answer_case(read_cases(json.dumps(case))[0])
    assert {"V.n0.L", "V.n2.L", "I.f1", "I.rods"} <= set(values)


def test_a_file_may_hold_one_case_or_many() -> None:
    assert len(read_cases(json.dumps(base()))) == 1
    assert len(read_cases(GOLDEN.read_text())) == 7
    with pytest.raises(FormatError, match="is not JSON"):
        read_cases("{")
    for text, says in (
        ("[3]", "is a list"),
        (json.dumps([base()]), "is a list"),
        ("3", "is no object"),
        ('{"cases": {}}', "cases: must be a list"),
        ('{"cases": [3]}', "case 0: must be an object"),
        ('{"cases": [], "casess": []}', "casess: is not known"),
    ):
        with pytest.raises(FormatError) as caught:
            read_cases(text)
        assert says in str(caught.value)


def test_solve_prints_json_with_times(tmp_path: Path) -> None:
    file = tmp_path / "case.json"
    file.write_text(json.dumps(base()))
    result = RUN.invoke(app, ["solve", str(file)])
    (row,) = json.loads(result.stdout)["cases"]
    assert result.exit_code == 0
    assert row["id"] == "P2-mid-fault"
    assert abs(row["values"]["V.n1.L"]) == pytest.approx(1956.2, rel=0.01)
    assert row["solve_ms"] > 0


@pytest.mark.parametrize("command", ["solve", "check"])
def test_a_broken_file_gives_one_line_and_exit_code_2(command: str, tmp_path: Path) -> None:
    file = tmp_path / "x.json"
    file.write_text(json.dumps(broken("source", "V0")))
    for given in (str(file), str(tmp_path / "none.json")):
        result = RUN.invoke(app, [command, given])
        assert result.exit_code == 2
        assert result.stdout == ""
        assert result.stderr.count("\n") == 1


def test_check_prints_a_verdict() -> None:
    plan = Path(__file__).parents[3] / "adze" / "demo" / "hallow_reach.json"
    result = RUN.invoke(app, ["check", str(plan)])
    verdict = json.loads(result.stdout)
    assert result.exit_code == 1
    assert verdict["worst"]["where"].startswith("Sea bank")
    assert len(verdict["mends"]) >= 3
    assert verdict["stages"]["volts"]["status"] == "fails"


def test_the_plan_schema_is_published() -> None:
    schema = json.loads(RUN.invoke(app, ["schema"]).stdout)
    assert schema["title"] == "Plan"
    assert "runs" in schema["properties"]
