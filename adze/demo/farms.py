"""Three invented farms in open ocean: nothing here lies on real land. The plans lie beside this file."""

from dataclasses import dataclass
from functools import cache
from importlib import resources

from adze.core.plan.document import Plan
from adze.formats.plan.plan_file import read_plan


@dataclass(frozen=True)
class DemoReading:
    """A reading that somebody took there."""

    run: str
    at_m: float
    strand: int
    kv: str
    amps: str
    season: str
    note: str


@dataclass(frozen=True)
class DemoTest:
    """An earth test that somebody did there."""

    season: str
    rods_kv: str
    fence_kv: str
    day: str
    note: str = ""


@cache
def _plan(file: str) -> Plan:
    """Read once: what is computed of a plan is kept by the very object."""
    return read_plan(resources.files("adze.demo").joinpath(file).read_text(encoding="utf-8"))


@dataclass(frozen=True)
class DemoFarm:
    """A farm with one plan."""

    name: str
    note: str
    file: str
    readings: tuple[DemoReading, ...] = ()
    tests: tuple[DemoTest, ...] = ()

    @property
    def plan(self) -> Plan:
        """Its plan, read from its file."""
        return _plan(self.file)


HALLOW_REACH = DemoFarm(
    "Hallow Reach",
    "38 ha of estuary terraces, milking ewes and heifers",
    "hallow_reach.json",
    (
        DemoReading("terraces", 0.0, 2, "5.9", "21", "usual", "after shutting all gates"),
        DemoReading("seabank", 0.0, 2, "6.1", "", "usual", ""),
        DemoReading("orchard", 305.0, 2, "3.9", "6", "usual", "branch down near the end?"),
    ),
    (
        DemoTest("wet", "0.31", "1.4", "2025-02-18"),
        DemoTest("dry", "0.74", "1.5", "2025-08-22"),
        DemoTest("wet", "0.33", "1.4", "2026-02-11"),
        DemoTest("dry", "0.88", "1.5", "2026-08-19", "three weeks without rain"),
    ),
)
SALLOW_FLATS = DemoFarm("Sallow Flats", "Dry sand, alpacas, no mains, solar", "sallow_flats.json")
VINE_STEPS = DemoFarm("Vine Steps", "A vineyard kept from wild boar, battery, moved each season", "vine_steps.json")
DEMO_FARMS = (HALLOW_REACH, SALLOW_FLATS, VINE_STEPS)
