"""Passkeys (WebAuthn): signing in by a device that knows its owner, beside the password."""

import json
import secrets
from dataclasses import dataclass
from typing import Any

from webauthn import (
    generate_authentication_options,
    generate_registration_options,
    options_to_json,
    verify_authentication_response,
    verify_registration_response,
)
from webauthn.helpers import base64url_to_bytes
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from adze.services.accounts.accounts import Caller, Key, SignInError, admit_owner, confirm_owner, note
from adze.store.accounts import passkeys
from adze.store.accounts.passkeys import NewPasskey
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction

_MOST = 20  # of one account
_OVER = "That took too long or was answered already. Try again."
_NOT_OURS = "That passkey is not known here. Sign in with your password."


@dataclass(frozen=True)
class RelyingParty:
    """Where a passkey holds: the host's name and the origin that the browser tells."""

    host: str
    origin: str


@dataclass(frozen=True)
class Answer:
    """What a browser answers: the challenge's key and the credential as its scripts give it."""

    challenge: str
    credential: dict[str, Any]


def _ask(begin_transaction: BeginTransaction, options: Any, account_id: int | None) -> dict[str, Any]:
    key = secrets.token_urlsafe(24)
    with begin_transaction() as connection:
        passkeys.add_challenge(connection, key=key, challenge=options.challenge, account_id=account_id)
    return {"challenge": key, "options": json.loads(options_to_json(options))}


def _asked(begin_transaction: BeginTransaction, answer: Answer, account_id: int | None) -> bytes:
    with begin_transaction() as connection:
        found = passkeys.take_challenge(connection, key=answer.challenge, account_id=account_id)
    if found is None:
        raise SignInError("passkey", _OVER)
    return found


def begin_to_add(
    begin_transaction: BeginTransaction, session: Session, site: RelyingParty, *, password: str
) -> dict[str, Any]:
    """What the browser makes a passkey by. Raises SignInError, Busy."""
    confirm_owner(begin_transaction, session, password, field="passkey")
    with begin_transaction() as connection:
        known = passkeys.list_passkeys(connection, account_id=session.account_id)
    if len(known) >= _MOST:
        raise SignInError("passkey", f"An account has at most {_MOST} passkeys. Take one off first.")
    options = generate_registration_options(
        rp_id=site.host,
        rp_name="Adze",
        user_name=session.login,
        user_display_name=session.name,
        user_id=str(session.account_id).encode(),
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED, user_verification=UserVerificationRequirement.REQUIRED
        ),
        exclude_credentials=[PublicKeyCredentialDescriptor(id=row.credential_id) for row in known],
    )
    return _ask(begin_transaction, options, session.account_id)


def add(
    begin_transaction: BeginTransaction, session: Session, site: RelyingParty, answer: Answer, caller: Caller
) -> None:
    """Keep the passkey that a browser has made. Raises SignInError."""
    challenge = _asked(begin_transaction, answer, session.account_id)
    try:
        made = verify_registration_response(
            credential=answer.credential,
            expected_challenge=challenge,
            expected_rp_id=site.host,
            expected_origin=site.origin,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError) as error:
        raise SignInError("passkey", "The browser's answer does not fit. Try again.") from error
    new = NewPasskey(
        account_id=session.account_id,
        credential_id=made.credential_id,
        public_key=made.credential_public_key,
        sign_count=made.sign_count,
        device=caller.device,
    )
    with begin_transaction() as connection:
        passkeys.add_passkey(connection, new)
        note(connection, session.account_id, "passkey added", caller)


def begin_to_sign_in(begin_transaction: BeginTransaction, site: RelyingParty) -> dict[str, Any]:
    """What the browser signs in by: any passkey that it has for this site."""
    options = generate_authentication_options(rp_id=site.host, user_verification=UserVerificationRequirement.REQUIRED)
    return _ask(begin_transaction, options, None)


def sign_in(
    begin_transaction: BeginTransaction, site: RelyingParty, answer: Answer, *, days: int, caller: Caller
) -> Key:
    """Let a browser in by its passkey. Raises SignInError."""
    challenge = _asked(begin_transaction, answer, None)
    try:
        credential_id = base64url_to_bytes(str(answer.credential.get("rawId", "")))
    except ValueError:
        credential_id = b""
    with begin_transaction() as connection:
        known = passkeys.get_passkey(connection, credential_id=credential_id)
    if known is None:
        raise SignInError("passkey", _NOT_OURS)
    try:
        proved = verify_authentication_response(
            credential=answer.credential,
            expected_challenge=challenge,
            expected_rp_id=site.host,
            expected_origin=site.origin,
            credential_public_key=known.public_key,
            credential_current_sign_count=known.sign_count,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError) as error:
        raise SignInError("passkey", _NOT_OURS) from error
    with begin_transaction() as connection:
        passkeys.use_passkey(connection, passkey_id=known.id, sign_count=proved.new_sign_count)
        note(connection, known.account_id, "signed in with a passkey", caller)
        return admit_owner(connection, known.account_id, days, caller)


def take_off(begin_transaction: BeginTransaction, session: Session, *, passkey_id: int, caller: Caller) -> None:
    """Take a passkey off."""
    with begin_transaction() as connection:
        passkeys.remove_passkey(connection, passkey_id=passkey_id, account_id=session.account_id)
        note(connection, session.account_id, "passkey taken off", caller)
