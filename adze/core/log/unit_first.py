"""What is seen to before anybody walks: a unit that gives too little by itself, a lead-out that takes too much."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.basics.units import kv_words
from adze.core.log.round import ALONE_SHARE
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.tables.energizers import EnergizerModel
from adze.core.tables.prices import prices


@dataclass(frozen=True)
class UnitFirst:
    """Why the search stops at the unit or its lead-out, what is looked at there, in order, and what new parts cost."""

    title: str
    checks: tuple[str, ...]
    costs: tuple[tuple[str, float], ...] = ()


def unit_first(plan: Plan, unit_kv: float | None, lead_kv: float | None, lead_share: float) -> UnitFirst | None:
    """What comes before the fence by what unit and lead-out showed alone, kV; None: both are well, or were not read.

    `lead_share` is the least of the unit's own kV that a well lead-out shows.
    """
    unit = unit_of(plan)
    if unit is None:
        return None
    if unit_kv is not None and unit_kv < ALONE_SHARE * unit.open_kv:
        title = f"Stop here: without a fence the unit gives {kv_words(unit_kv)} of its {kv_words(unit.open_kv)} kV."
        return UnitFirst(title, tuple(_of_unit(unit)), tuple(_costs(unit)))
    known_kv = unit_kv or unit.open_kv
    if lead_kv is not None and lead_kv < lead_share * known_kv:
        lost = kv_words(known_kv - lead_kv)
        return UnitFirst(f"Stop here: the lead-out loses {lost} kV before the fence begins.", _OF_LEAD)
    return None


def _of_unit(unit: EnergizerModel) -> Iterator[str]:
    yield "Is the fence lead off? Are the full terminal and the full rate set?"
    if unit.supply != "mains":
        yield (
            "Read the battery after an hour of rest: 12.7 V is full, 12.2 half. Under 12.2 charge it, then read the "
            "unit again."
        )
        yield (
            "Read the battery while the unit pulses: a fall of over 1 V is a dead cell or a bad contact. Clean the "
            "clamps."
        )
    if unit.supply == "solar":
        yield "Is the panel clean, in full sun and its cable whole? At noon the battery stands above 13 V."
    if "mains" in unit.supply:
        yield "Is the socket live, are plug and fuse sound, is the switch of the building on?"
    yield "Is the earth lead on the right terminal, bright and tight?"
    yield (
        "Still low: ask an authorised repairer, or use another unit; nobody opens it. With this one every place "
        "reads low."
    )


def _costs(unit: EnergizerModel) -> Iterator[tuple[str, float]]:
    if unit.supply != "mains":
        battery = prices()["battery"]
        yield battery.label, battery.price
    if unit.price:
        yield unit.label, unit.price


_OF_LEAD = (
    "Look where it leaves the building: it needs an insulated tube, no staple and no metal edge.",
    "Look along it for a nicked jacket, a wet post or old metal that it touches. Listen: a leak clicks.",
    "In the ground look for water in the duct and for a taped joint. Replace it in one piece.",
    "Look at its clamps at both ends: bright and tight. Then read its end again.",
)
