"""What a mend takes from the shed: counted down there, kept with what it was for."""

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from adze.services.log.readings import ReadingError, number
from adze.services.parts.shed import part_labels
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.parts import shed

_SHED_HAS_LESS = "How many: the shed has {has} {unit}, not {wanted}; take at most what is there."
_MOST = 1_000_000


@dataclass(frozen=True)
class InShed:
    """A part that a mend can take: its key, label, unit and how much is there."""

    part: str
    label: str
    unit: str
    quantity: float


@dataclass(frozen=True)
class Used:
    """What was taken, in words, when and by whom."""

    words: str
    what_for: str
    by_name: str
    at: datetime


@dataclass(frozen=True)
class ShedForMends:
    """What can be taken and what was."""

    there: tuple[InShed, ...]
    used: tuple[Used, ...]


def shed_for_mends(begin_transaction: BeginTransaction, opened: OpenPlan) -> ShedForMends:
    """The parts in the farm's shed, tools left out, and what mends of this plan took."""
    with begin_transaction() as connection:
        items = shed.list_items(connection, farm_id=opened.stored.farm_id)
        uses = shed.list_uses(connection, plan_id=opened.id)
    known, zone = part_labels(), ZoneInfo(opened.stored.time_zone)
    there = tuple(
        InShed(item.part, *known.get(item.part, (item.part, "")), item.quantity)
        for item in items
        if not item.part.startswith("tool:")
    )
    used = tuple(
        Used(f"{row.quantity:g} {unit} {label}", row.what_for, row.by_name, row.at.astimezone(zone))
        for row in uses
        for label, unit in (known.get(row.part, (row.part, "")),)
    )
    return ShedForMends(tuple(sorted(there, key=lambda row: row.label)), used)


@dataclass(frozen=True)
class UseTyped:
    """A part that a mend took, as typed; `idempotency_key` is the token of one that may be sent twice."""

    part: str
    quantity: str
    what_for: str = ""
    idempotency_key: str = ""


def use_part(begin_transaction: BeginTransaction, opened: OpenPlan, typed: UseTyped, by: int) -> None:
    """Take so much of a part for a mend, once. Raises ReadingError naming the field, the limit and the mend."""
    part, what_for = typed.part, typed.what_for
    if len(what_for) > 200:
        raise ReadingError("what_for", "For what: at most 200 characters.")
    amount = number(typed.quantity, "quantity", "How many", _MOST)
    if amount == 0:
        raise ReadingError("quantity", "How many: 0 takes nothing; write how many or how much you used.")
    with begin_transaction() as connection:
        if typed.idempotency_key and shed.has_use(connection, plan_id=opened.id, idempotency_key=typed.idempotency_key):
            return
        farm = opened.stored.farm_id
        if shed.take_item(connection, farm_id=farm, part=part, quantity=amount) is None:
            own = {item.part: item.quantity for item in shed.list_items(connection, farm_id=farm)}
            if part not in own:
                raise ReadingError("part", "Part: the shed no longer has it. Choose another or add it first.")
            unit = part_labels().get(part, ("", ""))[1]
            raise ReadingError("quantity", _SHED_HAS_LESS.format(has=f"{own[part]:g}", unit=unit, wanted=f"{amount:g}"))
        shed.add_use(
            connection,
            plan_id=opened.id,
            part=part,
            quantity=amount,
            what_for=what_for.strip(),
            by_account=by,
            idempotency_key=typed.idempotency_key,
        )
