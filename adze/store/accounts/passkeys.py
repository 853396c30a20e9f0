"""Passkeys of accounts, and the challenges that they answer."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class NewPasskey:
    """A passkey: whose, its public half, how often it has signed, the device that it was made on."""

    account_id: int
    credential_id: bytes
    public_key: bytes
    sign_count: int
    device: str


@dataclass(frozen=True, kw_only=True)
class Passkey(NewPasskey):
    """A passkey as it is kept."""

    id: int
    made_at: datetime
    used_at: datetime | None


@dataclass(frozen=True)
class _Challenge:
    challenge: bytes


def add_challenge(connection: Connection, *, key: str, challenge: bytes, account_id: int | None) -> None:
    """Keep a challenge for five minutes; of an account where a passkey is to be added to it."""
    run(connection, _QUERIES["add_challenge"], key=key, challenge=challenge, account_id=account_id)


def take_challenge(connection: Connection, *, key: str, account_id: int | None) -> bytes | None:
    """A challenge, once; None where it is over, was answered, or is another's."""
    found = fetch_one(connection, _QUERIES["take_challenge"], _Challenge, key=key, account_id=account_id)
    return found.challenge if found else None


def add_passkey(connection: Connection, new: NewPasskey) -> None:
    """Keep a passkey. Raises NameTaken for one that is kept already."""
    run(connection, _QUERIES["add_passkey"], **vars(new))


def list_passkeys(connection: Connection, *, account_id: int) -> tuple[Passkey, ...]:
    """The passkeys of an account."""
    return fetch_all(connection, _QUERIES["list_passkeys"], Passkey, account_id=account_id)


def get_passkey(connection: Connection, *, credential_id: bytes) -> Passkey | None:
    """The passkey of a credential."""
    return fetch_one(connection, _QUERIES["get_passkey"], Passkey, credential_id=credential_id)


def use_passkey(connection: Connection, *, passkey_id: int, sign_count: int) -> None:
    """Note that a passkey was used."""
    run(connection, _QUERIES["use_passkey"], passkey_id=passkey_id, sign_count=sign_count)


def remove_passkey(connection: Connection, *, passkey_id: int, account_id: int) -> None:
    """Take a passkey off an account."""
    run(connection, _QUERIES["remove_passkey"], passkey_id=passkey_id, account_id=account_id)
