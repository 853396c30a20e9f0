"""Begin a plan, change it, step back and forward; two people never overwrite each other unseen."""

from dataclasses import dataclass, replace

from pydantic import ValidationError

from adze.core.basics.cache import Cache
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.revise import Prefer, difference_words, differences, merge
from adze.formats.errors import FormatError
from adze.formats.plan_file import dump_plan, read_plan_document
from adze.store import plans
from adze.store.connection import Connection
from adze.store.plans import Document, PlanRow, StoredPlan, Written

_SUMMARY = 200


@dataclass(frozen=True)
class Clash:
    """A save that came second: what changed meanwhile, what one's own change was, and both together."""

    edition: int
    current: int
    changed_by: str
    theirs_words: tuple[str, ...]
    mine_words: tuple[str, ...]
    clash_words: tuple[str, ...]
    theirs: Document
    both: Document


class Conflict(Exception):
    """A save on an edition that no longer stands."""

    def __init__(self, clash: Clash) -> None:
        super().__init__("the plan changed meanwhile")
        self.clash = clash


class NothingThere(ValueError):
    """Undo or redo with nothing to go to."""


def begin_plan(connection: Connection, *, farm_id: int, name: str, made_by: int, plan: Plan | None = None) -> int:
    """A new plan on a farm, blank unless one is given; its id."""
    document = dump_plan(plan or Plan(name=name, energizer="mains_3"))
    return plans.add_plan(connection, farm_id=farm_id, name=name, document=document, made_by=made_by)


def copy_plan(connection: Connection, *, plan_id: int, account_id: int, made_by: int) -> int:
    """An option of a plan: the same design on the same farm under a name of its own; its id. Raises Missing."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=account_id)
    names = {row.name for row, _ in list_plans(connection, account_id=account_id) if row.farm_id == stored.farm_id}
    stem = stored.name[:60]
    name = next(n for i in range(2, 10_000) if (n := f"{stem}, option {i}") not in names)
    own = replaced(plan, name=name)
    return begin_plan(connection, farm_id=stored.farm_id, name=name, made_by=made_by, plan=own)


def open_plan(connection: Connection, *, plan_id: int, account_id: int) -> tuple[StoredPlan, Plan]:
    """A plan as it stands. Raises Missing."""
    stored = plans.get_plan(connection, plan_id=plan_id, account_id=account_id)
    return stored, _plan_of(stored)


_read: Cache[Plan] = Cache("plans by content", 64)


def _plan_of(stored: Written) -> Plan:
    """The plan of a stored document: one object for one content, so that what is known of it is found again."""
    return _read.get(stored.content, lambda: read_plan_document(stored.document))


def list_plans(connection: Connection, *, account_id: int) -> tuple[tuple[PlanRow, Plan], ...]:
    """All plans of an account as they stand."""
    return tuple((row, _plan_of(row)) for row in plans.list_plans(connection, account_id=account_id))


def _settle(connection: Connection, plan_id: int, account_id: int) -> StoredPlan:
    plans.lock_plan(connection, plan_id=plan_id, account_id=account_id)
    return plans.get_plan(connection, plan_id=plan_id, account_id=account_id)


def save_plan(
    connection: Connection, *, plan_id: int, account_id: int, edition: int, based_on: int, plan: Plan, summary: str
) -> StoredPlan:
    """A change as a new revision. Raises Missing, and Conflict when another change came first."""
    stored = _settle(connection, plan_id, account_id)
    document = dump_plan(plan)
    if stored.edition != edition:
        raise Conflict(_clash(connection, stored, based_on, document, account_id, summary))
    if plan == _plan_of(stored):
        return stored
    said = summary[:_SUMMARY] or "Changed"
    made = plans.add_revision(
        connection, plan_id=plan_id, parent=stored.current, document=document, summary=said, made_by=account_id
    )
    edition_now = plans.change_current(connection, plan_id=plan_id, number=made.number, name=plan.name)
    _read.put(made.content, plan)
    return replace(
        stored,
        name=plan.name,
        edition=edition_now,
        current=made.number,
        written=made.written,
        summary=said,
        parent=stored.current,
        child=None,
    )


def _clash(
    connection: Connection, stored: StoredPlan, based_on: int, mine: Document, account_id: int, summary: str
) -> Clash:
    base = plans.get_revision(connection, plan_id=stored.id, number=based_on)
    theirs = plans.get_revision(connection, plan_id=stored.id, number=stored.current)
    # Kept beside the line of revisions: whatever is chosen next, this version can be had back.
    plans.add_revision(
        connection,
        plan_id=stored.id,
        parent=based_on,
        document=mine,
        summary=f"Set aside: {summary}"[:_SUMMARY],
        made_by=account_id,
        set_aside=True,
    )
    both = merge(base.document, mine, theirs.document, Prefer.MINE)
    try:
        document = dump_plan(read_plan_document(both.document))
    except (FormatError, ValidationError):
        # Each change stood alone but not together: offer one's own whole.
        document = mine
    clashing = set(both.clashes)
    return Clash(
        edition=stored.edition,
        current=stored.current,
        changed_by=theirs.made_by_name,
        theirs_words=tuple(difference_words(d, theirs.document) for d in differences(base.document, theirs.document)),
        mine_words=tuple(difference_words(d, mine) for d in differences(base.document, mine)),
        clash_words=tuple(
            difference_words(d, mine) for d in differences(theirs.document, mine) if _within(d.path, clashing)
        ),
        theirs=theirs.document,
        both=document,
    )


def _within(path: tuple[str, ...], clashes: set[tuple[str, ...]]) -> bool:
    return any(path[: len(clash)] == clash for clash in clashes)


def bring_back(connection: Connection, *, plan_id: int, account_id: int, number: int) -> StoredPlan:
    """Make an older revision, or one set aside, the newest. Raises Missing."""
    stored = _settle(connection, plan_id, account_id)
    revision = plans.get_revision(connection, plan_id=plan_id, number=number)
    summary = f"Brought back: {revision.summary.removeprefix('Brought back: ')}"
    return save_plan(
        connection,
        plan_id=plan_id,
        account_id=account_id,
        edition=stored.edition,
        based_on=stored.current,
        plan=read_plan_document(revision.document),
        summary=summary,
    )


def step(connection: Connection, *, plan_id: int, account_id: int, edition: int, back: bool) -> StoredPlan:
    """Undo or redo. Raises Missing, NothingThere, and Conflict when the plan changed meanwhile."""
    stored = _settle(connection, plan_id, account_id)
    if stored.edition != edition:
        raise Conflict(_clash(connection, stored, stored.current, stored.document, account_id, "Undo"))
    number = stored.parent if back else stored.child
    if number is None:
        raise NothingThere("There is nothing to undo." if back else "There is nothing to redo.")
    revision = plans.get_revision(connection, plan_id=plan_id, number=number)
    plans.change_current(connection, plan_id=plan_id, number=number, name=revision.document["name"])
    return plans.get_plan(connection, plan_id=plan_id, account_id=account_id)
