"""Costly work in turn: so many at once, a few waiting, and the rest asked to come again."""

from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore, Lock


class Busy(Exception):
    """More ask than can be answered now; they may come again in `retry_after_s`."""

    def __init__(self, retry_after_s: int) -> None:
        super().__init__(f"Too many requests at once. Try again in {retry_after_s} s.")
        self.retry_after_s = retry_after_s


class ConcurrencyLimiter:
    """Lets so many in at once and so many wait, and raises Busy for the rest; `inside` counts both.

    Of one who asks at most `most_of_one` are inside, so that nobody takes every place.
    """

    def __init__(self, at_once: int, waiting: int, most_of_one: int | None = None) -> None:
        self._slots, self._lock = BoundedSemaphore(at_once), Lock()
        self._most, self.inside = at_once + waiting, 0
        self._of_one, self._own = most_of_one or self._most, Counter[str]()

    @contextmanager
    def turn(self, whose: str = "") -> Iterator[None]:
        """One's turn. Raises Busy."""
        with self._lock:
            if self.inside >= self._most or self._own[whose] >= self._of_one:
                raise Busy(2)
            self.inside += 1
            self._own[whose] += 1
        try:
            with self._slots:
                yield
        finally:
            with self._lock:
                self.inside -= 1
                self._own[whose] -= 1
                self._own += Counter()  # forgets those who have none left
