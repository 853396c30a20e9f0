"""What a farm has in its shed, and which plans take it."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


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


def take_item(connection: Connection, *, farm_id: int, part: str, quantity: float) -> ShedItem | None:
    """So much of a part leaves the shed; what is left of it, None where there is not so much."""
    found = fetch_one(connection, _QUERIES["take_item"], ShedItem, farm_id=farm_id, part=part, quantity=quantity)
    if found and found.quantity == 0:
        run(connection, _QUERIES["remove_item"], farm_id=farm_id, part=part)
    return found


@dataclass(frozen=True, kw_only=True)
class ShedUse:
    """What a mend took from the shed: for what, by whom, when."""

    part: str
    quantity: float
    what_for: str
    by_name: str
    at: datetime


@dataclass(frozen=True)
class _Uses:
    uses: int


def has_use(connection: Connection, *, plan_id: int, idempotency_key: str) -> bool:
    """Whether a use with this token is kept."""
    found = fetch_one(
        connection, _QUERIES["count_uses_by_key"], _Uses, plan_id=plan_id, idempotency_key=idempotency_key
    )
    return found is not None and found.uses > 0


def add_use(
    connection: Connection,
    *,
    plan_id: int,
    part: str,
    quantity: float,
    what_for: str,
    by_account: int,
    idempotency_key: str = "",
) -> None:
    """Keep what a mend took; `idempotency_key` is that of one that may be sent twice. Raises RefusedByStore."""
    values = {
        "part": part,
        "quantity": quantity,
        "what_for": what_for,
        "by_account": by_account,
        "idempotency_key": idempotency_key,
    }
    run(connection, _QUERIES["add_use"], plan_id=plan_id, **values)


def list_uses(connection: Connection, *, plan_id: int, most: int = 50) -> tuple[ShedUse, ...]:
    """What mends of a plan took from the shed, newest first."""
    return fetch_all(connection, _QUERIES["list_uses"], ShedUse, plan_id=plan_id, most=most)
