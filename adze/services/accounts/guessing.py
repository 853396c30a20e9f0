"""Guessing at a secret: one limiter for every place that checks one.

A try is counted before the secret is looked at, so that many at once count as well; one that fits forgets the failures
of its lane. A lane is a name from an address; of a browser that has signed in to the account before, that browser
alone, so that no stranger shuts its owner out; of somebody signed in, their account from that session.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from adze.services.limits.concurrency import Busy
from adze.store.accounts import attempts
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction

_FREE_TRIES, LONGEST_WAIT_S = 5, 900
_MOST_OF_NAME, _MOST_FROM_ADDRESS = 40, 100  # failures in an hour


@dataclass(frozen=True)
class GuessingLane:
    """Whose tries are counted together: those of a name from an address."""

    name: str
    address: str


def of_browser(known: str) -> GuessingLane:
    """The lane of a browser that has signed in to the account before, by the hash of its token."""
    return GuessingLane(f"browser {known}", f"browser {known}")


def of_session(session: Session) -> GuessingLane:
    """The lane of somebody who is signed in and shows once more to be the owner."""
    return GuessingLane(f"account {session.account_id}", f"session {session.id}")


def _wait_s(found: attempts.Failures) -> int:
    """How long to wait after what failed, s: it doubles with each try of one lane, and is longest for many."""
    if found.of_name >= _MOST_OF_NAME or found.from_address >= _MOST_FROM_ADDRESS:
        return LONGEST_WAIT_S
    if found.here < _FREE_TRIES:
        return 0
    doubled: int = 2 ** min(found.here - _FREE_TRIES, 20)
    return max(0, math.ceil(min(LONGEST_WAIT_S, doubled) - found.last_s))


def checked(begin_transaction: BeginTransaction, lane: GuessingLane, check: Callable[[], bool]) -> bool:
    """Whether a secret fits, as `check` finds. Raises Busy where too much failed in its lane, and what check raises."""
    with begin_transaction() as connection:
        attempts.take_turn(connection, login=lane.name)
        wait = _wait_s(attempts.count_failures(connection, login=lane.name, address=lane.address))
        if not wait:
            attempts.add_failure(connection, login=lane.name, address=lane.address)
    if wait:
        raise Busy(wait)
    try:
        fits = check()
    except Busy:
        with begin_transaction() as connection:
            attempts.forget_last_failure(connection, login=lane.name, address=lane.address)
        raise
    if fits:
        with begin_transaction() as connection:
            attempts.forget_failures(connection, login=lane.name, address=lane.address)
    return fits
