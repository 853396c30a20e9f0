"""Sign-ins that failed and accounts made, counted by name and by address."""

from dataclasses import dataclass

from adze.store.connection import Connection, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Failures:
    """Failed sign-ins: of a name from an address in 15 minutes, s since the last of them; of either in an hour."""

    here: int
    last_s: float
    of_name: int
    from_address: int


@dataclass(frozen=True, kw_only=True)
class _Made:
    made: int


def count_failures(connection: Connection, *, login: str, address: str) -> Failures:
    """What failed before."""
    found = fetch_one(connection, _QUERIES["count_failures"], Failures, login=login, address=address)
    return found or Failures(here=0, last_s=0.0, of_name=0, from_address=0)


def add_failure(connection: Connection, *, login: str, address: str) -> None:
    """Count a sign-in that failed."""
    run(connection, _QUERIES["forget_old_failures"])
    run(connection, _QUERIES["add_failure"], login=login, address=address)


def forget_failures(connection: Connection, *, login: str, address: str) -> None:
    """Count no more what failed before a sign-in that succeeded."""
    run(connection, _QUERIES["forget_failures"], login=login, address=address)


def count_sign_ups(connection: Connection, *, address: str) -> int:
    """Accounts made from an address in the last hour."""
    found = fetch_one(connection, _QUERIES["count_sign_ups"], _Made, address=address)
    return found.made if found else 0


def add_sign_up(connection: Connection, *, address: str) -> None:
    """Count an account made."""
    run(connection, _QUERIES["forget_old_sign_ups"])
    run(connection, _QUERIES["add_sign_up"], address=address)


def take_turn(connection: Connection, *, login: str) -> None:
    """Count tries of one name one after the other: the next waits until this transaction ends."""
    run(connection, _QUERIES["take_turn"], login=login)


def forget_last_failure(connection: Connection, *, login: str, address: str) -> None:
    """Count a try no more that was not made after all."""
    run(connection, _QUERIES["forget_last_failure"], login=login, address=address)


def know_browser(connection: Connection, *, account_id: int, token_hash: bytes) -> None:
    """Remember a browser that has signed in to an account."""
    run(connection, _QUERIES["know_browser"], account_id=account_id, token_hash=token_hash)


def knows_browser(connection: Connection, *, account_id: int, token_hash: bytes) -> bool:
    """Whether a browser has signed in to an account within a year."""
    found = fetch_one(connection, _QUERIES["knows_browser"], _Made, account_id=account_id, token_hash=token_hash)
    return found is not None and found.made > 0


def forget_browsers(connection: Connection, *, account_id: int, but: bytes = b"") -> None:
    """An account's browsers, but one, are strangers again."""
    run(connection, _QUERIES["forget_browsers"], account_id=account_id, but=but)
