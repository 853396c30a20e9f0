"""Mails to be sent, the links that they carry, and the address of an account."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class NewMail:
    """A mail: to whom, about what, the text."""

    to_mail: str
    subject: str
    body: str


@dataclass(frozen=True, kw_only=True)
class Mail(NewMail):
    """A mail that is not sent yet."""

    id: int
    made_at: datetime


@dataclass(frozen=True, kw_only=True)
class Addressee:
    """An account and its address."""

    account_id: int
    mail: str
    login: str
    name: str


@dataclass(frozen=True)
class _Id:
    id: int


def add_mail(connection: Connection, mail: NewMail) -> int:
    """Keep a mail until it is sent; its id."""
    made = fetch_one(connection, _QUERIES["add_mail"], _Id, **vars(mail))
    if made is None:
        raise Missing("The mail was not kept.")
    return made.id


def get_mail(connection: Connection, *, mail_id: int) -> Mail | None:
    """A mail that is not sent yet."""
    return fetch_one(connection, _QUERIES["get_mail"], Mail, mail_id=mail_id)


def list_mails(connection: Connection, *, most: int) -> tuple[Mail, ...]:
    """The mails that are not sent, newest first."""
    return fetch_all(connection, _QUERIES["list_mails"], Mail, most=most)


def remove_mail(connection: Connection, *, mail_id: int) -> None:
    """Keep a mail no longer."""
    run(connection, _QUERIES["remove_mail"], mail_id=mail_id)


def forget_mails(connection: Connection) -> None:
    """Drop mails that nobody took within a day, and links that are over."""
    run(connection, _QUERIES["forget_mails"])


def add_link(connection: Connection, whose: Addressee, *, token_hash: bytes, kind: str, hours: int) -> None:
    """Keep what the link in a mail stands for: `confirm` or `reset`; an earlier one of the kind is over."""
    values = {"account_id": whose.account_id, "mail": whose.mail, "kind": kind, "hours": hours}
    run(connection, _QUERIES["add_link"], token_hash=token_hash, **values)


def get_link(connection: Connection, *, token_hash: bytes, kind: str) -> Addressee | None:
    """What the link in a mail stands for; None where it stands for nothing (any more)."""
    return fetch_one(connection, _QUERIES["get_link"], Addressee, token_hash=token_hash, kind=kind)


def use_link(connection: Connection, *, token_hash: bytes) -> bool:
    """Use a link; False where it was used before."""
    return run(connection, _QUERIES["use_link"], token_hash=token_hash) == 1


def change_mail(connection: Connection, *, account_id: int, mail: str) -> None:
    """Keep the address of an account."""
    run(connection, _QUERIES["change_mail"], account_id=account_id, mail=mail)


def get_address(connection: Connection, *, login: str) -> Addressee | None:
    """The confirmed address of a sign-in name, if it has one."""
    return fetch_one(connection, _QUERIES["get_address"], Addressee, login=login)


def get_own_address(connection: Connection, *, account_id: int) -> Addressee | None:
    """An account with its confirmed address, empty where it has none."""
    return fetch_one(connection, _QUERIES["get_own_address"], Addressee, account_id=account_id)
