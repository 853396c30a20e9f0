"""What accounts keep, over all of their farms."""

from dataclasses import dataclass

from adze.store.connection import Connection, fetch_one
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Usage:
    """How many plans an account holds, and the bytes of their versions and pictures."""

    plans: int
    bytes: int


@dataclass(frozen=True)
class _Holder:
    account_id: int


def get_usage(connection: Connection, *, account_id: int) -> Usage:
    """What an account keeps."""
    return fetch_one(connection, _QUERIES["get_usage"], Usage, account_id=account_id) or Usage(plans=0, bytes=0)


def get_holder(connection: Connection, *, plan_id: int) -> int:
    """The account that holds the farm of a plan. Raises Missing."""
    found = fetch_one(connection, _QUERIES["get_holder"], _Holder, plan_id=plan_id)
    if found is None:
        raise Missing("That plan is gone.")
    return found.account_id


def get_farm_holder(connection: Connection, *, farm_id: int) -> int:
    """The account that holds a farm. Raises Missing."""
    found = fetch_one(connection, _QUERIES["get_farm_holder"], _Holder, farm_id=farm_id)
    if found is None:
        raise Missing("That farm is gone.")
    return found.account_id
