"""Every public case within its tolerance: figures from a circuit simulator and closed forms."""

import json
from pathlib import Path
from typing import Any

import pytest

from adze.core.energizer.fit import fit_pulse
from adze.formats.cases.case_file import read_cases
from adze.formats.errors import FormatError
from adze.services.answers.cases import answer_case

GOLDEN = Path(__file__).parents[2] / "golden"


def load(name: str, kind: str) -> list[Any]:
    rows = json.loads((GOLDEN / name).read_text())["cases"]
    return [pytest.param(row, id=row["id"]) for row in rows if row["kind"] == kind]


def answer(row: dict[str, Any]) -> dict[str, Any]:
    return answer_case(read_cases(json.dumps(row))[0])


@pytest.mark.parametrize("row", [*load("cases.json", "network"), *load("source.json", "network")])
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


@pytest.mark.parametrize("row", load("source.json", "energizers"))
def test_energizers(row: dict[str, Any]) -> None:
    values = answer(row)
    for i, unit in enumerate(row["energizers"]):
        peaks = {f"{load}": volts for load, volts in unit["peak_V"].items()}
        peaks |= {f"shown_{us}": volts for us, volts in unit["shown_V_500ohm"].items()}
        for name, volts in peaks.items():
            assert values[f"energizers.{i}.{name}"] == pytest.approx(volts, rel=1e-3), name
        for name, joules in unit["energy_J"].items():
            assert values[f"energizers.{i}.E{name}_J"] == pytest.approx(joules, rel=2e-3), name
        assert values[f"energizers.{i}.tp500_us"] == pytest.approx(unit["tp500_us"], rel=row["tol_tp_pct"] / 100)
        assert values[f"energizers.{i}.Rbest_ohm"] == pytest.approx(unit["Rbest_ohm"], rel=row["tol_Rbest_pct"] / 100)


@pytest.mark.parametrize("row", load("source.json", "energizers"))
def test_the_parts_of_an_energizer(row: dict[str, Any]) -> None:
    for i, unit in enumerate(row["energizers"]):
        parts = fit_pulse(read_cases(json.dumps(row))[0].catalogue(i)).parts  # type: ignore[union-attr]
        found = (parts.v0_v, parts.storage_f, parts.series_h, parts.series_ohm, parts.parallel_ohm, parts.damper_f)
        given = tuple(unit["source"][key] for key in ("V0", "C", "L", "R", "Rp", "Cp", "Rd"))
        assert (*found, parts.damper_ohm) == pytest.approx(given, rel=row["tol_parts_pct"] / 100)


@pytest.mark.parametrize("row", load("source.json", "plates"))
def test_plates(row: dict[str, Any]) -> None:
    assert list(answer(row).values()) == [plate["must"] for plate in row["plates"]]


def test_loads_and_testers_of_a_case_without_answers() -> None:
    figures = {"Eout": 3.0, "Voc": 9000.0, "V500": 6300.0}
    case = {"id": "own", "kind": "energizers", "energizers": [{"catalogue": figures}]}
    asked = case | {"loads": [200, "2nF"], "energy_loads": ["80"], "tester_us": [3]}
    assert set(answer(asked)) == {
        f"energizers.0.{name}" for name in ("200", "2nF", "E500_J", "E80_J", "shown_3us", "tp500_us", "Rbest_ohm")
    }
    for wrong, says in (({"loads": ["x"]}, "not a number"), ({"energy_loads": ["open"]}, "'open' is none")):
        with pytest.raises(FormatError, match=says):
            answer(case | wrong)


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
