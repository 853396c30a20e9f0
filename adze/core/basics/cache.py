"""The one cache: the newest results of a question, kept by exactly what the question was given.

A cached function is a decorated function, so that its key is its arguments and cannot list fewer of them
than it reads. The same question asked by two threads at once is computed once. Frozen objects may count by
identity: a plan's rows are shared between copies of the plan, and comparing them by identity costs nothing,
hashing thousands of points would cost more than many answers.
A result made from another cached result takes that result as its argument. Tables read once from files have no
key and use functools.cache.
"""

from collections.abc import Callable, Hashable
from copy import copy
from datetime import date
from functools import update_wrapper
from threading import Lock
from types import NoneType, SimpleNamespace
from typing import Any, Concatenate, Generic, ParamSpec, TypeVar, cast

from adze.core.basics.deadline import look, wait_for

T = TypeVar("T")
D = TypeVar("D")
P = ParamSpec("P")

_named: dict[str, "Cache[Any]"] = {}


class Cache(Generic[T]):
    """The newest `most` results by key, oldest dropped first; safe between threads; `name` is unique."""

    def __init__(self, name: str, most: int) -> None:
        if name in _named:
            raise ValueError(f"a cache named {name!r} exists already; give each its own name")
        _named[name] = self
        self.name = name
        self._most = most
        # The key's objects are held beside the result: an id stays theirs as long as the row stands.
        self._rows: dict[Hashable, tuple[object, T]] = {}
        self._lock = Lock()
        self._making: dict[Hashable, Lock] = {}

    def peek(self, key: Hashable) -> T | None:
        """The kept result, if there is one."""
        row = self._rows.get(key)
        return None if row is None else row[1]

    def get(self, key: Hashable, make: Callable[[], T], held: object = None) -> T:
        """The kept result, else the one that `make` gives; `held` is kept alive with it."""
        while (row := self._rows.get(key)) is None:
            look()
            with self._lock:
                ahead = self._making.get(key)
                mine = Lock() if ahead is None and key not in self._rows else None
                if mine:
                    mine.acquire()
                    self._making[key] = mine
            if not mine:
                if ahead:
                    wait_for(ahead)
                continue
            try:
                made = make()
                self.put(key, made, held)
                return made
            finally:
                with self._lock:
                    del self._making[key]
                mine.release()
        return row[1]

    def put(self, key: Hashable, result: T, held: object = None) -> None:
        """Keep a result."""
        with self._lock:
            self._rows[key] = held, result
            while len(self._rows) > self._most:
                del self._rows[next(iter(self._rows))]

    def clear(self) -> None:
        """Drop all results."""
        with self._lock:
            self._rows.clear()


class Cached(Generic[P, T]):
    """A function whose newest results are kept by its arguments: the first few by identity, the others by value."""

    def __init__(self, make: Callable[P, T], name: str, most: int, identity_args: int) -> None:
        self.cache: Cache[T] = Cache(name, most)
        self._rows = self.cache._rows
        self._make, self._identity_args = make, identity_args
        update_wrapper(self, make)

    def _key(self, args: tuple[Any, ...], kwargs: dict[str, Any]) -> Hashable:
        identity_args = self._identity_args
        if identity_args == 1 and len(args) == 1:
            key: Hashable = id(args[0])
        else:
            key = (*map(id, args[:identity_args]), *args[identity_args:]) if identity_args else args
        return (key, *kwargs.items()) if kwargs else key

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> T:
        """The kept result, else a new one."""
        key = self._key(args, kwargs)
        row = self._rows.get(key)
        if row is not None:
            return row[1]
        return self.cache.get(key, lambda: self._make(*args, **kwargs), args)

    def known(self, *args: P.args, **kwargs: P.kwargs) -> T | None:
        """The kept result, if there is one."""
        return self.cache.peek(self._key(args, kwargs))


def cached(name: str, most: int, *, identity_args: int = 0) -> Callable[[Callable[P, T]], Cached[P, T]]:
    """Keep a function's newest results; its first `identity_args` arguments count by identity, the others by value."""
    return lambda make: Cached(make, name, most, identity_args)


def cached_by_fields(
    name: str, most: int, *, identity_args: tuple[str, ...], equal: tuple[str, ...] = ()
) -> Callable[[Callable[Concatenate[D, P], T]], Callable[Concatenate[D, P], T]]:
    """Keep a function's newest results by some fields of its first argument and by its other arguments.

    Fields in `identity_args` count by identity, those in `equal` by value. The function is given a view with these
    fields alone: reading another raises AttributeError, so that no field can be read and left out of the key.
    """

    def decorate(make: Callable[Concatenate[D, P], T]) -> Callable[Concatenate[D, P], T]:
        cache: Cache[T] = Cache(name, most)

        def ask(whole: D, /, *args: P.args, **kwargs: P.kwargs) -> T:
            rows = tuple(getattr(whole, field) for field in identity_args)
            values = tuple(getattr(whole, field) for field in equal)
            key = (*map(id, rows), *values, *args, *kwargs.items())

            def make_of_view() -> T:
                view = SimpleNamespace(**dict(zip((*identity_args, *equal), (*rows, *values), strict=True)))
                return make(cast(D, view), *args, **kwargs)

            return cache.get(key, make_of_view, rows)

        update_wrapper(ask, make)
        return ask

    return decorate


def cached_without(
    name: str, most: int, fields: tuple[str, ...]
) -> Callable[[Callable[Concatenate[D, P], T]], Callable[Concatenate[D, P], T]]:
    """Keep a function's newest results whatever some fields of its first argument, an object's, are.

    Objects among the other fields count by identity, the rest by value. The function is given a copy
    without `fields`: reading one of them raises AttributeError.
    """

    def decorate(make: Callable[Concatenate[D, P], T]) -> Callable[Concatenate[D, P], T]:
        cache: Cache[T] = Cache(name, most)

        def ask(whole: D, /, *args: P.args, **kwargs: P.kwargs) -> T:
            rest = [value for field, value in vars(whole).items() if field not in fields]
            marks = (_mark(value) for value in rest)
            key = (*marks, *args, *kwargs.items())

            def make_of_copy() -> T:
                part = copy(whole)
                for field in fields:
                    del vars(part)[field]
                return make(part, *args, **kwargs)

            return cache.get(key, make_of_copy, rest)

        update_wrapper(ask, make)
        return ask

    return decorate


_PLAIN = (str, int, float, date, NoneType)


def _mark(value: object) -> Hashable:
    """What a value counts by: a tuple by what it holds, an object by identity, the rest by value."""
    if isinstance(value, tuple):
        return tuple(map(_mark, value))
    return value if isinstance(value, _PLAIN) else id(value)


def forget_everything() -> None:
    """Drop the results of every cache: what a first answer costs, and whether it differs from a kept one."""
    for cache in _named.values():
        cache.clear()
