"""The energizers that a plan can choose from, and the one it has as a source of pulses."""

import math
from dataclasses import replace

from adze.core.animals.strand_checks import PULSE_S
from adze.core.energizer.fit import Pulse, fit_loads, fit_pulse
from adze.core.energizer.supply import SLOW_RATE, Rate
from adze.core.plan.document import Plan
from adze.core.tables.energizers import EnergizerModel, energizers

MOST_J_IN_500 = 5.0


def paid_each(plan: Plan, part: str, made_up: float) -> float:
    """What one unit of a part costs at the least: the user's own price where there is one, else the made-up one."""
    return min((row.price / row.pack for row in plan.own_prices if row.part == part), default=made_up)


def catalogue(plan: Plan) -> dict[str, EnergizerModel]:
    """All energizers by key, smallest first: the made-up ones and the plan's own, at the user's prices where given."""
    own = [EnergizerModel(**row.model_dump()) for row in plan.own_energizers]
    paid = {row.part: row.price / row.pack for row in plan.own_prices}
    units = (*energizers().values(), *own)
    if paid:
        units = tuple(replace(unit, price=paid.get(unit.label, unit.price)) for unit in units)
    return {unit.key: unit for unit in sorted(units, key=lambda unit: (unit.released_j, unit.price))}


def unpriced_units(plan: Plan) -> frozenset[str]:
    """Keys of the plan's own energizers whose price is not said: none of them is called cheapest."""
    paid = {row.part for row in plan.own_prices}
    return frozenset(row.key for row in plan.own_energizers if not row.price and row.label not in paid)


def unit_of(plan: Plan) -> EnergizerModel | None:
    """The energizer that a plan has chosen."""
    return catalogue(plan)[plan.energizer] if plan.energizer else None


def between_pulses_s(plan: Plan) -> float:
    """The longest time between two pulses that the plan's unit and rate leave, s; the usual one without a unit."""
    unit = unit_of(plan)
    every = unit.pulse_s if unit else PULSE_S
    return every if plan.supply.rate is Rate.FULL else every / SLOW_RATE


def most_joules(plan: Plan) -> float:
    """The most joules that a pulse may leave in a body: what the plate tells of 500 ohm, else 5; no end without a unit.

    Source: IEC 60335-2-76 limits a pulse to 5 J in 500 ohm; larger units sense the load and hold to it.
    """
    unit = unit_of(plan)
    return math.inf if unit is None else unit.j_500 or MOST_J_IN_500


def pulse_of(unit: EnergizerModel, *, half: bool = False) -> Pulse:
    """A unit's pulse; from its reduced terminal half of the stored joules, at the volts that go with them.

    A reduced terminal taps a lower voltage of the same winding: the joules go with its square.
    """
    loads = tuple((ohm, 1000 * kv) for ohm, kv in unit.loads)
    pulse = fit_loads(unit.catalogue, loads) if loads else fit_pulse(unit.catalogue)
    return replace(pulse, parts=replace(pulse.parts, v0_v=pulse.parts.v0_v / math.sqrt(2))) if half else pulse
