"""The newest results by key, shared between threads."""

from collections import OrderedDict
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K")
V = TypeVar("V")


class Kept(Generic[K, V]):
    """The newest `size` results by key; safe between threads."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._rows: OrderedDict[K, V] = OrderedDict()
        self._lock = Lock()

    def get(self, key: K) -> V | None:
        """A kept result, freshened."""
        with self._lock:
            if key in self._rows:
                self._rows.move_to_end(key)
            return self._rows.get(key)

    def put(self, key: K, value: V) -> None:
        """Keep a result; the oldest goes."""
        with self._lock:
            self._rows[key] = value
            while len(self._rows) > self._size:
                self._rows.popitem(last=False)
