"""The named parameter sets of core/data as frozen rows. Each file's first line says units and source."""

import csv
from dataclasses import dataclass, fields
from functools import cache
from importlib import resources
from typing import Any, TypeVar

from adze.core.energizer import Catalogue


@dataclass(frozen=True)
class AnimalKind:
    """A kind of animal: body in cm, habits, wanted kV, touch class; `young` names the kind at foot."""

    key: str
    label: str
    plural: str
    nose_cm: float
    shoulder_cm: float
    head_cm: float
    spring_cm: float
    digs: bool
    climbs: bool
    smooth: bool
    fleece_cm: float
    shorn_cm: float
    kv_new: float
    kv_schooled: float
    wild: bool
    purpose: str
    touch_class: str
    young: str


@dataclass(frozen=True)
class TouchClass:
    """An animal as a circuit: ohms of body and hoof, disc radius in m, kV a dry coat holds off."""

    key: str
    body_ohm: float
    body_low_ohm: float
    body_high_ohm: float
    hoof_radius_m: float
    feet: int
    hoof_moist_ohm: float
    hoof_dry_ohm: float
    coat_kv: float


@dataclass(frozen=True)
class Conductor:
    """A conductor: ohm/km at direct current with range, radius and width in mm, permeability, price per m.

    `life_years` in the open, `tension_kn` as it is strained.
    """

    key: str
    label: str
    kind: str
    radius_mm: float
    ohm_per_km: float
    low_ohm_per_km: float
    high_ohm_per_km: float
    relative_permeability: float
    price_per_m: float
    width_mm: float
    life_years: float
    tension_kn: float

    @property
    def may_be_live(self) -> bool:
        """Barbed wire is never made live: it holds what it catches."""
        return self.kind != "barbed"


@dataclass(frozen=True)
class EnergizerModel:
    """An energizer: J, kV, seconds between pulses, supply, price; `loads` as measured, (ohm, kV) each.

    `output` is low impedance (short pulses that push through leaks), high impedance (longer, older), or
    continuous (no pulse at all).
    """

    key: str
    label: str
    supply: str
    stored_j: float
    released_j: float
    open_kv: float
    kv_500: float
    pulse_s: float
    price: float
    loads: tuple[tuple[float, float], ...] = ()
    output: str = "low impedance"

    @property
    def catalogue(self) -> Catalogue:
        """Its figures as the fit wants them, V and J."""
        return Catalogue(self.released_j, self.open_kv * 1000, self.kv_500 * 1000, self.stored_j)


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
class Insulation:
    """Leak of insulators and posts in a season, S/m."""

    key: str
    live_soil_s_per_m: float
    live_earth_s_per_m: float


@dataclass(frozen=True)
class PostKind:
    """A line post: spacing in m, whether live strands need insulators on it, price."""

    key: str
    label: str
    spacing_m: float
    low_m: float
    high_m: float
    insulators: bool
    price: float


@dataclass(frozen=True)
class PatternRow:
    """A pattern met in practice: heights in cm from the lowest up (E earth, D dead) and the kinds it is built for."""

    key: str
    label: str
    heights: str
    kinds: str


@dataclass(frozen=True)
class Netting:
    """Electric netting: heights in cm (D dead), conductor, roll and own posts in m, leak of growth, price of a roll."""

    key: str
    label: str
    heights: str
    conductor: str
    roll_m: float
    post_spacing_m: float
    post_cm: float
    growth_factor: float
    price: float

    @property
    def top_cm(self) -> float:
        """The highest horizontal."""
        return float(self.heights.split()[-1])


@dataclass(frozen=True)
class Insulator:
    """A line insulator: kinds of conductor and posts it takes (spaced words), what a hit does to it, price of one."""

    key: str
    label: str
    takes: str
    posts: str
    hit: str
    price: float

    def fits(self, conductor_kind: str, post_key: str) -> bool:
        """Whether it holds a kind of conductor on a post."""
        return conductor_kind in self.takes.split() and post_key in self.posts.split()


@dataclass(frozen=True)
class Price:
    """How a part is sold: unit, units in a pack, price of the pack."""

    key: str
    label: str
    unit: str
    pack: float
    price: float


@dataclass(frozen=True)
class LandmarkKind:
    """What can lie on the ground: its usual shape, and how far rods and lead-out keep off it, m."""

    key: str
    label: str
    group: str
    shape: str
    rods_clear_m: float
    lead_clear_m: float


Row = TypeVar(
    "Row",
    AnimalKind,
    TouchClass,
    Conductor,
    EnergizerModel,
    Soil,
    RodMetal,
    Grass,
    Insulation,
    PostKind,
    Insulator,
    Netting,
    PatternRow,
    Price,
    LandmarkKind,
)


def _read(name: str, row: type[Row]) -> dict[str, Row]:
    text = resources.files("adze.core.data").joinpath(name).read_text(encoding="utf-8")
    lines = [line for line in text.splitlines() if not line.startswith("#")]
    casts = {f.name: f.type for f in fields(row)}

    def cast(key: str, value: str) -> Any:
        kind = casts[key]
        if kind is bool:
            return value == "yes"
        return value if kind is str else kind(value)  # type: ignore[operator]

    return {r["key"]: row(**{k: cast(k, v) for k, v in r.items()}) for r in csv.DictReader(lines)}


@cache
def animal_kinds() -> dict[str, AnimalKind]:
    """All kinds of animal by key."""
    return _read("animals.csv", AnimalKind)


@cache
def touch_classes() -> dict[str, TouchClass]:
    """All touch classes by key."""
    return _read("touch_classes.csv", TouchClass)


@cache
def conductors() -> dict[str, Conductor]:
    """All conductors by key."""
    return _read("conductors.csv", Conductor)


@cache
def patterns() -> dict[str, PatternRow]:
    """All patterns by key."""
    return _read("patterns.csv", PatternRow)


@cache
def nettings() -> dict[str, Netting]:
    """All netting by key."""
    return _read("nettings.csv", Netting)


@cache
def insulators() -> dict[str, Insulator]:
    """All line insulators by key."""
    return _read("insulators.csv", Insulator)


@cache
def energizers() -> dict[str, EnergizerModel]:
    """All energizers by key, smallest first."""
    return _read("energizers.csv", EnergizerModel)


@cache
def soils() -> dict[str, Soil]:
    """All soils by key, best first."""
    return _read("soils.csv", Soil)


@cache
def rod_metals() -> dict[str, RodMetal]:
    """All rod metals by key, the usual choice first."""
    return _read("rod_metals.csv", RodMetal)


@cache
def grasses() -> dict[str, Grass]:
    """All classes of growth by key, least first."""
    return _read("grass.csv", Grass)


@cache
def insulation() -> dict[str, Insulation]:
    """Leak of insulators by season."""
    return _read("insulation.csv", Insulation)


@cache
def post_kinds() -> dict[str, PostKind]:
    """All line posts by key."""
    return _read("posts.csv", PostKind)


@cache
def prices() -> dict[str, Price]:
    """All parts' prices by key."""
    return _read("prices.csv", Price)


@cache
def landmark_kinds() -> dict[str, LandmarkKind]:
    """All kinds of landmark by key."""
    return _read("landmarks.csv", LandmarkKind)
