"""The farm's shed: what is there, which plan takes it, what is free, what comes back from a fence taken down."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from adze.core.basics.units import Units
from adze.core.build.parts import bill
from adze.core.forecast.compare_units import units_here
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.document import Plan
from adze.core.plan.stages import Incomplete
from adze.core.tables.construction import conductors, insulators, nettings, post_kinds
from adze.core.tables.energizers import EnergizerModel
from adze.core.tables.prices import prices
from adze.core.tables.tools import tools
from adze.services.plans.plans import BrokenPlan, OpenPlan, open_plan
from adze.store.connection import BeginTransaction
from adze.store.parts import shed
from adze.store.parts.shed import Reserved, ShedItem
from adze.store.plans import plans

# What is wound up, drawn out and used again; the rest stays in the ground or is worn out.
_COMES_BACK = ("Posts", "Insulators", "Conductor", "Gates and crossings", "Power", "Earth", "Signs")
_MOST_PLANS = 12  # newest of the farm's: each is solved three times
_STAYS = {"concrete_bag", "duct", "duct_seal", "conduit", "sleeve", "under_gate_cable", "dead_tie", "clay", "earth_rod"}


class BadShed(ValueError):
    """An entry of the shed that cannot be; names the field, the limit and the mend."""


@dataclass(frozen=True)
class ShedRow:
    """A part in the shed: how much, what each plan takes of it, and what is left free (negative: promised twice)."""

    part: str
    label: str
    unit: str
    quantity: float
    note: str
    taken: tuple[Reserved, ...]

    @property
    def free(self) -> float:
        """What no plan takes."""
        return self.quantity - sum(row.quantity for row in self.taken)


def part_labels() -> dict[str, tuple[str, str]]:
    """Label and unit of everything that a shed can hold, by its key, tools last."""
    found = {key: (row.label, row.unit) for key, row in prices().items()}
    for table in (post_kinds(), insulators(), conductors(), nettings()):
        unit = "m" if table in (conductors(), nettings()) else "piece"
        found |= {row.label: (row.label, unit) for row in table.values()}
    found |= {row.label: (row.label, "piece") for row in catalogue(Plan(name="any")).values()}
    return found | {row.shed_key: (row.label, "piece") for row in tools().values()}


def shed_rows(begin_transaction: BeginTransaction, farm_id: int) -> list[ShedRow]:
    """The shed of a farm with what its plans take; what is taken and not there stands in it with nothing."""
    with begin_transaction() as connection:
        items = shed.list_items(connection, farm_id=farm_id)
        reserved = shed.list_reserved(connection, farm_id=farm_id)
    known = part_labels()
    missing = dict.fromkeys(row.part for row in reserved if row.part not in {item.part for item in items})
    found = []
    for item in (*items, *(ShedItem(part=part, quantity=0.0, note="") for part in missing)):
        label, unit = known.get(item.part, (item.part, ""))
        own = tuple(row for row in reserved if row.part == item.part)
        found.append(ShedRow(item.part, label, unit, item.quantity, item.note, own))
    return sorted(found, key=lambda row: (row.part.startswith("tool:"), row.label))


def free_for(rows: list[ShedRow], plan_id: int) -> Mapping[str, float]:
    """What a plan may take of each part: all that no other plan takes."""
    own = {row.part: row.quantity - sum(r.quantity for r in row.taken if r.plan_id != plan_id) for row in rows}
    return {part: quantity for part, quantity in own.items() if quantity > 0}


def owned_tools(rows: list[ShedRow]) -> frozenset[str]:
    """Keys of the tools that are in the shed."""
    return frozenset(row.part for row in rows if row.part.startswith("tool:") and row.quantity > 0)


def put_in_shed(begin_transaction: BeginTransaction, farm_id: int, *, part: str, quantity: str, note: str) -> None:
    """Have so much of a part, as it was typed. Raises BadShed."""
    known = part_labels()
    key = part if part in known else next((k for k, (label, _) in known.items() if label == part), "")
    if not key:
        raise BadShed(f"Part: {part[:60]!r} is not in the list. Choose one of the list.")
    try:
        amount = float(quantity.strip().replace(",", "."))
    except ValueError:
        raise BadShed(f"How much: {quantity[:30]!r} is not a number; write it as 25.") from None
    if not math.isfinite(amount) or not 0 <= amount <= 1_000_000:
        raise BadShed(f"How much: {quantity[:30]} is not from 0 to 1,000,000; 0 removes it.")
    with begin_transaction() as connection:
        shed.set_item(connection, farm_id=farm_id, part=key, quantity=amount, note=note.strip()[:200])


def comes_back(plan: Plan) -> dict[str, float]:
    """What a fence that is taken down gives back, by part."""
    lines = (line for line in bill(plan).lines if line.group in _COMES_BACK and line.part not in _STAYS)
    return {line.key: line.quantity for line in lines}


def take_down(begin_transaction: BeginTransaction, opened: OpenPlan) -> int:
    """Count a plan's fence into the shed; how many parts came back."""
    back = comes_back(opened.plan)
    with begin_transaction() as connection:
        for part, quantity in back.items():
            shed.add_to_item(connection, farm_id=opened.stored.farm_id, part=part, quantity=quantity)
    return len(back)


@dataclass(frozen=True)
class UnitOn:
    """What a unit would do on one of the farm's plans: km of fence, least kV of the year, its margin of need.

    `unknown` says what is missing where it cannot be computed; `takes` that this plan's unit would be free.
    """

    plan_id: int
    name: str
    fence_m: float
    least_kv: float = 0.0
    margin: float = 0.0
    unknown: str = ""
    takes: str = ""
    units: Units = Units.METRIC


def unit_labels() -> dict[str, EnergizerModel]:
    """Energizers by the label under which a shed holds them."""
    return {unit.label: unit for unit in catalogue(Plan(name="any")).values()}


def unit_elsewhere(
    begin_transaction: BeginTransaction, *, farm_id: int, account_id: int, label: str
) -> tuple[UnitOn, ...]:
    """A unit of the shed on every plan of the farm, those it is enough for first, the shortest fence at the top.

    Raises BadShed for what is no energizer.
    """
    unit = unit_labels().get(label)
    if unit is None:
        raise BadShed(f"Part: {label[:60]!r} is not an energizer. Choose one of the shed's.")
    with begin_transaction() as connection:
        rows = plans.list_plans(connection, account_id=account_id, farm_id=farm_id)[:_MOST_PLANS]
    found = []
    for row in rows:
        try:
            opened = open_plan(begin_transaction, plan_id=row.id, account_id=account_id)
        except BrokenPlan as broken:
            found.append(UnitOn(row.id, row.name, 0.0, unknown=f"It cannot be opened as it stands: {broken}"))
            continue
        found.append(_unit_on(row.id, opened.plan, unit))
    return tuple(sorted(found, key=lambda row: (bool(row.unknown), row.margin < 1, row.fence_m)))


def _unit_on(plan_id: int, plan: Plan, unit: EnergizerModel) -> UnitOn:
    fence_m, now = sum(length_m(run) for run in plan.runs), unit_of(plan)
    takes = now.label if now and now.label != unit.label else ""
    try:
        (here,) = units_here(plan, [unit])
    except Incomplete as missing:
        return UnitOn(plan_id, plan.name, fence_m, unknown=str(missing), units=plan.units)
    return UnitOn(plan_id, plan.name, fence_m, min(here.kv.values()), here.margin, takes=takes, units=plan.units)
