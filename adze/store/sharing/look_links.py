"""Links that show one plan to somebody without an account."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class LinkRow:
    """A link that shows a plan until a date."""

    id: int
    plan_name: str
    ends_at: datetime


@dataclass(frozen=True, kw_only=True)
class LookLink(LinkRow):
    """What a link shows, and who made it."""

    plan_id: int
    farm_name: str
    made_by_name: str


@dataclass(frozen=True, kw_only=True)
class PlanName:
    """A plan of a farm by name."""

    id: int
    name: str


def add_look_link(
    connection: Connection, *, token_hash: bytes, plan_id: int, farm_id: int, made_by: int, days: int
) -> bool:
    """Keep a link; False where the plan is not of the farm."""
    values = {"token_hash": token_hash, "plan_id": plan_id, "farm_id": farm_id, "made_by": made_by, "days": days}
    return run(connection, _QUERIES["add_look_link"], **values) == 1


def list_look_links(connection: Connection, *, farm_id: int) -> tuple[LinkRow, ...]:
    """The links of a farm that still show a plan."""
    return fetch_all(connection, _QUERIES["list_look_links"], LinkRow, farm_id=farm_id)


def remove_look_link(connection: Connection, *, link_id: int, farm_id: int) -> None:
    """Take a link back: it shows nothing any more, to nobody."""
    run(connection, _QUERIES["remove_look_link"], link_id=link_id, farm_id=farm_id)


def get_look_link(connection: Connection, *, token_hash: bytes) -> LookLink | None:
    """What a link shows; None where it shows nothing (any more)."""
    return fetch_one(connection, _QUERIES["get_look_link"], LookLink, token_hash=token_hash)


def add_looker(connection: Connection, *, link_id: int, account_id: int) -> None:
    """Let an account look by a link."""
    run(connection, _QUERIES["add_looker"], link_id=link_id, account_id=account_id)


def list_plan_names(connection: Connection, *, farm_id: int) -> tuple[PlanName, ...]:
    """The plans of a farm by name."""
    return fetch_all(connection, _QUERIES["list_plan_names"], PlanName, farm_id=farm_id)
