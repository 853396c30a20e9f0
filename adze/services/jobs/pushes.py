"""Alarms told to a browser that asked for it, page open or not: Web Push, encrypted from here to the browser.

RFC 8030 (delivery), RFC 8291 (encryption), RFC 8292 (the key by which the push service knows this Adze). The address
comes from a browser, so it could name anything: only https to a public address is spoken to, redirects are not
followed, and the certificate must be of the host that was named.
"""

import base64
import binascii
import http.client
import ipaddress
import json
import os
import socket
import ssl
from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import urlsplit

import http_ece  # type: ignore[import-untyped]
from cryptography.exceptions import UnsupportedAlgorithm
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric import ec
from py_vapid import Vapid02  # type: ignore[import-untyped]

from adze.core.basics.faults import FieldFault
from adze.services.jobs.queue import Jobs
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction, Connection
from adze.store.messages import pushes
from adze.store.messages.pushes import PushNote, PushTarget

_PATIENCE_S = 20
_KEEP_S = 86_400  # how long a push service keeps it for a browser that is off
_GONE = (404, 410)  # the push service knows the browser no longer
_LATER = (408, 425, 429)
_PUBLIC_BYTES, _SECRET_BYTES = 65, 16
Deliver = Callable[[PushTarget, bytes, str], int]
Reach = Callable[[PushTarget], http.client.HTTPConnection]


class PushError(FieldFault):
    """A browser that cannot be told; the words say why."""


@dataclass(frozen=True)
class PushWords:
    """What is told: a title, a sentence, the page that it opens."""

    title: str
    body: str
    path: str


_FIRST = PushWords("Adze", "This device gets the alarms of your farms.", "/")


def public_key(begin_transaction: BeginTransaction) -> str:
    """The key that a browser asks its push service with, base64url; the private one is made once and kept."""
    with begin_transaction() as connection:
        return _public(Vapid02.from_string(pushes.get_key(connection) or _made(connection)))


def _made(connection: Connection) -> str:
    number = ec.generate_private_key(ec.SECP256R1()).private_numbers().private_value
    return pushes.keep_key(connection, private_key=_text(number.to_bytes(32, "big")))


def _public(key: Vapid02) -> str:
    point = (serialization.Encoding.X962, serialization.PublicFormat.UncompressedPoint)
    return _text(key.public_key.public_bytes(*point))


def _text(raw: bytes) -> str:
    return base64.urlsafe_b64encode(raw).decode().rstrip("=")


def _raw(text: str) -> bytes:
    return base64.urlsafe_b64decode(text + "=" * (-len(text) % 4))


def tell_browser(begin_transaction: BeginTransaction, jobs: Jobs, session: Session, target: PushTarget) -> None:
    """Tell a browser of alarms from now on, and that it is told, at once. Raises PushError."""
    if session.is_demo or session.is_guest:
        # Anybody can be one, and the address is of their own choice.
        raise PushError("", "The demo shows alarms only on the page. Make an account to get them on this device.")
    if not _is_https(target.endpoint):
        raise PushError("", "This browser gave no https address for notices.")
    try:
        ec.EllipticCurvePublicKey.from_encoded_point(ec.SECP256R1(), _raw(target.p256dh))
        good = len(_raw(target.p256dh)) == _PUBLIC_BYTES and len(_raw(target.auth)) == _SECRET_BYTES
    except (ValueError, binascii.Error, UnsupportedAlgorithm):
        good = False
    if not good:
        raise PushError("", "This browser's key cannot be read; reload the page and try again.")
    with begin_transaction() as connection:
        browser_id = pushes.add_browser(connection, target, account_id=session.account_id)
        note_id = pushes.add_note(connection, browser_id=browser_id, **vars(_FIRST))
    jobs.push(note_id)


def _is_https(address: str) -> bool:
    try:
        to = urlsplit(address)
        return to.scheme == "https" and bool(to.hostname) and not to.username and (to.port or 443) > 0
    except ValueError:  # of a port or a host that is none
        return False


def tell_no_longer(begin_transaction: BeginTransaction, session: Session, endpoint: str) -> None:
    """Tell a browser no longer."""
    with begin_transaction() as connection:
        pushes.remove_browser(connection, account_id=session.account_id, endpoint=endpoint)


def push_to_plan(connection: Connection, jobs: Jobs, plan_id: int, words: PushWords) -> list[Callable[[], None]]:
    """Keep what is to be told to the browsers of those who log, in one transaction; call what is returned after it."""
    notes = [
        pushes.add_note(connection, browser_id=browser_id, **vars(words))
        for browser_id in pushes.list_browsers(connection, plan_id=plan_id)
    ]
    return [lambda note_id=note_id: jobs.push(note_id) for note_id in notes]  # type: ignore[misc]


# Of IPv6, what carries an address of IPv4 within: a gateway would lead it home again (RFC 4291, 6052, 8215, 3056).
_CARRIES_IPV4 = tuple(ipaddress.IPv6Network(net) for net in ("::/96", "64:ff9b::/96", "64:ff9b:1::/48", "2002::/16"))


def _is_public(address: str) -> bool:
    found = ipaddress.ip_address(address)
    carries = isinstance(found, ipaddress.IPv6Address) and any(found in net for net in _CARRIES_IPV4)
    return found.is_global and not carries


def reach_public(target: PushTarget) -> http.client.HTTPConnection:
    """A connection to the public address of a push service, by TLS with its certificate checked. Raises OSError."""
    to = urlsplit(target.endpoint)
    host, port = to.hostname or "", to.port or 443
    found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    address = next((str(row[4][0]) for row in found if _is_public(str(row[4][0]))), "")
    if to.scheme != "https" or not address:
        raise ConnectionRefusedError(f"{host} has no public address")
    connection = http.client.HTTPSConnection(host, port, timeout=_PATIENCE_S)
    # The very address that was checked is spoken to, so that a name cannot turn into another one meanwhile.
    plain = socket.create_connection((address, port), timeout=_PATIENCE_S)
    connection.sock = ssl.create_default_context().wrap_socket(plain, server_hostname=host)
    return connection


def deliverer(mail_from: str, reach: Reach = reach_public) -> Deliver:
    """What hands an encrypted message to a push service and gives the status of its answer. Raises OSError."""

    def deliver_to(target: PushTarget, words: bytes, private_key: str) -> int:
        body = http_ece.encrypt(
            words,
            private_key=ec.generate_private_key(ec.SECP256R1()),
            dh=_raw(target.p256dh),
            auth_secret=_raw(target.auth),
            salt=os.urandom(16),
        )
        to = urlsplit(target.endpoint)
        claims = {"aud": f"{to.scheme}://{to.netloc}", "sub": f"mailto:{mail_from}"}
        known_by = Vapid02.from_string(private_key).sign(claims)
        headers = {"TTL": str(_KEEP_S), "Urgency": "high", "Content-Encoding": "aes128gcm", **known_by}
        connection = reach(target)
        try:
            connection.request("POST", to.path + (f"?{to.query}" if to.query else ""), body, headers)
            return connection.getresponse().status
        except http.client.HTTPException as error:
            raise ConnectionError(str(error)) from error
        finally:
            connection.close()

    return deliver_to


def deliver_push(begin_transaction: BeginTransaction, note_id: int, deliver: Deliver) -> None:
    """A worker's part: tell a browser and keep the note no longer. Raises OSError where it is to be tried again."""
    with begin_transaction() as connection:
        note = pushes.get_note(connection, note_id=note_id)
        private_key = pushes.get_key(connection)
    if note is None or private_key is None:
        return
    status = deliver(PushTarget(note.endpoint, note.p256dh, note.auth), _message(note), private_key)
    if status in _LATER or status >= 500:
        raise ConnectionError(f"the push service answered {status}")
    with begin_transaction() as connection:
        if status in _GONE:
            pushes.forget_browser(connection, browser_id=note.browser_id)
        pushes.remove_note(connection, note_id=note_id)


def _message(note: PushNote) -> bytes:
    return json.dumps({"title": note.title, "body": note.body, "path": note.path}).encode()
