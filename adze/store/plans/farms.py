"""Farms of an account."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Farm:
    """A farm."""

    id: int
    name: str
    note: str


@dataclass(frozen=True, kw_only=True)
class Removed:
    """A farm or a plan that was taken off and can be taken back for a day."""

    kind: str
    id: int
    name: str
    removed_at: datetime


@dataclass(frozen=True, kw_only=True)
class Owned:
    """A plan of an account with its farm and its document."""

    farm_id: int
    farm_name: str
    id: int
    name: str
    document: dict[str, Any]


def add_farm(connection: Connection, *, account_id: int, name: str, note: str = "") -> Farm:
    """A new farm. Raises Taken, Refused."""
    made = fetch_one(connection, _QUERIES["add_farm"], Farm, account_id=account_id, name=name, note=note)
    if made is None:
        raise Missing("The farm was not made.")
    return made


def _touched(count: int, what: str) -> None:
    if count == 0:
        raise Missing(f"That {what} is not among yours.")


def rename_farm(
    connection: Connection, *, farm_id: int, name: str, currency: str | None = None, time_zone: str | None = None
) -> None:
    """A farm's name, and its money and time zone where they are said. Raises Missing, NameTaken, RefusedByStore."""
    said = {"name": name, "currency": currency, "time_zone": time_zone}
    _touched(run(connection, _QUERIES["rename_farm"], farm_id=farm_id, **said), "farm")


def remove_farm(connection: Connection, *, farm_id: int, account_id: int, is_removed: bool) -> None:
    """Take a farm off, or back within a day. Raises Missing, NameTaken."""
    count = run(connection, _QUERIES["remove_farm"], farm_id=farm_id, account_id=account_id, is_removed=is_removed)
    _touched(count, "farm")


def remove_plan(connection: Connection, *, plan_id: int, account_id: int, is_removed: bool) -> None:
    """Take a plan off, or back within a day. Raises Missing."""
    count = run(connection, _QUERIES["remove_plan"], plan_id=plan_id, account_id=account_id, is_removed=is_removed)
    _touched(count, "plan")


def forget_removed(connection: Connection) -> int:
    """Forget what was taken off a day ago; how many farms and plans that were."""
    return run(connection, _QUERIES["forget_removed_plans"]) + run(connection, _QUERIES["forget_removed_farms"])


def list_removed(connection: Connection, *, account_id: int) -> tuple[Removed, ...]:
    """What an account can take back, the last taken off first."""
    return fetch_all(connection, _QUERIES["list_removed"], Removed, account_id=account_id)


def list_everything(connection: Connection, *, account_id: int) -> tuple[Owned, ...]:
    """All plans of an account."""
    return fetch_all(connection, _QUERIES["list_everything"], Owned, account_id=account_id)


def list_names(connection: Connection, *, account_id: int) -> tuple[Farm, ...]:
    """The farms that an account holds, those taken off too: each name stands once."""
    return fetch_all(connection, _QUERIES["list_names"], Farm, account_id=account_id)


def keep_tester(connection: Connection, *, farm_id: int, tester: dict[str, Any]) -> None:
    """Keep the tester that a farm's kV are read with, as a plan document says it."""
    run(connection, _QUERIES["keep_tester"], farm_id=farm_id, tester=Jsonb(tester))


@dataclass(frozen=True)
class _Tester:
    tester: dict[str, Any] | None


def get_tester(connection: Connection, *, farm_id: int) -> dict[str, Any] | None:
    """The tester of a farm; None where none was ever chosen."""
    found = fetch_one(connection, _QUERIES["get_tester"], _Tester, farm_id=farm_id)
    return found.tester if found else None


def keep_prices(connection: Connection, *, farm_id: int, own_prices: list[dict[str, Any]]) -> None:
    """Keep the prices that a farm pays, as a plan document says them."""
    run(connection, _QUERIES["keep_prices"], farm_id=farm_id, own_prices=Jsonb(own_prices))


@dataclass(frozen=True)
class _OwnPrices:
    own_prices: list[dict[str, Any]] | None


def get_prices(connection: Connection, *, farm_id: int) -> list[dict[str, Any]]:
    """The prices that a farm pays; none where it never brought a list in."""
    found = fetch_one(connection, _QUERIES["get_prices"], _OwnPrices, farm_id=farm_id)
    return found.own_prices or [] if found else []
