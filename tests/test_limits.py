"""A named limit or rate that is a quarter off is noticed by its room's tests (slow: a run of pytest for each)."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
LIMITS = {
    "advice.earth_here": "_KNEE",
    "advice.remedies": "_CUT_M_PER_HOUR _HOUR_WORTH _MESH_M_PER_HOUR _ROD_HOURS _SHEAR_PER_HOUR _SWITCH_HOURS "
    "_UNIT_HOURS _WIRE_M_PER_HOUR",
    "animals.strand_checks": "BOLD_M_PER_S PULSE_S WARY_M_PER_S",
    "animals.strand_rules": "DIGGER_NOSE DUCK LOW_PASSAGE POST_OVER_CM PUSH_GAP SNIFF_GAP SWING_CM",
    "build.count": "PATH_NEAR_M SIGN_EVERY_M SPRING_ABOVE_M",
    "build.ends": "BAG_M3 HOLE_DEEP_M HOLE_M TIGHT_KN",
    "build.fittings": "_OVER_TAIL_M",
    "build.gateways": "CABLE_DEEP_M CABLE_END_M",
    "build.rod_sites": "APART_M _GATE_M",
    "build.rods": "CLAMP_OHM CLAY_OHM_M FROZEN_FACTOR",
    "energizer.supply": "CAR_USE COLD_SHARE_PER_C DEEP_CYCLE_USE EFFICIENCY IDLE_A SLOW_RATE SYSTEM",
    "forecast.earth_test": "DEEP_KV PEG_M SHORTED_KV SHORT_AWAY_M USUAL_GOOD_KV USUAL_TOLERABLE_KV",
    "forecast.stray": "NOTICED_V REFUSED_V",
    "ground.lines": "CORNER_DEGREES",
    "ground.relief": "DIP_M",
    "ground.survey": "JOIN_M SAID_WITHIN_M",
    "ground.wiring": "MERGE_M",
    "ground.zones": "WALK_M_PER_MINUTE",
    "log.between": "LEAST_A LEAST_SHARE",
    "log.due": "HEAVY_TRIM_DAYS NEAR_TREE_M READ_DAYS STORM_DAYS TRIM_DAYS YEAR_DAYS",
    "plan.stock": "TRAINING_DAYS TRAINING_TOUCHES YEAR_DAYS",
    "tasks.figures": "PRESS_N RAIL_HIGH RAIL_TIMES TWITCH_SPARE",
    "tasks.job": "ROTARY_SHARE",
    "tasks.nest": "BACK_MIN LOAD_KG REHEARSED_MIN UNCOVERED_MIN",
    "tasks.windows": "COLD_C VERY_WINDY_MS WETTING_MM_H WINDY_MS",
    "verdict.surroundings.guarded": "CLEAR_M _ASKED_WITHIN_M _ON_THE_LINE_M _RING_M2",
    "verdict.surroundings.passing": "NARROW_DEGREES PEOPLE_NEAR_M WALL_GAP_M",
    "verdict.gates": "_POSTS_APART_M",
    "verdict.shut_off": "FAR_MINUTES READ_EVERY_M WALK_M_PER_MINUTE",
    "verdict.surroundings.unit_site": "DAIRY_M OWN_BUILDING_M SEEN_FROM_M",
    "verdict.compare": "_POST_H _ROD_M_PER_H _STRAND_M_PER_H _STRONG_POST_H",
    "verdict.judge_fence": "_GRASSED_CM _HOOF_CM",
    "verdict.judge_materials": "POST_CLEAR_CM TAPE_GOOD_MM TAPE_SEEN_MM WITHERS_SHARE _TAPE_GAP_CM _TIGHT_KN",
    "verdict.judge_supply": "DIVERTER_NEAR_M MAINS_NEAR_M SUNLESS_DAYS WEEK",
    "verdict.layout": "SWITCH_NEAR_M TRACE_MINUTES _MUCH _MUCH_LEAST_M _SPUR_M",
    "verdict.surroundings.overhead": "ALONGSIDE_M _ALONGSIDE_LEAST_M _SQUARE_DEGREES _UNDER_LINE_CM",
    "verdict.surroundings.siting": "CLIMB_M NEIGHBOUR_M OTHER_FENCE_M TREE_M _CROSSED_WITHIN_M",
}
# No conductor is strained to between one and 1.25 times the limit.
_LOWERED = {"_TIGHT_KN", "TIGHT_KN"}


def rows() -> list[tuple[str, str]]:
    return [(module, name) for module, names in LIMITS.items() for name in names.split()]


@pytest.mark.slow
@pytest.mark.parametrize(("module", "name"), rows())
def test_a_changed_limit_is_noticed(module: str, name: str) -> None:
    """Pytest gives 1 for tests that fail; 2 and more mean that it could not run."""
    changed = f"adze.core.{module} {name} {0.75 if name in _LOWERED else 1.25}"
    command = [sys.executable, "-m", "pytest", "-x", "-p", "no:randomly", "-p", "no:cacheprovider"]
    run = subprocess.run(
        [*command, "-p", "tests.changed_limit", f"tests/core/{module.split('.')[0]}"],
        cwd=ROOT, env=os.environ | {"ADZE_CHANGED_LIMIT": changed}, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert run.returncode == 1, run.stdout[-2000:]
