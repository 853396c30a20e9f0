"""The newest few results, kept by the very objects they were made from."""

from collections import deque
from collections.abc import Callable
from typing import Generic, TypeVar

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
        for kept_same, kept_equal, result in tuple(self._rows):
            if kept_equal == equal and all(a is b for a, b in zip(kept_same, same, strict=True)):
                return result
        found = make()
        self._rows.appendleft((same, equal, found))
        return found
