"""What a farm has in its shed, and which plans take it."""

from dataclasses import dataclass

from adze.store.connection import Connection, fetch_all, run
from adze.store.loader import load_queries

_QUERIES = load_queries("shed")


@dataclass(frozen=True, kw_only=True)
class ShedItem:
    """So much of a part or a tool, by its key in the lists."""

    part: str
    quantity: float
    note: str


@dataclass(frozen=True, kw_only=True)
class Reserved:
    """So much of a part that a plan takes."""

    plan_id: int
    plan_name: str
    part: str
    quantity: float


def list_items(connection: Connection, *, farm_id: int) -> tuple[ShedItem, ...]:
    """The shed of a farm."""
    return fetch_all(connection, _QUERIES["list_items"], ShedItem, farm_id=farm_id)


def set_item(connection: Connection, *, farm_id: int, part: str, quantity: float, note: str = "") -> None:
    """Have so much of a part; 0: none. Raises RefusedByStore."""
    if quantity == 0:
        run(connection, _QUERIES["remove_item"], farm_id=farm_id, part=part)
    else:
        run(connection, _QUERIES["set_item"], farm_id=farm_id, part=part, quantity=quantity, note=note)


def add_to_item(connection: Connection, *, farm_id: int, part: str, quantity: float) -> None:
    """So much of a part comes back. Raises RefusedByStore."""
    run(connection, _QUERIES["add_to_item"], farm_id=farm_id, part=part, quantity=quantity)


def list_reserved(connection: Connection, *, farm_id: int) -> tuple[Reserved, ...]:
    """What the farm's plans take from its shed, as they stand."""
    return fetch_all(connection, _QUERIES["list_reserved"], Reserved, farm_id=farm_id)
