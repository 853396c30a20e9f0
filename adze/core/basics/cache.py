"""Results kept by the very objects they were made from."""

from collections import deque
from collections.abc import Callable
from typing import Generic, TypeVar

A = TypeVar("A")
T = TypeVar("T")


class Lately(Generic[T]):
    """Results kept by identity of `same` and equality of `equal`.

    A plan's rows are frozen and shared between copies of the plan: comparing them by identity costs
    nothing, hashing thousands of points at every question would cost more than many answers.
    """

    def __init__(self, size: int = 8) -> None:
        self._rows: deque[tuple[tuple[object, ...], tuple[object, ...], T]] = deque(maxlen=size)

    def get(self, same: tuple[object, ...], equal: tuple[object, ...], make: Callable[[], T]) -> T:
        """The kept result, else the one that `make` gives."""
        kept = self.known(same, equal)
        if kept is not None:
            return kept
        found = make()
        self._rows.appendleft((same, equal, found))
        return found

    def known(self, same: tuple[object, ...], equal: tuple[object, ...] = ()) -> T | None:
        """The kept result, if there is one."""
        for kept_same, kept_equal, result in tuple(self._rows):
            if kept_equal == equal and all(a is b for a, b in zip(kept_same, same, strict=True)):
                return result
        return None


class OnceEach(Generic[A, T]):
    """What follows from one frozen object alone, made once for each: an edit leaves most rows as they were."""

    def __init__(self, make: Callable[[A], T], most: int = 8192) -> None:
        self._make, self._most = make, most
        self._rows: dict[int, tuple[A, T]] = {}

    def __call__(self, thing: A) -> T:
        """The kept result of this very object, else a new one."""
        kept = self._rows.get(id(thing))
        if kept is not None and kept[0] is thing:
            return kept[1]
        if len(self._rows) >= self._most:
            self._rows.clear()
        made = self._make(thing)
        self._rows[id(thing)] = thing, made
        return made
