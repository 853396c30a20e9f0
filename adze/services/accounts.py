"""Sign up, sign in, sign out."""

import hashlib
import secrets
from dataclasses import dataclass

from pwdlib import PasswordHash

from adze.store import accounts
from adze.store.accounts import Session
from adze.store.connection import Connection, Transaction

DEMO_LOGIN, DEMO_PASSWORD, DEMO_NAME = "demo", "hallow-reach", "Ruth Hallow"
_SHORTEST_PASSWORD = 8
_HASH = PasswordHash.recommended()
# Checked against when a login is unknown, so that the answer takes as long.
_NOBODY = _HASH.hash(secrets.token_hex(8))


class SignInError(ValueError):
    """Why somebody is not let in; `field` is where to mend it."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


@dataclass(frozen=True)
class Key:
    """What a browser keeps: the token for its cookie."""

    token: str
    csrf: str


def _hashed(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()


def _admit(connection: Connection, account_id: int, days: int) -> Key:
    key = Key(secrets.token_urlsafe(32), secrets.token_urlsafe(24))
    accounts.add_session(connection, token_hash=_hashed(key.token), account_id=account_id, csrf=key.csrf, days=days)
    return key


def sign_in(transaction: Transaction, *, login: str, password: str, days: int) -> Key:
    """Let a browser in. Raises SignInError. No connection is held while the password is hashed."""
    with transaction() as connection:
        account = accounts.get_account(connection, login=login.strip().lower())
    fits = _HASH.verify(password, account.password_hash if account else _NOBODY)
    if account is None or not fits:
        raise SignInError("password", "That name and password do not go together. Check both.")
    with transaction() as connection:
        return _admit(connection, account.id, days)


def sign_up(transaction: Transaction, *, login: str, name: str, password: str, days: int) -> Key:
    """A new account, signed in. Raises SignInError, Taken, Refused."""
    if len(password) < _SHORTEST_PASSWORD:
        raise SignInError("password", f"A password has at least {_SHORTEST_PASSWORD} characters.")
    if not 3 <= len(login.strip()) <= 80:
        raise SignInError("login", "A sign-in name has 3 to 80 characters.")
    hashed = _HASH.hash(password)
    with transaction() as connection:
        account = accounts.add_account(
            connection,
            login=login.strip().lower(),
            name=name.strip() or login.strip(),
            password_hash=hashed,
            is_demo=False,
        )
        return _admit(connection, account.id, days)


def ensure_demo_account(connection: Connection) -> tuple[int, bool]:
    """The demo account's id, and whether it was made just now."""
    known = accounts.get_account(connection, login=DEMO_LOGIN)
    if known:
        return known.id, False
    made = accounts.add_account(
        connection, login=DEMO_LOGIN, name=DEMO_NAME, password_hash=_HASH.hash(DEMO_PASSWORD), is_demo=True
    )
    return made.id, True


def who(connection: Connection, token: str) -> Session | None:
    """Whom a cookie's token stands for."""
    return accounts.get_session(connection, token_hash=_hashed(token))


def sign_out(connection: Connection, token: str) -> None:
    """End a browser's session."""
    accounts.remove_session(connection, token_hash=_hashed(token))
