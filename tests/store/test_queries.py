"""Every query is prepared on the migrated database; what constraints say comes out as our own errors."""

import ast
import dataclasses
import importlib
import json
import os
import re
from pathlib import Path
from typing import Any
from uuid import uuid4

import psycopg
import pytest
from yoyo import get_backend, read_migrations  # type: ignore[import-untyped]

from adze import store
from adze.store.accounts import accounts, sessions
from adze.store.connection import Connection, ensure_database, migrate
from adze.store.errors import Missing, NameTaken, RefusedByStore
from adze.store.loader import Query, load_queries, read_queries
from adze.store.log import readings
from adze.store.plans import farms, plans
from adze.store.plans.plans import RevisionNote
from adze.store.sharing import people

SUBJECTS = sorted(
    f"adze.store.{path.parent.name}.{path.stem}"
    for path in Path(store.__file__).parent.glob("*/*.sql")
    if path.parent.name != "migrations"
)


def calls(subject: str) -> dict[str, type | None]:
    """The queries that a subject's module runs, each with the row it is read into (None: read into nothing)."""
    module = importlib.import_module(subject)
    found: dict[str, type | None] = {}
    for node in ast.walk(ast.parse(Path(module.__file__ or "").read_text())):
        match node:
            case ast.Call(
                func=ast.Name(id="fetch_one" | "fetch_all" | "run"),
                args=[_, ast.Subscript(slice=ast.Constant(value=str(name))), *rest],
            ):
                found[name] = getattr(module, rest[0].id) if rest and isinstance(rest[0], ast.Name) else None
    return found


ROWS: dict[str, type | None] = {name: row for subject in SUBJECTS for name, row in calls(subject).items()}


@pytest.mark.parametrize("subject", SUBJECTS)
def test_every_query_is_run_by_the_module_of_its_subject(subject: str) -> None:
    assert set(load_queries(subject)) == set(calls(subject))


@pytest.mark.parametrize("query", [q for s in SUBJECTS for q in load_queries(s).values()], ids=lambda q: q.name)
def test_query_prepares_and_gives_the_columns_of_its_row(connection: Connection, query: Query) -> None:
    names = list(dict.fromkeys(re.findall(rb"%\((\w+)\)s", query.sql)))
    sql = query.sql
    for number, name in enumerate(names, 1):
        sql = sql.replace(b"%(" + name + b")s", b"$" + str(number).encode())
    link = connection.pgconn
    assert link.prepare(b"", sql).error_message == b""
    described = link.describe_prepared(b"")
    columns = [(described.fname(i) or b"").decode() for i in range(described.nfields)]
    assert len(columns) == len(set(columns))
    row = ROWS[query.name]
    if row is not None:
        assert set(columns) == {f.name for f in dataclasses.fields(row)}


def test_a_query_file_with_doubles_is_refused() -> None:
    with pytest.raises(ValueError, match="is there twice"):
        read_queries("-- name: a\n-- one\nSELECT 1;\n-- name: a\n-- two\nSELECT 2;\n")


def test_migrating_again_does_nothing(database_url: str) -> None:
    assert migrate(database_url) == 0


def make_account(connection: Connection, login: str = "ann") -> int:
    return accounts.add_account(connection, login=login, name="Ann", password_hash="x", is_demo=False).id


DOCUMENT = {"format": "adze-plan", "version": 1, "name": "Line"}


def test_a_login_stands_once(connection: Connection) -> None:
    make_account(connection)
    with pytest.raises(NameTaken, match="is taken"):
        make_account(connection)


def test_names_have_their_limits(connection: Connection) -> None:
    account = make_account(connection)
    with pytest.raises(RefusedByStore, match="1 to 80"):
        farms.add_farm(connection, account_id=account, name="")


def test_a_farm_name_stands_once_an_account(connection: Connection) -> None:
    ann, ben = make_account(connection), make_account(connection, "ben")
    farms.add_farm(connection, account_id=ann, name="Reach")
    farms.add_farm(connection, account_id=ben, name="Reach")
    with pytest.raises(NameTaken, match="a farm of that name"):
        farms.add_farm(connection, account_id=ann, name="Reach")


def test_nobody_sees_another_accounts_plan(connection: Connection) -> None:
    ann, ben = make_account(connection), make_account(connection, "ben")
    farm = farms.add_farm(connection, account_id=ann, name="Reach")
    plan = plans.add_plan(connection, farm_id=farm.id, name="Line", document=lambda _: DOCUMENT, made_by=ann)
    assert plans.get_plan(connection, plan_id=plan, account_id=ann).current == 1
    assert plans.list_plans(connection, account_id=ben, farm_id=farm.id) == ()
    with pytest.raises(Missing):
        plans.get_plan(connection, plan_id=plan, account_id=ben)
    assert people.get_shared_farm(connection, farm_id=farm.id, account_id=ben) is None


def test_revisions_count_up_and_those_set_aside_are_not_redone(connection: Connection) -> None:
    ann = make_account(connection)
    farm = farms.add_farm(connection, account_id=ann, name="Reach")
    plan = plans.add_plan(connection, farm_id=farm.id, name="Line", document=lambda _: DOCUMENT, made_by=ann)
    aside = plans.add_revision(
        connection, plan_id=plan, parent=1, document=DOCUMENT, note=RevisionNote("lost", ann, set_aside=True)
    )
    assert aside.number == 2
    assert plans.get_plan(connection, plan_id=plan, account_id=ann).child is None
    made = plans.add_revision(connection, plan_id=plan, parent=1, document=DOCUMENT, note=RevisionNote("next", ann))
    assert made.content == aside.content
    assert plans.change_current(connection, plan_id=plan, number=made.number, name="Renamed") == 2
    stored = plans.get_plan(connection, plan_id=plan, account_id=ann)
    assert (stored.name, stored.current, stored.parent, stored.edition) == ("Renamed", 3, 1, 2)
    assert [r.number for r in plans.list_revisions(connection, plan_id=plan)] == [3, 2, 1]
    with pytest.raises(Missing):
        plans.get_revision(connection, plan_id=plan, number=9)


@pytest.mark.parametrize(
    ("changes", "says"), [({"kv": 99}, "between 0 and 20"), ({"amps": -1}, "Amps"), ({"season": "hot"}, "Season")]
)
def test_readings_have_their_limits(connection: Connection, changes: dict[str, Any], says: str) -> None:
    ann = make_account(connection)
    farm = farms.add_farm(connection, account_id=ann, name="Reach")
    plan = plans.add_plan(connection, farm_id=farm.id, name="Line", document=lambda _: DOCUMENT, made_by=ann)
    reading = readings.NewReading(
        run="a",
        at_m=3.0,
        strand=1,
        kv=5.0,
        amps=None,
        outward=None,
        season="dry",
        note="",
        forecast_low_kv=None,
        forecast_kv=None,
        forecast_high_kv=None,
    )
    with pytest.raises(RefusedByStore, match=says):
        readings.add_reading(connection, dataclasses.replace(reading, **changes), plan_id=plan, read_by=ann)


def test_a_document_that_is_no_plan_is_refused(connection: Connection) -> None:
    ann = make_account(connection)
    farm = farms.add_farm(connection, account_id=ann, name="Reach")
    with pytest.raises(psycopg.errors.CheckViolation, match="revision_is_plan"):
        plans.add_plan(connection, farm_id=farm.id, name="Line", document=lambda _: {"name": "x"}, made_by=ann)


def test_data_of_the_first_versions_comes_through_every_migration() -> None:
    """A database as migrations 1 to 4 left it, with an account, a plan and a reading, brought to the present."""
    server, name = os.environ["ADZE_TEST_DATABASE_URL"], f"adze_old_{uuid4().hex[:8]}"
    url = ensure_database(server, name)
    try:
        backend = get_backend(url.replace("postgresql://", "postgresql+psycopg://", 1))
        every = read_migrations(str(Path(store.__file__).parent / "migrations"))
        backend.apply_migrations(backend.to_apply(every.filter(lambda m: m.id < "0005")))
        backend.connection.close()
        with psycopg.connect(url) as old:
            old.execute("INSERT INTO account (login, name, password_hash) VALUES ('ann', 'Ann', 'x')")
            old.execute("INSERT INTO session VALUES ('\\x00', 1, 'word', now() + interval '1 day')")
            old.execute("INSERT INTO farm (account_id, name) VALUES (1, 'Reach')")
            old.execute("INSERT INTO plan (farm_id, name) VALUES (1, 'Line')")
            old.execute(
                "INSERT INTO revision (plan_id, number, document, summary, made_by) VALUES (1, 1, %s, 'Begun', 1)",
                (json.dumps(DOCUMENT),),
            )
            old.execute(
                "INSERT INTO reading (plan_id, run, at_m, strand, kv, season, read_by)"
                " VALUES (1, 'r', 5, 1, 4.5, 'dry', 1)"
            )
        assert migrate(url) == len(every) - 4
        with psycopg.connect(url) as now:
            assert plans.get_plan(now, plan_id=1, account_id=1).document == DOCUMENT
            (reading,) = readings.list_readings(now, plan_id=1)
            assert reading.kv == 4.5
            found = sessions.get_session(now, token_hash=b"\x00", idle_days=7)
            assert found is not None
            accounts.remove_account(now, account_id=1)
    finally:
        with psycopg.connect(server, autocommit=True) as connection:
            connection.execute(f"DROP DATABASE {name} WITH (FORCE)")
