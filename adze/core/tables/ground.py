"""Soils, growth, landmarks and rod metals."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table, word_parts


@dataclass(frozen=True)
class RodMetal:
    """A metal for rods: factor of its film on a rod's ohms with range, price factor, metals it goes with, years."""

    key: str
    label: str
    film: float
    film_low: float
    film_high: float
    price_factor: float
    partners: str
    years: float
    note: str


@dataclass(frozen=True)
class Soil:
    """A soil: ohm m likely, low, high, and the factor of the driest and wettest season."""

    key: str
    label: str
    ohm_m: float
    low_ohm_m: float
    high_ohm_m: float
    dry_factor: float
    wet_factor: float


@dataclass(frozen=True)
class Grass:
    """A class of growth: canopy in m, leak of one live wire in S/m by season."""

    key: str
    label: str
    canopy_m: float
    dry_s_per_m: float
    usual_s_per_m: float
    wet_s_per_m: float


@dataclass(frozen=True)
class FixtureKind:
    """A kind of thing that is fixed on a line, and the paths of its sign in a square of 16 by 16."""

    key: str
    label: str
    outline: str
    strokes: str
    open_strokes: str
    ink: str


@dataclass(frozen=True)
class MishapKind:
    """What can go wrong on a line: its effect (leak, tangle, cut) and the ohms that it leaves, with their range."""

    key: str
    label: str
    effect: str
    ohm: float
    low_ohm: float
    high_ohm: float


@dataclass(frozen=True)
class LandmarkKind:
    """What can lie on the ground: its usual shape, how far rods and lead-out keep off it, m, and its look."""

    key: str
    label: str
    group: str
    shape: str
    rods_clear_m: float
    lead_clear_m: float
    look: str

    @property
    def look_parts(self) -> dict[str, float | str | bool]:
        """How a line or an area of it is drawn: area or line colour, weight, edge, dash, casing, thin."""
        return word_parts(self.look)


@cache
def soils() -> dict[str, Soil]:
    """All soils by key, best first."""
    return read_table("soils.csv", Soil)


@cache
def rod_metals() -> dict[str, RodMetal]:
    """All rod metals by key, the usual choice first."""
    return read_table("rod_metals.csv", RodMetal)


@cache
def grasses() -> dict[str, Grass]:
    """All classes of growth by key, least first."""
    return read_table("grass.csv", Grass)


@cache
def landmark_kinds() -> dict[str, LandmarkKind]:
    """All kinds of landmark by key."""
    return read_table("landmarks.csv", LandmarkKind)


@cache
def fixture_kinds() -> dict[str, FixtureKind]:
    """All kinds of fixtures by key, in the order in which they are offered."""
    return read_table("fixtures.csv", FixtureKind)


@cache
def mishap_kinds() -> dict[str, MishapKind]:
    """All kinds of mishaps by key, in the order in which they are offered."""
    return read_table("mishaps.csv", MishapKind)
