"""What each animal of a plan would feel at a place, by every way the pulse can go home."""

from dataclasses import dataclass

import numpy as np

from adze.core.animals.strand_rules import Animal, Role, limits_of, narrowest_bridge_cm
from adze.core.animals.touch import LEVEL_KV, Coat, Contact, Level, Path, contact, level_reached, wanted_level
from adze.core.basics.status import Status, against
from adze.core.build.construction import fence_of
from adze.core.plan.catalogue import most_joules
from adze.core.plan.document import Plan
from adze.core.plan.season import HOOVES, Season, Weather, soil_ohm_m
from adze.core.plan.stock import animals_of
from adze.core.pulse import laplace
from adze.core.pulse.port_equivalent import PortEquivalent
from adze.core.tables.animals import animal_kinds, touch_classes


@dataclass(frozen=True)
class Touch:
    """One animal at one place: kV and J through the body on its best path, against the level wanted."""

    animal: Animal
    path: Path
    strand_kv: float
    body_kv: float
    body_j: float
    wanted: Level
    reached: Level | None
    status: Status

    @property
    def wanted_kv(self) -> float:
        """kV through the body that the wanted level takes."""
        return LEVEL_KV[self.wanted]


def touch(
    plan: Plan,
    animal: Animal,
    equivalent: PortEquivalent,
    weather: Weather,
    soil_key: str | None,
    *,
    with_joules: bool = True,
) -> Touch:
    """The strongest touch that the strands allow here. Dry coat: the weaker case. Without joules, 0 stands for them."""
    fence = fence_of(plan)
    kind = touch_classes()[animal_kinds()[animal.kind].touch_class]
    wanted = wanted_level(kind, animal.schooled)
    narrow = narrowest_bridge_cm(limits_of(animal, plan.duty), fence)
    bridged = narrow is not None and narrow <= limits_of(animal, plan.duty).gap_at_nose_cm
    paths = [Path.SOIL]
    if bridged and any(s.role is Role.EARTH for s in fence):
        paths.append(Path.EARTH_STRAND)
    if plan.apron:
        paths.append(Path.APRON)
    felt = []
    for path in paths:
        met = contact(
            kind, animal.fleece_cm, path, HOOVES[weather.season], Coat.DRY, soil_ohm_m(plan, weather, soil_key)
        )
        to_earth = path is not Path.SOIL
        strand_kv = abs(
            float(laplace.peak_of(equivalent.loaded_wave_v(met.total_ohm, to_earth_strand=to_earth) / 1000))
        )
        joules = min(_body_j(equivalent, met, to_earth=to_earth), most_joules(plan)) if with_joules else 0.0
        body = met.body_kv(strand_kv)
        felt.append(
            Touch(animal, path, strand_kv, body, joules, wanted, level_reached(body), against(body, LEVEL_KV[wanted]))
        )
    return max(felt, key=lambda t: t.body_kv)


def _body_j(equivalent: PortEquivalent, met: Contact, *, to_earth: bool) -> float:
    """Joules through the body: only what is left above the spark-over drives it."""
    wave_kv = equivalent.whole.loaded_wave_v(met.total_ohm, to_earth_strand=to_earth) / 1000
    driving_kv = np.maximum(np.abs(wave_kv) - met.spark_kv, 0.0)
    return float((driving_kv**2).sum()) * equivalent.sample_s * 1e6 * met.body_ohm / met.total_ohm**2


def touches(
    plan: Plan,
    equivalent: PortEquivalent,
    weather: Weather,
    soil_key: str | None,
    *,
    with_joules: bool = True,
) -> tuple[Touch, ...]:
    """The touch of every animal of the plan at a place."""
    rows = animals_of(plan)
    return tuple(touch(plan, animal, equivalent, weather, soil_key, with_joules=with_joules) for animal in rows)


@dataclass(frozen=True)
class Need:
    """kV on the strand, under its own load, that holds or turns one animal: through soil, and to an earth strand."""

    animal: Animal
    wanted: Level
    soil_kv: dict[Season, float]
    strands_kv: float


def needs(plan: Plan) -> tuple[Need, ...]:
    """What every animal needs on the plan's own soil in each season. Dry coat and fleece: the weaker case."""
    return tuple(
        Need(
            animal,
            _level(animal),
            {season: _needed_kv(plan, animal, Path.SOIL, season) for season in Season},
            _needed_kv(plan, animal, Path.EARTH_STRAND, Season.DRY),
        )
        for animal in animals_of(plan)
    )


def _level(animal: Animal) -> Level:
    return wanted_level(touch_classes()[animal_kinds()[animal.kind].touch_class], animal.schooled)


def _needed_kv(plan: Plan, animal: Animal, path: Path, season: Season) -> float:
    kind = touch_classes()[animal_kinds()[animal.kind].touch_class]
    met = contact(kind, animal.fleece_cm, path, HOOVES[season], Coat.DRY, soil_ohm_m(plan, Weather(season)))
    return met.needed_kv(_level(animal))
