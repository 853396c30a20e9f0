"""A named limit that is changed by a quarter is noticed by the tests of its room (slow: one run of pytest for each)."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
LIMITS = (
    ("verdict", "judge_materials", "WITHERS_SHARE"),
    ("verdict", "overhead", "ALONGSIDE_M"),
    ("verdict", "overhead", "_UNDER_LINE_CM"),
    ("verdict", "siting", "NEIGHBOUR_M"),
    ("verdict", "siting", "OTHER_FENCE_M"),
    ("verdict", "siting", "CLIMB_M"),
    ("verdict", "siting", "TREE_M"),
)


@pytest.mark.slow
@pytest.mark.parametrize(("room", "module", "name"), LIMITS)
def test_a_changed_limit_is_noticed(room: str, module: str, name: str) -> None:
    """Pytest gives 1 for tests that fail; 2 and more mean that it could not run."""
    changed = f"adze.core.{room}.{module} {name} 1.25"
    command = [sys.executable, "-m", "pytest", "-x", "-p", "no:randomly", "-p", "no:cacheprovider"]
    run = subprocess.run(
        [*command, "-p", "tests.changed_limit", f"tests/core/{room}"],
        cwd=ROOT, env=os.environ | {"ADZE_CHANGED_LIMIT": changed}, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert run.returncode == 1, run.stdout[-2000:]
