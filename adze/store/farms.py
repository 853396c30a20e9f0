"""Farms of an account."""

from dataclasses import dataclass

from adze.store.connection import Connection, fetch_all, fetch_one
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries("farms")


@dataclass(frozen=True, kw_only=True)
class Farm:
    """A farm."""

    id: int
    name: str
    note: str


def add_farm(connection: Connection, *, account_id: int, name: str, note: str = "") -> Farm:
    """A new farm. Raises Taken, Refused."""
    made = fetch_one(connection, _QUERIES["add_farm"], Farm, account_id=account_id, name=name, note=note)
    if made is None:
        raise Missing("The farm was not made.")
    return made


def list_farms(connection: Connection, *, account_id: int) -> tuple[Farm, ...]:
    """An account's farms, oldest first."""
    return fetch_all(connection, _QUERIES["list_farms"], Farm, account_id=account_id)


def get_farm(connection: Connection, *, farm_id: int, account_id: int) -> Farm:
    """One farm of an account. Raises Missing."""
    found = fetch_one(connection, _QUERIES["get_farm"], Farm, farm_id=farm_id, account_id=account_id)
    if found is None:
        raise Missing("That farm is not among yours.")
    return found
