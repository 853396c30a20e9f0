"""Mains, battery, sun: the least unit on each that is enough here, with a year's work and money.

Money and hours are assumptions, said beside the table: they decide nothing but the order.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from adze.core.energizer.supply import VOLTS, days, draw_a, dullest, usable_ah
from adze.core.forecast.compare_units import UnitHere
from adze.core.plan.catalogue import paid_each, unpriced_units
from adze.core.plan.document import Plan
from adze.core.tables.energizers import EnergizerModel
from adze.core.tables.prices import prices

KWH_PRICE = 0.30
SWAP_HOURS = 0.5  # carrying a full battery out and the flat one home
_BATTERY_YEARS = 4.0
_PANEL_PRICE_PER_W, _PANEL_YEARS = 1.6, 15.0
_CLEAN_HOURS = 1.0  # of the panel, in a year
_HOURS_A_YEAR = 24 * 365
WAYS = ("mains", "battery", "solar", "mains or battery")


@dataclass(frozen=True)
class SupplyWay:
    """One supply: its least unit that is enough, else its nearest; what it takes in money now, money and hours a year.

    `panel_w` is what holds its battery up through the dullest month; None on mains, or where the sun does not rise.
    """

    supply: str
    unit: EnergizerModel
    enough: bool
    margin: float
    money: float
    money_a_year: float
    hours_a_year: float
    swaps_a_year: float
    panel_w: float | None


def supply_ways(plan: Plan, here: Sequence[UnitHere]) -> tuple[SupplyWay, ...]:
    """Every kind of supply with its least unit that is enough, cheapest first; then those without, nearest first."""
    unpriced = unpriced_units(plan)
    found = []
    for supply in WAYS:
        rows = [row for row in here if row.unit.supply == supply]
        enough = [row for row in rows if row.margin >= 1]
        if not rows:
            continue
        if enough:
            best = min(enough, key=lambda row: (row.unit.key in unpriced, row.unit.price))
        else:
            best = max(rows, key=lambda row: row.margin)
        found.append(_way(plan, supply, best, bool(enough)))
    return tuple(sorted(found, key=lambda way: (not way.enough, way.money if way.enough else -way.margin)))


def _way(plan: Plan, supply: str, row: UnitHere, enough: bool) -> SupplyWay:
    unit, own, rate = row.unit, plan.supply, plan.supply.rate
    if supply in ("mains", "mains or battery"):
        kwh = draw_a(unit, rate) * VOLTS * _HOURS_A_YEAR / 1000
        return SupplyWay(supply, unit, enough, row.margin, unit.price, kwh * KWH_PRICE, 0.0, 0.0, None)
    sun = dullest(unit, rate, plan.origin.lat, own.clearness)
    battery = paid_each(plan, "battery", prices()["battery"].price)
    battery_a_year = battery / _BATTERY_YEARS
    if supply == "solar":
        panel = sun.panel_w if sun else None
        yearly = battery_a_year + (panel or 0.0) * _PANEL_PRICE_PER_W / _PANEL_YEARS
        return SupplyWay(supply, unit, enough, row.margin, unit.price, yearly, _CLEAN_HOURS, 0.0, panel)
    between = days(unit, rate, usable_ah(own.battery_ah, deep_cycle=own.deep_cycle, celsius=own.coldest_c))
    swaps = 365 / between
    money = unit.price + battery
    panel = sun.panel_w if sun else None
    return SupplyWay(supply, unit, enough, row.margin, money, battery_a_year, swaps * SWAP_HOURS, swaps, panel)
