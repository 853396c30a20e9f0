"""What an animal feels of a pulse: through hooves and soil, or between a live and an earth strand.

Source: a divider of the body against hooves, hide and fleece over soil (docs/physics.md, eq. 10);
hoof resistance as a disc on soil (IEEE Std 80). Figures and ranges in core/tables/data/touch_classes.csv.
"""

from dataclasses import dataclass
from enum import StrEnum

from adze.core.soil.earth import hooves_ohm
from adze.core.tables.animals import TouchClass


class Path(StrEnum):
    """How the pulse goes home."""

    SOIL = "live_to_soil"
    EARTH_STRAND = "live_to_earth_strand"
    APRON = "live_to_apron"


PATH_WORDS = {
    Path.SOIL: "through hooves",
    Path.EARTH_STRAND: "between live and earth strand",
    Path.APRON: "through hooves to the mesh on the ground",
}


class Hooves(StrEnum):
    """State of the hooves."""

    MOIST = "moist"
    DRY = "dry"


class Coat(StrEnum):
    """State of hide or fleece."""

    DRY = "dry"
    WET = "wet"


class Level(StrEnum):
    """What a pulse through the body does."""

    NOTICES = "notices"
    RESPECTS = "respects"
    TURNS = "turns"
    DRIVEN = "driven"


LEVEL_KV = {Level.NOTICES: 0.5, Level.RESPECTS: 1.2, Level.TURNS: 1.9, Level.DRIVEN: 2.8}
_FLEECE_KV_PER_CM = {Coat.DRY: 0.25, Coat.WET: 0.0}
_FLEECE_OHM_PER_CM = {Coat.DRY: 50.0, Coat.WET: 20.0}
_MOST_FLEECE_CM = 8.0
_CHEEK_SHARE = 0.6


@dataclass(frozen=True)
class Contact:
    """The circuit of one touch: the part of the body that feels, what stands before it, what must spark over."""

    body_ohm: float
    series_ohm: float
    spark_kv: float

    @property
    def total_ohm(self) -> float:
        """What the strand sees, ohm."""
        return self.body_ohm + self.series_ohm

    def body_kv(self, strand_kv: float) -> float:
        """kV across the part that feels, for kV on the strand under this load."""
        return max(0.0, strand_kv - self.spark_kv) * self.body_ohm / self.total_ohm

    def needed_kv(self, level: Level) -> float:
        """kV on the strand for a level to be reached."""
        return LEVEL_KV[level] * self.total_ohm / self.body_ohm + self.spark_kv


def contact(kind: TouchClass, fleece_cm: float, path: Path, hooves: Hooves, coat: Coat, soil_ohm_m: float) -> Contact:
    """The circuit when a nose meets a live strand on a given path.

    Between strands neither hooves nor soil count; on a mesh apron the hooves do and the soil does not.
    """
    wool = min(fleece_cm, _MOST_FLEECE_CM)
    spark = (kind.coat_kv if coat is Coat.DRY else 0.0) + wool * _FLEECE_KV_PER_CM[coat]
    fleece_ohm = wool * _FLEECE_OHM_PER_CM[coat]
    if path is Path.EARTH_STRAND:
        return Contact(_CHEEK_SHARE * kind.body_ohm, 2 * fleece_ohm, 2 * spark)
    horn = kind.hoof_moist_ohm if hooves is Hooves.MOIST else kind.hoof_dry_ohm
    ground = 0.0 if path is Path.APRON else hooves_ohm(soil_ohm_m, kind.hoof_radius_m, kind.feet)
    feet = ground + horn / kind.feet
    return Contact(kind.body_ohm, feet + fleece_ohm, spark)


def wanted_level(kind: TouchClass, schooled: bool) -> Level:
    """Return the level that holds or turns this class, new to the fence or schooled."""
    return Level(kind.level_schooled if schooled else kind.level_new)


def level_reached(body_kv: float) -> Level | None:
    """The strongest level that a pulse reaches, None when it is not noticed."""
    reached = [level for level, kv in LEVEL_KV.items() if body_kv >= kv]
    return reached[-1] if reached else None
