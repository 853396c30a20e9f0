"""Shared fixtures: a real PostgreSQL, the application on it, and plans to work with."""

import os
from collections.abc import Iterator
from typing import TYPE_CHECKING
from uuid import uuid4

import hypothesis
import psycopg
import pytest

from adze.core.plan.document import Plan
from adze.demo.farms import HALLOW_REACH
from adze.settings import Settings
from adze.store.connection import Connection, Store, ensure_database, migrate

if TYPE_CHECKING:
    from adze.web.app import Application

# A busy machine is no fault of the code: what must be quick is measured in the processor's time.
hypothesis.settings.register_profile("adze", deadline=None)
hypothesis.settings.load_profile("adze")


@pytest.fixture(scope="session")
def database_url() -> Iterator[str]:
    """A migrated database of its own for this run."""
    server = os.environ.get("ADZE_TEST_DATABASE_URL")
    if not server:
        pytest.fail("ADZE_TEST_DATABASE_URL names no server: run the tests by ./test, which starts one")
    name = f"adze_test_{uuid4().hex[:10]}"
    url = ensure_database(server, name)
    assert migrate(url) > 0
    yield url
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


@pytest.fixture(scope="session")
def store(database_url: str) -> Iterator[Store]:
    opened = Store(database_url, size=3)
    yield opened
    opened.close()


class _RolledBack(Exception):
    pass


@pytest.fixture
def connection(store: Store) -> Iterator[Connection]:
    """A connection whose changes are taken back after the test."""
    try:
        with store.begin_transaction() as opened:
            yield opened
            raise _RolledBack
    except _RolledBack:
        pass


@pytest.fixture(scope="session")
def settings(database_url: str) -> Settings:
    return Settings(database_url=database_url, pool_size=3, worker=False, demos_an_hour=10_000, sign_ups_an_hour=10_000)


@pytest.fixture(scope="session")
def application(settings: Settings) -> Iterator["Application"]:
    """One application for all tests of a process: its routes cost a third of a second to lay out."""
    from fastapi.testclient import TestClient

    from adze.web.app import create_app  # here, so that tests of the core need not wait for it

    app = create_app(settings)
    with TestClient(app):
        yield app


@pytest.fixture
def hallow() -> Plan:
    return HALLOW_REACH.plan


@pytest.fixture
def line_plan() -> Plan:
    """One straight line of 1.6 km with one clean strand on a 1 J unit."""
    return simple_plan()


def simple_plan(**changes: object) -> Plan:
    """A plain plan: 1.6 km of one strand, 1 J, loam, no growth, changed as asked."""
    base: dict[str, object] = {
        "name": "Line",
        "runs": [{"id": "line1", "name": "First line", "points": [[0, 0], [1600, 0]]}],
        "strands": [{"cm": 90, "role": "live"}],
        "energizer": "battery_1",
        "energizer_at": [0, 0],
        "grass": "none",
    }
    return Plan.model_validate(base | changes)
