"""Every figure of the core is accounted for; one that a judgement stands on is guarded by its room's tests (slow)."""

import ast
import csv
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.mutants.changes import FIGURE, assigned

ROOT = Path(__file__).parent.parent
CORE = ROOT / "adze" / "core"
# No conductor is strained to between one and 1.25 times the limit.
_LOWERED = {"_TIGHT_KN", "TIGHT_KN"}


def listed() -> list[dict[str, str]]:
    """The rows of tests/figures.csv."""
    lines = (ROOT / "tests" / "figures.csv").read_text().splitlines()
    return list(csv.DictReader(line for line in lines if not line.startswith("#")))


def named() -> set[tuple[str, str]]:
    """Module and name of every number that a module of the core assigns at its top."""
    return {
        (".".join(path.relative_to(CORE).with_suffix("").parts), name)
        for path in CORE.rglob("*.py")
        for name, _ in assigned(ast.parse(path.read_text()))
    }


def test_every_figure_of_the_core_is_listed_with_its_unit_and_reason() -> None:
    rows = listed()
    assert {(row["module"], row["name"]) for row in rows} == named()
    assert [row for row in rows if row["judged"] not in ("yes", "no") or not row["unit"] or not row["why"]] == []


@pytest.mark.slow
@pytest.mark.parametrize(
    ("module", "name"), [(row["module"], row["name"]) for row in listed() if row["judged"] == "yes"]
)
def test_a_changed_limit_is_noticed(module: str, name: str) -> None:
    """Pytest gives 1 for tests that fail; 2 and more mean that it could not run."""
    changed = f"adze.core.{module} {name} {0.75 if name in _LOWERED else FIGURE}"
    command = [sys.executable, "-m", "pytest", "-x", "-p", "no:randomly", "-p", "no:cacheprovider"]
    run = subprocess.run(
        [*command, "-p", "tests.mutants.plugin", f"tests/core/{module.split('.')[0]}"],
        cwd=ROOT, env=os.environ | {"ADZE_MUTANT": changed}, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert run.returncode == 1, run.stdout[-2000:]
