"""The pool, the connection type that rooms above use, and migrations."""

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from importlib import resources
from typing import Any, TypeVar
from urllib.parse import urlsplit, urlunsplit

import psycopg
from procrastinate.schema import SchemaManager
from psycopg import sql
from psycopg.rows import class_row
from psycopg_pool import ConnectionPool
from yoyo import get_backend, read_migrations  # type: ignore[import-untyped]

from adze.store.errors import own_errors
from adze.store.loader import Query

Connection = psycopg.Connection[Any]
BeginTransaction = Callable[[], AbstractContextManager[Connection]]
Row = TypeVar("Row")
_PATIENCE_S = 5  # for a connection: whoever asks is told that there is none, and comes again


class Store:
    """A pool of connections; each `transaction` commits at its end or not at all."""

    def __init__(self, url: str, size: int = 8) -> None:
        """Open the pool; the database must answer."""
        check = ConnectionPool.check_connection  # one that the server has closed meanwhile is not given out
        self._pool = ConnectionPool(url, min_size=1, max_size=size, open=True, timeout=_PATIENCE_S, check=check)
        self._pool.wait(timeout=15)

    @contextmanager
    def begin_transaction(self) -> Iterator[Connection]:
        """A connection inside one transaction."""
        with own_errors(), self._pool.connection() as connection:
            yield connection

    def close(self) -> None:
        """Give all connections back."""
        self._pool.close()


def fetch_all(connection: Connection, query: Query, row: type[Row], /, **values: object) -> tuple[Row, ...]:
    """All rows of a query as `row`."""
    with connection.cursor(row_factory=class_row(row)) as cursor, own_errors():
        return tuple(cursor.execute(query.sql, values).fetchall())


def fetch_one(connection: Connection, query: Query, row: type[Row], /, **values: object) -> Row | None:
    """The first row of a query as `row`, or None."""
    with connection.cursor(row_factory=class_row(row)) as cursor, own_errors():
        return cursor.execute(query.sql, values).fetchone()


def run(connection: Connection, query: Query, /, **values: object) -> int:
    """Run a query for its effect; how many rows it touched."""
    with connection.cursor() as cursor, own_errors():
        return cursor.execute(query.sql, values).rowcount


def ensure_database(url: str, name: str) -> str:
    """Make the database `name` on the server of `url` unless it is there; its own URL."""
    with psycopg.connect(url, autocommit=True) as connection:
        there = connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", (name,)).fetchone()
        if not there:
            connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
    return urlunsplit(urlsplit(url)._replace(path=f"/{name}"))


def migrate(url: str) -> int:
    """Apply the migrations that are missing; how many were."""
    backend = get_backend(url.replace("postgresql://", "postgresql+psycopg://", 1))
    try:
        with resources.as_file(resources.files("adze.store").joinpath("migrations")) as folder, backend.lock():
            missing = backend.to_apply(read_migrations(str(folder)))
            backend.apply_migrations(missing)
            _make_queue(url)
            return len(missing)
    finally:
        backend.connection.close()


def known_migrations() -> set[str]:
    """The migrations of this program."""
    with resources.as_file(resources.files("adze.store").joinpath("migrations")) as folder:
        return {migration.id for migration in read_migrations(str(folder))}


def _make_queue(url: str) -> None:
    """The tables of the queue of jobs, once."""
    with psycopg.connect(url) as connection:
        if connection.execute("SELECT to_regclass('procrastinate_jobs') IS NULL").fetchone() == (True,):
            connection.execute(SchemaManager.get_schema())
