"""Who may do what with a farm, and the links that let people in."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Person:
    """Somebody on a farm, in a role; the founder's account holds the farm."""

    id: int
    name: str
    login: str
    role: int
    is_founder: bool


@dataclass(frozen=True, kw_only=True)
class SharedFarm:
    """A farm, and what one may do with it."""

    id: int
    name: str
    role: int


@dataclass(frozen=True, kw_only=True)
class OpenInvitation:
    """A link that nobody has used yet."""

    id: int
    role: int
    ends_at: datetime


@dataclass(frozen=True, kw_only=True)
class Invitation:
    """What a link stands for."""

    id: int
    farm_id: int
    farm_name: str
    founder: int
    role: int
    made_by_name: str
    is_used: bool
    is_over: bool


def list_people(connection: Connection, *, farm_id: int) -> tuple[Person, ...]:
    """Who may do what with a farm, the founder first."""
    return fetch_all(connection, _QUERIES["list_people"], Person, farm_id=farm_id)


def get_shared_farm(connection: Connection, *, farm_id: int, account_id: int) -> SharedFarm | None:
    """A farm that an account may do something with."""
    return fetch_one(connection, _QUERIES["get_shared_farm"], SharedFarm, farm_id=farm_id, account_id=account_id)


def set_role(connection: Connection, *, farm_id: int, account_id: int, role: int) -> None:
    """Let somebody in, or change their role."""
    run(connection, _QUERIES["set_role"], farm_id=farm_id, account_id=account_id, role=role)


def remove_member(connection: Connection, *, farm_id: int, account_id: int) -> None:
    """Take somebody off a farm."""
    run(connection, _QUERIES["remove_member"], farm_id=farm_id, account_id=account_id)


def add_invitation(
    connection: Connection, *, token_hash: bytes, farm_id: int, role: int, made_by: int, days: int
) -> None:
    """Keep a link."""
    values = {"token_hash": token_hash, "farm_id": farm_id, "role": role, "made_by": made_by, "days": days}
    run(connection, _QUERIES["add_invitation"], **values)


def list_invitations(connection: Connection, *, farm_id: int) -> tuple[OpenInvitation, ...]:
    """The links that still let somebody in."""
    return fetch_all(connection, _QUERIES["list_invitations"], OpenInvitation, farm_id=farm_id)


def withdraw_invitation(connection: Connection, *, invitation_id: int, farm_id: int) -> None:
    """Take a link back."""
    run(connection, _QUERIES["withdraw_invitation"], invitation_id=invitation_id, farm_id=farm_id)


def get_invitation(connection: Connection, *, token_hash: bytes) -> Invitation | None:
    """What a link stands for; None for one that is none."""
    return fetch_one(connection, _QUERIES["get_invitation"], Invitation, token_hash=token_hash)


def use_invitation(connection: Connection, *, invitation_id: int, account_id: int) -> bool:
    """Use a link; False where somebody was quicker."""
    return run(connection, _QUERIES["use_invitation"], invitation_id=invitation_id, account_id=account_id) == 1
