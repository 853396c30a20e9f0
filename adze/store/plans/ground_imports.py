"""What files brought, between their preview and their taking."""

from dataclasses import dataclass
from typing import Any

from psycopg.types.json import Jsonb

from adze.store.connection import Connection, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class GroundImport:
    """A file on its way into a plan."""

    id: int
    name: str
    brought: dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class _Id:
    id: int


def add_import(connection: Connection, *, plan_id: int, name: str, brought: dict[str, Any], made_by: int) -> int:
    """Keep what a file brought in place of the plan's earlier files; its id."""
    run(connection, _QUERIES["forget_imports"], plan_id=plan_id)
    made = fetch_one(
        connection, _QUERIES["add_import"], _Id, plan_id=plan_id, name=name, brought=Jsonb(brought), made_by=made_by
    )
    if made is None:
        raise Missing("The file was not kept.")
    return made.id


def get_import(connection: Connection, *, plan_id: int, import_id: int) -> GroundImport:
    """What a file brought. Raises Missing."""
    found = fetch_one(connection, _QUERIES["get_import"], GroundImport, plan_id=plan_id, import_id=import_id)
    if found is None:
        raise Missing("That file is no longer here; choose it again.")
    return found


def forget_imports(connection: Connection, *, plan_id: int) -> None:
    """Drop what a plan's files brought."""
    run(connection, _QUERIES["forget_imports"], plan_id=plan_id)
