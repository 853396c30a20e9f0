"""Plans as revisions of one document."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from hashlib import sha256
from typing import Any

from psycopg.types.json import Jsonb

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)
Document = dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class Written:
    """A document as it is written: `content` is what it is known by, the same for the same content."""

    written: str

    @cached_property
    def content(self) -> str:
        """A hash of what is written."""
        return sha256(self.written.encode()).hexdigest()

    @cached_property
    def document(self) -> Document:
        """What is written, read when it is wanted: a plan that is known already needs no reading."""
        found: Document = json.loads(self.written)
        return found


@dataclass(frozen=True, kw_only=True)
class PlanRow(Written):
    """A plan of a farm."""

    id: int
    name: str


@dataclass(frozen=True, kw_only=True)
class StoredPlan(Written):
    """A plan as it stands: `edition` guards saves; `parent` and `child` are what undo and redo bring."""

    id: int
    farm_id: int
    farm_name: str
    currency: str
    time_zone: str
    role: int
    name: str
    edition: int
    current: int
    summary: str
    parent: int | None
    child: int | None


@dataclass(frozen=True, kw_only=True)
class RevisionRow:
    """A revision in the history."""

    number: int
    parent: int | None
    summary: str
    set_aside: bool
    made_by_name: str
    made_at: datetime


@dataclass(frozen=True, kw_only=True)
class Revision(RevisionRow):
    """A revision with its document."""

    document: Document


@dataclass(frozen=True, kw_only=True)
class _Id:
    id: int


@dataclass(frozen=True, kw_only=True)
class Made(Written):
    """A revision just made, and its number."""

    number: int


@dataclass(frozen=True)
class RevisionNote:
    """What is noted of a revision: what was done, by whom, whether it lost a clash, the token it was sent with."""

    summary: str
    made_by: int
    set_aside: bool = False
    idempotency_key: str = ""


@dataclass(frozen=True, kw_only=True)
class SentBefore:
    """A revision that was sent before: its number, and whether it was set aside."""

    number: int
    set_aside: bool


@dataclass(frozen=True, kw_only=True)
class _Edition:
    edition: int


def add_plan(
    connection: Connection, *, farm_id: int, name: str, document: Callable[[int], Document], made_by: int
) -> int:
    """A new plan with its first revision, whose document is made for the plan's id; that id."""
    made = fetch_one(connection, _QUERIES["add_plan"], _Id, farm_id=farm_id, name=name)
    if made is None:
        raise Missing("The plan was not made.")
    add_revision(
        connection, plan_id=made.id, parent=None, document=document(made.id), note=RevisionNote("Begun", made_by)
    )
    return made.id


def list_plans(connection: Connection, *, account_id: int, farm_id: int) -> tuple[PlanRow, ...]:
    """The plans of a farm of an account."""
    return fetch_all(connection, _QUERIES["list_plans"], PlanRow, account_id=account_id, farm_id=farm_id)


def get_plan(connection: Connection, *, plan_id: int, account_id: int) -> StoredPlan:
    """A plan of a farm that an account is on. Raises Missing."""
    found = fetch_one(connection, _QUERIES["get_plan"], StoredPlan, plan_id=plan_id, account_id=account_id)
    if found is None:
        raise Missing("That plan is not among yours.")
    return found


def lock_plan(connection: Connection, *, plan_id: int, account_id: int) -> None:
    """Hold a plan until the transaction ends, so that two saves come one after the other. Raises Missing."""
    if fetch_one(connection, _QUERIES["lock_plan"], _Id, plan_id=plan_id, account_id=account_id) is None:
        raise Missing("That plan is not among yours.")


def add_revision(
    connection: Connection,
    *,
    plan_id: int,
    parent: int | None,
    document: Document,
    note: RevisionNote,
) -> Made:
    """A revision after its parent."""
    made = fetch_one(
        connection,
        _QUERIES["add_revision"],
        Made,
        plan_id=plan_id,
        parent=parent,
        document=Jsonb(document),
        **vars(note),
    )
    if made is None:
        raise Missing("The revision was not made.")
    return made


def get_sent_before(connection: Connection, *, plan_id: int, idempotency_key: str) -> SentBefore | None:
    """The revision that a token was sent with before."""
    return fetch_one(
        connection, _QUERIES["get_sent_before"], SentBefore, plan_id=plan_id, idempotency_key=idempotency_key
    )


def change_current(connection: Connection, *, plan_id: int, number: int, name: str | None) -> int:
    """Make a revision the one that stands; the new edition."""
    changed = fetch_one(connection, _QUERIES["change_current"], _Edition, plan_id=plan_id, number=number, name=name)
    if changed is None:
        raise Missing("That plan is gone.")
    return changed.edition


def get_revision(connection: Connection, *, plan_id: int, number: int) -> Revision:
    """One revision. Raises Missing."""
    found = fetch_one(connection, _QUERIES["get_revision"], Revision, plan_id=plan_id, number=number)
    if found is None:
        raise Missing("That revision is not there.")
    return found


def list_revisions(connection: Connection, *, plan_id: int, most: int = 50) -> tuple[RevisionRow, ...]:
    """The newest revisions of a plan."""
    return fetch_all(connection, _QUERIES["list_revisions"], RevisionRow, plan_id=plan_id, most=most)


@dataclass(frozen=True, kw_only=True)
class HistoryRow:
    """Something that was done on a plan: change, undo, redo, reading, test or stray; `number` is a revision's."""

    kind: str
    number: int
    what: str
    set_aside: bool
    made_by_name: str
    made_at: datetime


def list_history(connection: Connection, *, plan_id: int, most: int, skip: int) -> tuple[HistoryRow, ...]:
    """Everything that was done on a plan, newest first."""
    return fetch_all(connection, _QUERIES["list_history"], HistoryRow, plan_id=plan_id, most=most, skip=skip)


def was_stepped(connection: Connection, *, plan_id: int, idempotency_key: str) -> bool:
    """Whether an undo or redo with a token was done before."""
    return (
        bool(idempotency_key)
        and fetch_one(connection, _QUERIES["was_stepped"], SentBefore, plan_id=plan_id, idempotency_key=idempotency_key)
        is not None
    )


def add_step(
    connection: Connection, *, plan_id: int, number: int, back: bool, idempotency_key: str, made_by: int
) -> None:
    """Keep that somebody went back or forward to a revision."""
    run(
        connection,
        _QUERIES["add_step"],
        plan_id=plan_id,
        number=number,
        back=back,
        idempotency_key=idempotency_key,
        made_by=made_by,
    )
