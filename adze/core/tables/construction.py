"""Conductors, posts, insulators, netting and patterns of strands."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table

_ROLL_M = {"wire": 500.0, "coated": 400.0, "barbed": 250.0}
_OTHER_ROLL_M = 200.0
# The steel wire gauge (W. & M.): diameter, mm.
_STEEL_GAUGE_MM = {
    "9": 3.77, "10": 3.43, "11": 3.06, "12": 2.68, "12½": 2.51, "13": 2.32, "14": 2.03, "15": 1.83, "16": 1.59,
    "17": 1.37, "18": 1.21,
}  # fmt: skip


@dataclass(frozen=True)
class Conductor:
    """A conductor: ohm/km at direct current with range, radius and width in mm, permeability, price per m.

    `life_years` in the open, `tension_kn` as it is strained, `breaking_kn` where it parts.
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
    breaking_kn: float

    @property
    def roll_m(self) -> float:
        """What a roll of its kind holds, m."""
        return _ROLL_M.get(self.kind, _OTHER_ROLL_M)

    @property
    def gauge(self) -> str:
        """The steel wire gauge nearest to a round wire's diameter, smaller is thicker; empty for what is no wire."""
        if self.kind != "wire":
            return ""
        return min(_STEEL_GAUGE_MM, key=lambda gauge: abs(_STEEL_GAUGE_MM[gauge] - 2 * self.radius_mm))

    @property
    def is_magnetic(self) -> bool:
        """Whether it is of steel that carries flux: stainless filaments do not."""
        return self.relative_permeability > 1

    @property
    def may_be_live(self) -> bool:
        """Barbed wire is never made live: it holds what it catches."""
        return self.kind != "barbed"


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
class EndPost:
    """An end or strain post: resistivity of what it is made of by season, ohm m, 0 for a conductor, and its word."""

    key: str
    label: str
    dry_ohm_m: float
    usual_ohm_m: float
    wet_ohm_m: float
    low_wet_ohm_m: float
    high_wet_ohm_m: float
    words: str


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


@cache
def conductors() -> dict[str, Conductor]:
    """All conductors by key."""
    return read_table("conductors.csv", Conductor)


@cache
def patterns() -> dict[str, PatternRow]:
    """All patterns by key."""
    return read_table("patterns.csv", PatternRow)


@cache
def nettings() -> dict[str, Netting]:
    """All netting by key."""
    return read_table("nettings.csv", Netting)


@cache
def insulators() -> dict[str, Insulator]:
    """All line insulators by key."""
    return read_table("insulators.csv", Insulator)


@cache
def insulation() -> dict[str, Insulation]:
    """Leak of insulators by season."""
    return read_table("insulation.csv", Insulation)


@cache
def end_posts() -> dict[str, EndPost]:
    """All end posts by key."""
    return read_table("end_posts.csv", EndPost)


@cache
def post_kinds() -> dict[str, PostKind]:
    """All line posts by key."""
    return read_table("posts.csv", PostKind)
