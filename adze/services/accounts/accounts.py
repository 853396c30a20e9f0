"""Sign up, sign in, sign out, change the password, end an account. No connection is held while a password is hashed."""

import secrets
from dataclasses import dataclass, replace

from adze.core.basics.faults import FieldFault
from adze.services.accounts import guessing, passwords
from adze.services.limits.concurrency import Busy
from adze.services.limits.tokens import digest_of
from adze.store.accounts import accounts, attempts, passkeys, sessions
from adze.store.accounts.accounts import Account, Event
from adze.store.accounts.passkeys import Passkey
from adze.store.accounts.sessions import Device, NewSession, Session
from adze.store.connection import BeginTransaction, Connection

VISITOR_NAME = "Ruth Hallow"


class SignInError(FieldFault):
    """Why somebody is not let in; `field` is where to mend it."""


@dataclass(frozen=True)
class Caller:
    """Where somebody signs in from: their address and their browser, as far as it says.

    `browser` is the token by which a browser is known that has signed in before; empty for one that has not.
    """

    address: str
    device: str
    browser: str = ""


@dataclass(frozen=True)
class Key:
    """What a browser keeps: the token for its cookie, and the one by which it is known again (empty: not to be)."""

    token: str
    csrf: str
    browser: str = ""


def admit(connection: Connection, account_id: int, days: int, caller: Caller) -> Key:
    """Let a browser in to an account."""
    key = Key(secrets.token_urlsafe(32), secrets.token_urlsafe(24))
    new = NewSession(digest_of(key.token), account_id, key.csrf, caller.address, caller.device)
    sessions.add_session(connection, new, days=days)
    return key


def note(connection: Connection, account_id: int, kind: str, caller: Caller) -> None:
    """Keep what happened to an account, for its owner to see."""
    accounts.add_event(connection, account_id=account_id, kind=kind, address=caller.address, device=caller.device)


def admit_owner(connection: Connection, account_id: int, days: int, caller: Caller) -> Key:
    """Let a browser in that has shown to be the owner's, and know it again."""
    browser = caller.browser or secrets.token_urlsafe(24)
    attempts.know_browser(connection, account_id=account_id, token_hash=digest_of(browser))
    return replace(admit(connection, account_id, days, caller), browser=browser)


def is_known(connection: Connection, account: Account | None, caller: Caller) -> bool:
    """Whether the browser has signed in to the account before."""
    own = digest_of(caller.browser) if account and caller.browser else None
    return (
        own is not None
        and account is not None
        and attempts.knows_browser(connection, account_id=account.id, token_hash=own)
    )


def _lane(connection: Connection, account: Account | None, name: str, caller: Caller) -> guessing.GuessingLane:
    if is_known(connection, account, caller):
        return guessing.of_browser(digest_of(caller.browser).hex())
    return guessing.GuessingLane(name, caller.address)


def sign_in(begin_transaction: BeginTransaction, *, login: str, password: str, days: int, caller: Caller) -> Key:
    """Let a browser in. Raises SignInError, and Busy where too much failed before or too many ask at once."""
    name = login.strip().lower()[:80]
    with begin_transaction() as connection:
        account = accounts.get_account(connection, login=name)
        lane = _lane(connection, account, name, caller)
    kept = account.password_hash if account and not account.is_demo else None
    fits = guessing.checked(begin_transaction, lane, lambda: passwords.fits(password, kept, caller.address))
    with begin_transaction() as connection:
        if account and fits:
            note(connection, account.id, "signed in", caller)
            return admit_owner(connection, account.id, days, caller)
        if account:
            note(connection, account.id, "sign-in failed", caller)
    raise SignInError("password", "The name or the password is wrong. Check both.")


@dataclass(frozen=True)
class NewAccount:
    """What was typed for a new account."""

    login: str
    name: str
    password: str


@dataclass(frozen=True)
class SignUpLimits:
    """For how many days a browser is let in, and how many accounts an address makes in an hour."""

    days: int
    most_an_hour: int


def sign_up(
    begin_transaction: BeginTransaction,
    new: NewAccount,
    *,
    limits: SignUpLimits,
    caller: Caller,
    visitor: Session | None = None,
) -> Key:
    """A new account, signed in; with a visitor's session what was made in it comes along.

    Raises SignInError, NameTaken, RefusedByStore, Busy.
    """
    login = new.login.strip().lower()
    if not 3 <= len(login) <= 80:
        raise SignInError("login", "A sign-in name has 3 to 80 characters.")
    fault = passwords.fault_of(new.password, (login, new.name))
    if fault:
        raise SignInError("password", fault)
    with begin_transaction() as connection:
        if attempts.count_sign_ups(connection, address=caller.address) >= limits.most_an_hour:
            raise Busy(guessing.LONGEST_WAIT_S)
    hashed = passwords.hashed(new.password, caller.address)
    with begin_transaction() as connection:
        name = new.name.strip() or new.login.strip()
        if visitor is not None and visitor.is_demo:
            account = accounts.keep_visitor(
                connection, account_id=visitor.account_id, login=login, name=name, password_hash=hashed
            )
        else:
            account = accounts.add_account(connection, login=login, name=name, password_hash=hashed, is_demo=False)
        attempts.add_sign_up(connection, address=caller.address)
        note(connection, account.id, "account made", caller)
        return admit_owner(connection, account.id, limits.days, caller)


def make_visitor(connection: Connection, caller: Caller, most_an_hour: int) -> Account:
    """An account for one visitor to the demo, whom no password lets in; what older visitors left is taken off.

    Raises Busy for an address that has opened the demo so often within the hour.
    """
    accounts.remove_old_visitors(connection)
    address = f"demo {caller.address}"
    if attempts.count_sign_ups(connection, address=address) >= most_an_hour:
        raise Busy(guessing.LONGEST_WAIT_S)
    attempts.add_sign_up(connection, address=address)
    login = f"visitor-{secrets.token_hex(8)}"
    return accounts.add_account(connection, login=login, name=VISITOR_NAME, password_hash="", is_demo=True)


def admit_visitor(connection: Connection, account: Account, caller: Caller) -> Key:
    """Let the browser of a visitor in for a day."""
    return admit(connection, account.id, 1, caller)


def admit_guest(connection: Connection, name: str, days: int, caller: Caller) -> tuple[Key, int]:
    """Let in the browser of somebody who came by a link; the account that stands for them."""
    guest = accounts.add_guest(connection, login=f"guest-{secrets.token_hex(8)}", name=name)
    return admit(connection, guest.id, days, caller), guest.id


def who(connection: Connection, token: str, *, idle_days: int) -> Session | None:
    """Whom a cookie's token stands for."""
    return sessions.get_session(connection, token_hash=digest_of(token), idle_days=idle_days)


def sign_out(connection: Connection, token: str) -> None:
    """End a browser's session."""
    sessions.remove_session(connection, token_hash=digest_of(token))


def confirm_owner(
    begin_transaction: BeginTransaction, session: Session, password: str, field: str = "password"
) -> None:
    """Make sure that it is the owner who asks. Raises SignInError at `field`, Busy."""
    with begin_transaction() as connection:
        account = accounts.get_account(connection, login=session.login)
    kept, who = (account and account.password_hash) or None, f"account {session.account_id}"
    lane = guessing.of_session(session)
    if not guessing.checked(begin_transaction, lane, lambda: passwords.fits(password, kept, who)):
        raise SignInError(field, "That is not your password.")


def confirm_session(begin_transaction: BeginTransaction, session: Session, *, password: str) -> None:
    """Note that whoever is signed in is the owner, for what asks for it. Raises SignInError, Busy."""
    confirm_owner(begin_transaction, session, password)
    with begin_transaction() as connection:
        sessions.confirm_session(connection, session_id=session.id)


def change_password(
    begin_transaction: BeginTransaction, session: Session, *, now: str, new: str, caller: Caller
) -> None:
    """Another password; every other browser is signed out. Raises SignInError, Busy."""
    if session.is_demo:
        raise SignInError("new", "A visitor to the demo has no password.")
    confirm_owner(begin_transaction, session, now)
    fault = passwords.fault_of(new, (session.login, session.name))
    if fault:
        raise SignInError("new", fault)
    hashed = passwords.hashed(new, f"account {session.account_id}")
    with begin_transaction() as connection:
        accounts.change_password(connection, account_id=session.account_id, password_hash=hashed)
        attempts.forget_browsers(connection, account_id=session.account_id, but=digest_of(caller.browser))
        sessions.remove_other_sessions(connection, account_id=session.account_id, session_id=session.id)
        note(connection, session.account_id, "password changed", caller)


def sign_others_out(begin_transaction: BeginTransaction, session: Session, caller: Caller) -> int:
    """Sign out every browser but this one; how many there were."""
    with begin_transaction() as connection:
        count = sessions.remove_other_sessions(connection, account_id=session.account_id, session_id=session.id)
        note(connection, session.account_id, "other devices signed out", caller)
        return count


def sign_device_out(begin_transaction: BeginTransaction, session: Session, *, device: int, caller: Caller) -> None:
    """Sign one browser out."""
    with begin_transaction() as connection:
        sessions.remove_session_by_id(connection, session_id=device, account_id=session.account_id)
        note(connection, session.account_id, "a device signed out", caller)


def end_account(begin_transaction: BeginTransaction, session: Session, *, password: str) -> None:
    """Take an account off with all that it owns. Raises SignInError, Busy."""
    if not session.is_demo:
        confirm_owner(begin_transaction, session, password)
    with begin_transaction() as connection:
        accounts.remove_account(connection, account_id=session.account_id)


@dataclass(frozen=True)
class AccountView:
    """What the owner sees of an account: where it is signed in, what happened to it, its passkeys."""

    devices: tuple[Device, ...]
    events: tuple[Event, ...]
    passkeys: tuple[Passkey, ...]


def account_view(begin_transaction: BeginTransaction, session: Session) -> AccountView:
    """Devices and events of an account."""
    with begin_transaction() as connection:
        return AccountView(
            sessions.list_sessions(connection, account_id=session.account_id),
            accounts.list_events(connection, account_id=session.account_id),
            passkeys.list_passkeys(connection, account_id=session.account_id),
        )
