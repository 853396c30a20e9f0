"""What feeds the energizer: its draw, days on a battery, and the sun in the dullest month.

Draw: stored joules times pulses in a second over 12 V and the efficiency of the charging circuit, and
what it takes idle. Batteries give a part of their Ah: deep-cycle to half, car batteries to a fifth, less
in the cold. Sun: daily irradiation outside the air on a tilted plane by geometry (J. A. Duffie and
W. A. Beckman, Solar Engineering of Thermal Processes, 1.10 and 2.19), times the share of it that a month
lets through, which the farmer can set.
"""

import math
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from adze.core.basics.cache import cached
from adze.core.tables.energizers import EnergizerModel

VOLTS = 12.0
EFFICIENCY = 0.65  # of the charging circuit (0.5-0.8)
IDLE_A = 0.015  # (0.005-0.03)
DEEP_CYCLE_USE, CAR_USE = 0.5, 0.2  # of the Ah, so that the battery lasts
COLD_SHARE_PER_C = 0.01  # of the Ah lost for each degree under 20
SYSTEM = 0.7  # of a panel's watts that reach the battery (0.6-0.8): dust, heat, charging
SLOW_RATE = 0.5  # pulses at the slow rate, of the full
CLEARNESS = 0.40  # of the sun outside the air in a dull month (0.25-0.5 in the winter of 50 degrees)
_SOLAR_W_PER_M2 = 1367.0
_LONG_DAY = math.radians(81.4)
_ERBS = {False: (1.391, -3.560, 4.189, -2.137), True: (1.311, -3.022, 3.427, -1.821)}
_GROUND_SHARE = 0.2  # that grass throws back
_MID_DAYS = (17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344)  # a usual day of each month


class Rate(StrEnum):
    """How fast it pulses: always full, slow by day or at night (half of the time each), or always slow."""

    FULL = "full"
    DAY = "day"
    NIGHT = "night"
    SLOW = "slow"


_SHARE = {Rate.FULL: 1.0, Rate.DAY: (1 + SLOW_RATE) / 2, Rate.NIGHT: (1 + SLOW_RATE) / 2, Rate.SLOW: SLOW_RATE}


def draw_a(unit: EnergizerModel, rate: Rate) -> float:
    """Mean current from 12 V, A."""
    return IDLE_A + _SHARE[rate] * unit.stored_j / unit.pulse_s / (VOLTS * EFFICIENCY)


def usable_ah(capacity_ah: float, *, deep_cycle: bool, celsius: float) -> float:
    """What a battery gives and lasts, Ah. Raises ValueError out of its limits."""
    if not 1 <= capacity_ah <= 2000:
        raise ValueError(f"battery: {capacity_ah:g} Ah; between 1 and 2,000 Ah is taken")
    cold = min(1.0, max(0.4, 1 - COLD_SHARE_PER_C * max(0.0, 20 - celsius)))
    return capacity_ah * cold * (DEEP_CYCLE_USE if deep_cycle else CAR_USE)


def days(unit: EnergizerModel, rate: Rate, ah: float) -> float:
    """Days between charges on so many usable Ah."""
    return ah / (24 * draw_a(unit, rate))


def charge_left(rested_v: float, *, agm: bool = False) -> float:
    """State of charge of a 12 V lead battery from its volts at rest, 0 to 1.

    12.7 full, 12.4 three quarters, 12.2 half, 12.0 a quarter, 11.8 flat; AGM 0.1 more.
    """
    if not 8 <= rested_v <= 15:
        raise ValueError(f"volts at rest: {rested_v:g} V; a 12 V battery at rest shows 8 to 15 V")
    rows = ((11.8, 0.0), (12.0, 0.25), (12.2, 0.5), (12.4, 0.75), (12.7, 1.0))
    volts = rested_v - 0.1 * agm
    for (low, a), (high, b) in pairwise(rows):
        if volts <= high:
            return max(0.0, a + (b - a) * (volts - low) / (high - low))
    return 1.0


def days_left(unit: EnergizerModel, rate: Rate, capacity_ah: float, charge: float, *, deep_cycle: bool) -> float:
    """Days until a battery at a state of charge (0 to 1) has given what it gives without harm; 0 below that."""
    spare = charge - (1 - (DEEP_CYCLE_USE if deep_cycle else CAR_USE))
    return max(0.0, spare) * capacity_ah / (24 * draw_a(unit, rate))


def _sun(latitude_deg: float, day: int) -> float:
    """How far the sun stands over the equator towards one's own pole, rad (Cooper)."""
    turn = 1.0 if latitude_deg >= 0 else -1.0
    return turn * math.radians(23.45) * math.sin(2 * math.pi * (284 + day) / 365)


def _sets_at(latitude: float, sun: float) -> float:
    """Half of the day as an angle, rad."""
    return math.acos(min(1.0, max(-1.0, -math.tan(latitude) * math.tan(sun))))


def outside_kwh_per_m2(latitude_deg: float, day: int, tilt_deg: float = 0.0) -> float:
    """A day's sun outside the air on a plane tilted towards the equator, kWh/m2."""
    latitude, sun = math.radians(abs(latitude_deg)), _sun(latitude_deg, day)
    seen = latitude - math.radians(tilt_deg)
    hours = min(_sets_at(latitude, sun), _sets_at(seen, sun))
    strength = _SOLAR_W_PER_M2 * (1 + 0.033 * math.cos(2 * math.pi * day / 365))
    lit = math.cos(seen) * math.cos(sun) * math.sin(hours) + hours * math.sin(seen) * math.sin(sun)
    return max(0.0, 24 / math.pi * strength * lit / 1000)


def month_kwh_per_m2(latitude_deg: float, month: int, tilt_deg: float, clearness: float) -> float:
    """A usual day's sun on the panel in a month (1 to 12), kWh/m2.

    Direct by geometry, diffuse and what the ground throws back evenly. Diffuse share of a month by clearness:
    D. G. Erbs and others, Solar Energy 28 (1982).
    """
    if not 0.05 <= clearness <= 0.8:
        raise ValueError(f"clearness: {clearness:g}; between 0.05 and 0.8 of the sun reaches the ground in a month")
    day = _MID_DAYS[month - 1]
    flat = outside_kwh_per_m2(latitude_deg, day)
    if flat <= 0:
        return 0.0
    level = clearness * flat
    first, second, third, fourth = _ERBS[_sets_at(math.radians(abs(latitude_deg)), _sun(latitude_deg, day)) > _LONG_DAY]
    share = first + clearness * (second + clearness * (third + clearness * fourth))
    diffuse = level * min(1.0, max(0.1, share))
    tilt = math.radians(tilt_deg)
    direct = (level - diffuse) * outside_kwh_per_m2(latitude_deg, day, tilt_deg) / flat
    return direct + diffuse * (1 + math.cos(tilt)) / 2 + level * _GROUND_SHARE * (1 - math.cos(tilt)) / 2


@dataclass(frozen=True)
class Sun:
    """The dullest month: its number, the tilt that serves it best, hours of full sun a day, and the panel in W."""

    month: int
    tilt_deg: int
    sun_hours: float
    panel_w: float


def dullest(unit: EnergizerModel, rate: Rate, latitude_deg: float, clearness: float = CLEARNESS) -> Sun | None:
    """The panel that carries a unit through the dullest month; None where the sun does not rise in it.

    The tilt is the one that brings most in that month.
    """
    hours, month, tilt = _dullest_month(latitude_deg, clearness)
    return Sun(month, tilt, hours, needed_wh(unit, rate) / (hours * SYSTEM)) if hours > 0.05 else None


@cached("dullest month", 64)
def _dullest_month(latitude_deg: float, clearness: float) -> tuple[float, int, int]:
    """Hours of full sun a day in the dullest month, that month, and the tilt that serves it best, degrees."""

    def worst(tilt: int) -> tuple[float, int]:
        return min((month_kwh_per_m2(latitude_deg, m, tilt, clearness), m) for m in range(1, 13))

    tilt = max(range(0, 91, 5), key=lambda t: worst(t)[0])
    return *worst(tilt), tilt


def brought_wh(panel_w: float, tilt_deg: float, latitude_deg: float, clearness: float) -> tuple[float, ...]:
    """What a panel brings into the battery on a usual day of each month, January first, Wh."""
    return tuple(
        panel_w * SYSTEM * month_kwh_per_m2(latitude_deg, month, tilt_deg, clearness) for month in range(1, 13)
    )


def needed_wh(unit: EnergizerModel, rate: Rate) -> float:
    """What a unit takes from 12 V in a day, Wh."""
    return 24 * draw_a(unit, rate) * VOLTS
