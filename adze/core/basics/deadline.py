"""How long a computation may take: whoever asks sets a limit, long computations look at it as they go.

The limit is of processor time, so that a busy machine makes nothing fail that a quiet one computes; time by the clock
has a limit of its own, many times as long.
"""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from threading import Lock, get_ident

_LOOK_EVERY_S = 0.25
_CLOCK_TIMES = 8.0  # as long by the clock: beside so many others of the same hunger a computation still ends


@dataclass(frozen=True)
class _Limit:
    """Seconds of a processor, the clock's end, and what each thread had used when it looked first."""

    seconds: float
    until_s: float
    begun_s: dict[int, float] = field(default_factory=dict)

    def look(self) -> None:
        used_s = time.thread_time()
        if used_s - self.begun_s.setdefault(get_ident(), used_s) > self.seconds:
            raise DeadlineExceeded(
                "This takes too long to compute and was stopped; nothing was changed. Thin long tracks, or split the "
                "plan."
            )
        if time.monotonic() > self.until_s:
            raise DeadlineExceeded("The machine is too busy just now; nothing was changed. Try again in a minute.")


_limit: ContextVar[_Limit | None] = ContextVar("limit", default=None)


class DeadlineExceeded(Exception):
    """A computation that was stopped because it took too long, or waited too long for the machine."""


@contextmanager
def within(seconds: float) -> Iterator[None]:
    """Stop what is computed inside after so many seconds of processor, where it looks."""
    token = _limit.set(_Limit(seconds, time.monotonic() + _CLOCK_TIMES * seconds))
    try:
        yield
    finally:
        _limit.reset(token)


def look() -> None:
    """Go on, unless the time is over. Raises DeadlineExceeded."""
    limit = _limit.get()
    if limit is not None:
        limit.look()


def wait_for(lock: Lock) -> None:
    """Wait until a lock is free, and leave it free. Raises DeadlineExceeded."""
    while not lock.acquire(timeout=_LOOK_EVERY_S):
        look()
    lock.release()
