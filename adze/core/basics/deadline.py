"""How long a computation may take: whoever asks sets a limit, long computations look at it as they go."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from threading import Lock

_until_s: ContextVar[float | None] = ContextVar("until_s", default=None)
_LOOK_EVERY_S = 0.25


class DeadlineExceeded(Exception):
    """A computation that was stopped because it took too long."""

    def __init__(self) -> None:
        super().__init__(
            "This takes too long to compute and was stopped; nothing was changed. Thin long tracks, or split the plan."
        )


@contextmanager
def within(seconds: float) -> Iterator[None]:
    """Stop what is computed inside after so many seconds, where it looks."""
    token = _until_s.set(time.monotonic() + seconds)
    try:
        yield
    finally:
        _until_s.reset(token)


def look() -> None:
    """Go on, unless the time is over. Raises DeadlineExceeded."""
    until_s = _until_s.get()
    if until_s is not None and time.monotonic() > until_s:
        raise DeadlineExceeded


def wait_for(lock: Lock) -> None:
    """Wait until a lock is free, and leave it free. Raises DeadlineExceeded."""
    while not lock.acquire(timeout=_LOOK_EVERY_S):
        look()
    lock.release()
