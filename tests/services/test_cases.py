"""Every public case within its tolerance: figures from a circuit simulator and closed forms."""

import json
from pathlib import Path
from typing import Any

import pytest

from adze.formats.case_file import read_cases
from adze.services.cases import answer_case

GOLDEN = Path(__file__).parent.parent / "golden"


def load(name: str, kind: str) -> list[Any]:
    rows = json.loads((GOLDEN / name).read_text())["cases"]
    return [pytest.param(row, id=row["id"]) for row in rows if row["kind"] == kind]


def answer(row: dict[str, Any]) -> dict[str, Any]:
    return answer_case(read_cases(json.dumps(row))[0])


@pytest.mark.parametrize("row", load("cases.json", "network"))
def test_network(row: dict[str, Any]) -> None:
    values = answer(row)
    for quantity, expected in row["expected"].items():
        near = pytest.approx(abs(expected["value"]), rel=expected["tol_pct"] / 100)
        assert abs(values[quantity]) == near, quantity


@pytest.mark.parametrize("row", load("cases.json", "rods"))
def test_rods(row: dict[str, Any]) -> None:
    values = answer(row)
    for i, rod in enumerate(row["rods"]):
        assert values[f"rods.{i}"] == pytest.approx(rod["ohms"], rel=rod["tol_pct"] / 100), rod["kind"]
    pegs = row["peg_row_of_3_at_3m"]
    for i, peg in enumerate(pegs["readings"]):
        assert values[f"peg.{i}"] == pytest.approx(peg["fraction_of_true_rod_voltage"], rel=pegs["tol_pct"] / 100)
    assert [values[f"hooves.{i}"] for i in range(3)] == [h["ohms"] for h in row["hooves"]]


@pytest.mark.parametrize("row", load("cases.json", "energizers"))
def test_energizers(row: dict[str, Any]) -> None:
    values = answer(row)
    for i, unit in enumerate(row["energizers"]):
        for load_name, volts in unit["peak_V"].items():
            assert values[f"energizers.{i}.{load_name}"] == pytest.approx(volts, rel=0.01)
        assert values[f"energizers.{i}.E500_J"] == pytest.approx(unit["E500_J"], rel=0.01)


@pytest.mark.parametrize("row", load("strands.json", "pattern"))
def test_pattern(row: dict[str, Any]) -> None:
    values, expected = answer(row), row["expected"]
    for key in ("count", "roles", "switch", "post_cm", "one_pattern_holds"):
        assert values[key] == expected[key], key
    for cm, want in zip(values["heights"], expected["heights"], strict=True):
        assert cm == pytest.approx(want["cm"], abs=want["tol_cm"])
    assert values["wanted_kv"] == pytest.approx(expected["wanted_kv"]["value"], abs=expected["wanted_kv"]["tol"])
    for mine, want in zip(values["limits"], expected["limits"], strict=True):
        assert mine.pop("animal") == want.pop("animal")
        assert mine == pytest.approx(want, abs=1)
    bad = {(f["animal"], f["check"]): f["status"] for f in values["findings"]}
    assert bad == {(f["animal"], f["check"]): f["status"] for f in expected["findings"]}
    if "when_switched_off" in expected:
        assert values["when_switched_off"] == sorted(expected["when_switched_off"])
    assert all(name in values["refusal"] for name in expected.get("must_name", ()))


@pytest.mark.parametrize("row", load("strands.json", "check"))
def test_check(row: dict[str, Any]) -> None:
    values = answer(row)
    assert len(values["findings"]) == len(row["expected"]["findings"])
    for mine, want in zip(values["findings"], row["expected"]["findings"], strict=True):
        assert (mine["animal"], mine["check"], mine["status"]) == (want["animal"], want["check"], want["status"])
        assert mine["value"] == pytest.approx(want["value"], abs=want["tol"])
        assert mine["limit"] == pytest.approx(want["limit"], abs=want["tol"])
    mends = {(m["animal"], m["check"]): m for m in values["mends"]}
    for want in row["expected"]["mends"]:
        mine = mends[want["animal"], want["check"]]
        assert mine["mend"] == want["mend"]
        assert mine.get("strand") == want.get("strand")
        assert mine.get("to_cm", 0) == pytest.approx(want.get("to_cm", 0), abs=want.get("tol_cm", 0))


@pytest.mark.parametrize("row", load("strands.json", "touch"))
def test_touch(row: dict[str, Any]) -> None:
    for mine, want in zip(answer(row)["body_kv"], row["rows"], strict=True):
        assert mine == pytest.approx(want["body_kv"]["value"], rel=want["body_kv"]["tol_pct"] / 100)
