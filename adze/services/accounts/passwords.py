"""Passwords: what one may be, and hashing that never takes the machine from everybody else.

A hash costs some 64 MB and a tenth of a second by design. Two are made at a time; a few more wait, of one account or
address at most four, and beyond those whoever comes is asked to come again, before anything is computed. Rules: NIST SP
800-63B (2017), 5.1.1.2: eight characters or more, none of the ones that are guessed first, no rules of composition.
"""

import secrets

from pwdlib import PasswordHash
from zxcvbn import zxcvbn  # type: ignore[import-untyped]

from adze.services.limits.concurrency import ConcurrencyLimiter

SHORTEST, LONGEST = 8, 200
_AT_ONCE, _WAITING, _OF_ONE = 2, 8, 4
_GUESSED_FIRST = 1  # zxcvbn's score: found within a million guesses
_HASH = PasswordHash.recommended()
# Checked against when a login is unknown, so that the answer takes as long.
_NOBODY = _HASH.hash(secrets.token_hex(8))


_TURNS = ConcurrencyLimiter(_AT_ONCE, _WAITING, most_of_one=_OF_ONE)


def hashed(password: str, whose: str) -> str:
    """A password as it is kept. Raises Busy; `whose` asks, and may take few of the places."""
    with _TURNS.turn(whose):
        return _HASH.hash(password)


def fits(password: str, kept: str | None, whose: str) -> bool:
    """Whether a password is the one kept; as long for an account that is none. Raises Busy, as `hashed`."""
    if len(password) > LONGEST:
        return False
    with _TURNS.turn(whose):
        return _HASH.verify(password, kept or _NOBODY) and kept is not None


def fault_of(password: str, own_words: tuple[str, ...]) -> str:
    """Why a password may not be taken; empty where it may. `own_words` are those that belong to its owner."""
    if len(password) < SHORTEST:
        return f"A password has at least {SHORTEST} characters."
    if len(password) > LONGEST:
        return f"A password has at most {LONGEST} characters."
    plain = password.casefold()
    # One's own name with up to three characters more is one's own name.
    if any(len(word) > 2 and word.casefold() in plain and len(word) > len(plain) - 4 for word in own_words):
        return "That is your own name. Use a few unrelated words."
    if zxcvbn(password[:72], user_inputs=list(own_words))["score"] <= _GUESSED_FIRST:
        return "That password is easy to guess. Use a few unrelated words."
    return ""
