"""Tokens that prove who asks: what is given out once, and what is kept of it."""

import hashlib


def digest_of(token: str) -> bytes:
    """What the database keeps of a token; from it the token cannot be found."""
    return hashlib.sha256(token.encode()).digest()
