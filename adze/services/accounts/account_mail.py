"""An account's own mail address, confirmed by a link; another password by a link sent there."""

import re
import secrets
from collections.abc import Callable
from dataclasses import replace

from adze.services.accounts import passwords
from adze.services.accounts.accounts import Caller, SignInError, confirm_owner, is_known, note
from adze.services.jobs.mails import post
from adze.services.jobs.queue import Jobs
from adze.services.limits.concurrency import Busy
from adze.services.limits.tokens import digest_of
from adze.store.accounts import accounts, attempts, sessions
from adze.store.accounts.accounts import get_account
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction
from adze.store.errors import Missing
from adze.store.messages import mails
from adze.store.messages.mails import Addressee, NewMail

_CONFIRM_HOURS, _RESET_HOURS = 24, 1
_MOST_AN_HOUR = 5  # mails asked for from one address or for one name
_MOST_INVITED = 20
_LONGEST = 254
_ADDRESS = re.compile(r"[^@\s]+@[^@\s]+")
_OVER = "That link has been used or has expired. Ask for another."
Link = Callable[[str], str]


def _count(begin_transaction: BeginTransaction, *whom: str, most: int = _MOST_AN_HOUR) -> None:
    """Count mails asked for. Raises Busy past the limit."""
    with begin_transaction() as connection:
        for one in whom:
            if attempts.count_sign_ups(connection, address=f"mail {one}"[:200]) >= most:
                raise Busy(900)
            attempts.add_sign_up(connection, address=f"mail {one}"[:200])


def checked_address(mail: str) -> str:
    """An address as it is typed, without blanks around it. Raises ValueError."""
    mail = mail.strip()
    if len(mail) > _LONGEST or not _ADDRESS.fullmatch(mail):
        raise ValueError("Mail: write an address such as ann@farm.example.")
    return mail


def send_invitation(
    begin_transaction: BeginTransaction, jobs: Jobs, session: Session, *, mail: str, farm: str, link: str
) -> None:
    """Send an invitation to a farm. Raises Busy past twenty in an hour, ValueError for a visitor to the demo."""
    if session.is_demo:
        # Anybody can be one: they would send mail to anybody, in words of their own.
        raise ValueError("Mail: a visitor to the demo sends none. Send the link yourself, or make an account.")
    _count(begin_transaction, f"by {session.login}", most=_MOST_INVITED)
    body = f"{session.name} invites you to {farm}. Open within the days that they chose:\n{link}\n"
    with begin_transaction() as connection:
        send = post(connection, jobs, NewMail(to_mail=mail, subject=f"{farm} at Adze"[:120], body=body))
    send()


def propose(
    begin_transaction: BeginTransaction, jobs: Jobs, session: Session, *, mail: str, password: str, link: Link
) -> None:
    """Send a link to an address, which confirms it as one's own. Raises SignInError, Busy."""
    try:
        mail = checked_address(mail)
    except ValueError as error:
        raise SignInError("mail", str(error)) from error
    confirm_owner(begin_transaction, session, password, field="mail_password")
    _count(begin_transaction, session.login)
    token = secrets.token_urlsafe(24)
    with begin_transaction() as connection:
        whose = mails.get_own_address(connection, account_id=session.account_id)
        if whose is None:
            raise Missing("That account is gone.")
        mails.add_link(
            connection, replace(whose, mail=mail), token_hash=digest_of(token), kind="confirm", hours=_CONFIRM_HOURS
        )
        body = f"Hello {whose.name},\n\nto get a new password by this address, open within a day:\n{link(token)}\n"
        send = post(connection, jobs, NewMail(to_mail=mail, subject="Your address at Adze", body=body))
    send()


def waiting(begin_transaction: BeginTransaction, token: str, kind: str) -> Addressee:
    """Whose a link is. Raises Missing."""
    with begin_transaction() as connection:
        found = mails.get_link(connection, token_hash=digest_of(token), kind=kind)
    if found is None:
        raise Missing(_OVER)
    return found


def confirm(begin_transaction: BeginTransaction, token: str, caller: Caller) -> None:
    """Keep an address that a link has confirmed. Raises Missing."""
    found = waiting(begin_transaction, token, "confirm")
    with begin_transaction() as connection:
        if not mails.use_link(connection, token_hash=digest_of(token)):
            raise Missing(_OVER)
        mails.change_mail(connection, account_id=found.account_id, mail=found.mail)
        note(connection, found.account_id, "mail address confirmed", caller)


def forget(begin_transaction: BeginTransaction, jobs: Jobs, *, login: str, link: Link, caller: Caller) -> None:
    """Send a link for another password, if the name has a confirmed address; nobody learns whether.

    What strangers ask for shuts nobody out. Raises Busy past five an hour from one address or known browser.
    """
    login = login.strip().lower()[:80]
    with begin_transaction() as connection:
        account = get_account(connection, login=login)
        is_owners = is_known(connection, account, caller)
    _count(begin_transaction, f"browser {digest_of(caller.browser).hex()}" if is_owners else caller.address)
    try:
        _count(begin_transaction, login)
    except Busy:
        if not is_owners:
            return  # mails enough are on their way, and their links hold for an hour
    token = secrets.token_urlsafe(24)
    with begin_transaction() as connection:
        whose = mails.get_address(connection, login=login)
        if whose is None:
            return
        mails.add_link(connection, whose, token_hash=digest_of(token), kind="reset", hours=_RESET_HOURS)
        note(connection, whose.account_id, "asked for a new password by mail", caller)
        body = (
            f"Hello {whose.name},\n\nfor a new password open within an hour:\n{link(token)}\n\n"
            "If you did not ask for it, leave it: nothing has changed.\n"
        )
        send = post(connection, jobs, NewMail(to_mail=whose.mail, subject="A new password at Adze", body=body))
    send()


def reset(begin_transaction: BeginTransaction, token: str, *, new: str, caller: Caller) -> None:
    """Another password by a link; every browser is signed out. Raises Missing, SignInError, Busy."""
    found = waiting(begin_transaction, token, "reset")
    fault = passwords.fault_of(new, (found.login, found.name))
    if fault:
        raise SignInError("new", fault)
    hashed = passwords.hashed(new, caller.address)
    with begin_transaction() as connection:
        if not mails.use_link(connection, token_hash=digest_of(token)):
            raise Missing(_OVER)
        accounts.change_password(connection, account_id=found.account_id, password_hash=hashed)
        sessions.remove_other_sessions(connection, account_id=found.account_id, session_id=0)
        attempts.forget_browsers(connection, account_id=found.account_id)
        note(connection, found.account_id, "new password by mail", caller)


def address_of(begin_transaction: BeginTransaction, session: Session) -> str:
    """One's own confirmed address, or nothing."""
    with begin_transaction() as connection:
        found = mails.get_own_address(connection, account_id=session.account_id)
    return found.mail if found else ""
