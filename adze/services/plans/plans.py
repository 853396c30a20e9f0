"""Open a plan, change it, step back and forward; two people never overwrite each other unseen.

Every function opens its own short transactions: nothing is computed, read or written down while a connection
or a lock is held, and what was saved stays saved whatever is computed of it afterwards.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from pydantic import ValidationError

from adze.core.basics.cache import Cache
from adze.core.ground.edit import Refused
from adze.core.ground.survey import MOST_CROSSINGS, is_tangle
from adze.core.plan.changes import alike, replaced
from adze.core.plan.document import Plan
from adze.core.plan.prices import OwnPrice
from adze.core.plan.revise import Prefer, difference_words, differences, merge
from adze.core.plan.tester import Tester
from adze.formats.errors import FormatError
from adze.formats.plan.plan_file import dump_plan, read_plan_document
from adze.formats.plan.plan_pictures import pictures_of, with_pictures
from adze.services.limits.quotas import CHECK_EVERY, check_room, check_room_for_plan
from adze.services.operations.base import Operation
from adze.services.sharing.people import PlanRole, require
from adze.store.connection import BeginTransaction, Connection
from adze.store.errors import Missing
from adze.store.pictures.pictures import copy_pictures
from adze.store.plans import plans
from adze.store.plans.farms import get_prices, get_tester, keep_prices, keep_tester
from adze.store.plans.plans import Document, Made, PlanRow, Revision, RevisionNote, RevisionRow, StoredPlan, Written

_SUMMARY = 200
HISTORY_A_PAGE = 100


@dataclass(frozen=True)
class OpenPlan:
    """A plan that an account has opened: as stored, and as the document."""

    account_id: int
    stored: StoredPlan
    plan: Plan

    @property
    def id(self) -> int:
        """The plan's id."""
        return self.stored.id


@dataclass(frozen=True)
class Base:
    """What a change began from: the edition that was on screen and its revision; and the change's own key."""

    edition: int
    revision: int
    idempotency_key: str = ""


@dataclass(frozen=True)
class Clash:
    """A save that came second: what changed meanwhile, what one's own change was, and where both touched the same.

    `mine` is the revision that keeps one's own version, set aside; None where there was nothing to keep.
    """

    edition: int
    current: int
    changed_by: str
    theirs_words: tuple[str, ...]
    mine_words: tuple[str, ...] = ()
    clash_words: tuple[str, ...] = ()
    mine: int | None = None


class Conflict(Exception):
    """A save on an edition that no longer stands."""

    def __init__(self, clash: Clash) -> None:
        super().__init__("the plan changed meanwhile")
        self.clash = clash


class UnstorablePlan(Refused):
    """A plan that holds together but that nobody could work on."""


class NothingThere(ValueError):
    """Undo or redo with nothing to go to."""


def storable(plan: Plan) -> Document:
    """A plan as it is written; every way in passes here. Raises UnstorablePlan."""
    if is_tangle(plan):
        raise UnstorablePlan(
            f"The lines cross more than {MOST_CROSSINGS:,} times, too often to say which are joins. Thin the track, "
            "or take the line that is a scribble off."
        )
    return dump_plan(plan)


def begin_plan(
    connection: Connection,
    *,
    farm_id: int,
    name: str,
    made_by: int,
    plan: Plan | None = None,
    pictures: Callable[[int], dict[int, int]] | None = None,
) -> int:
    """A new plan on a farm, blank unless one is given; its id. Raises OverQuota, Missing, UnstorablePlan.

    `pictures` keeps the given plan's pictures for the new plan's id, and tells their new ids by the old ones.
    """
    if plan is None:
        # A farm has one tester and pays one shop: the next plan is read and priced with them too.
        tester = Tester.model_validate(get_tester(connection, farm_id=farm_id) or {})
        own = tuple(OwnPrice.model_validate(row) for row in get_prices(connection, farm_id=farm_id))
        plan = Plan(name=name, energizer="mains_3", tester=tester, own_prices=own)
    document = storable(plan)
    check_room_for_plan(connection, farm_id=farm_id)

    def ready(plan_id: int) -> Document:
        return with_pictures(document, pictures(plan_id) if pictures else {})

    return plans.add_plan(connection, farm_id=farm_id, name=name, document=ready, made_by=made_by)


class BrokenPlan(Exception):
    """A plan whose document cannot be read: what is stored, its versions, and why."""

    def __init__(self, stored: StoredPlan, revisions: tuple[RevisionRow, ...], why: str) -> None:
        super().__init__(why)
        self.stored, self.revisions = stored, revisions


def open_plan(
    begin_transaction: BeginTransaction, *, plan_id: int, account_id: int, role: PlanRole = PlanRole.READER
) -> OpenPlan:
    """A plan as it stands, for an account that has the role on it. Raises Missing, NotAllowed, BrokenPlan."""
    with begin_transaction() as connection:
        stored = plans.get_plan(connection, plan_id=plan_id, account_id=account_id)
    require(stored.role, role)
    try:
        return OpenPlan(account_id, stored, read_written(stored))
    except FormatError as error:
        with begin_transaction() as connection:
            raise BrokenPlan(stored, plans.list_revisions(connection, plan_id=plan_id), str(error)) from error


def restore(begin_transaction: BeginTransaction, *, plan_id: int, account_id: int, number: int) -> None:
    """Make an older version of a plan that cannot be opened the one that stands. Raises Missing, FormatError."""
    with begin_transaction() as connection:
        stored = plans.get_plan(connection, plan_id=plan_id, account_id=account_id)
        require(stored.role, PlanRole.EDITOR)
        document = plans.get_revision(connection, plan_id=plan_id, number=number).document
    plan = read_plan_document(document)
    with begin_transaction() as connection:
        plans.lock_plan(connection, plan_id=plan_id, account_id=account_id)
        plans.change_current(connection, plan_id=plan_id, number=number, name=plan.name)


_read: Cache[Plan] = Cache("plans by content", 64)


def read_written(stored: Written) -> Plan:
    """The plan of a stored document: one object for one content, so that what is known of it is found again."""
    return _read.get(stored.content, lambda: read_plan_document(stored.document))


def list_plans(begin_transaction: BeginTransaction, opened: OpenPlan) -> tuple[tuple[PlanRow, Plan], ...]:
    """The plans of the same farm as they stand; those that cannot be opened are left out."""
    with begin_transaction() as connection:
        rows = plans.list_plans(connection, account_id=opened.account_id, farm_id=opened.stored.farm_id)
    found = []
    for row in rows:
        try:
            found.append((row, read_written(row)))
        except FormatError:
            continue
    return tuple(found)


def copy_plan(begin_transaction: BeginTransaction, opened: OpenPlan) -> int:
    """An option of a plan: the same design on the same farm under a name of its own; its id."""
    stored = opened.stored
    with begin_transaction() as connection:
        rows = plans.list_plans(connection, account_id=opened.account_id, farm_id=stored.farm_id)
    names = {row.name for row in rows}
    name = next(n for i in range(2, 10_000) if (n := f"{stored.name[:60]}, option {i}") not in names)
    own = replaced(opened.plan, name=name)
    shown = pictures_of(dump_plan(own))
    with begin_transaction() as connection:

        def copied(plan_id: int) -> dict[int, int]:
            return copy_pictures(connection, of=opened.id, to=plan_id, wanted=shown)

        who = opened.account_id
        return begin_plan(connection, farm_id=stored.farm_id, name=name, made_by=who, plan=own, pictures=copied)


def _locked(connection: Connection, opened: OpenPlan) -> StoredPlan:
    plans.lock_plan(connection, plan_id=opened.id, account_id=opened.account_id)
    return plans.get_plan(connection, plan_id=opened.id, account_id=opened.account_id)


def save_plan(
    begin_transaction: BeginTransaction, opened: OpenPlan, *, base: Base, plan: Plan, summary: str
) -> OpenPlan:
    """A change as a new revision. Raises Missing, UnstorablePlan, and Conflict when another change came first."""
    if opened.stored.edition == base.edition and plan == opened.plan:
        return opened
    document, said = storable(plan), summary[:_SUMMARY] or "Changed"
    with begin_transaction() as connection:
        stored = _locked(connection, opened)
        late = stored.edition != base.edition
        before = (
            plans.get_sent_before(connection, plan_id=opened.id, idempotency_key=base.idempotency_key)
            if base.idempotency_key
            else None
        )
        if before is None:
            if stored.edition % CHECK_EVERY == 0:
                check_room(connection, plan_id=opened.id)
            made = _add(
                connection, stored, base, document, RevisionNote(said, opened.account_id, late, base.idempotency_key)
            )
            edition = stored.edition
            if not late and plan.tester != opened.plan.tester:
                keep_tester(connection, farm_id=stored.farm_id, tester=plan.tester.model_dump(mode="json"))
            if not late and plan.own_prices != opened.plan.own_prices:
                rows = [row.model_dump(mode="json") for row in plan.own_prices]
                keep_prices(connection, farm_id=stored.farm_id, own_prices=rows)
            if not late:
                edition = plans.change_current(connection, plan_id=opened.id, number=made.number, name=plan.name)
    if before and not before.set_aside:
        # Sent again, because its answer was lost: it is kept already.
        return OpenPlan(opened.account_id, stored, read_written(stored))
    if before or late:
        raise Conflict(_clash(begin_transaction, stored, base, document, before.number if before else made.number))
    kept = alike(plan, opened.plan)
    _read.put(made.content, kept)
    saved = replace(
        stored,
        name=plan.name,
        edition=edition,
        current=made.number,
        written=made.written,
        summary=said,
        parent=stored.current,
        child=None,
    )
    return OpenPlan(opened.account_id, saved, kept)


def _add(connection: Connection, stored: StoredPlan, base: Base, document: Document, note: RevisionNote) -> Made:
    """A revision after the one that stands, or, set aside, beside the line: this version can be had back."""
    if not note.set_aside:
        return plans.add_revision(connection, plan_id=stored.id, parent=stored.current, document=document, note=note)
    aside = replace(note, summary=f"Set aside: {note.summary}"[:_SUMMARY])
    return plans.add_revision(connection, plan_id=stored.id, parent=base.revision, document=document, note=aside)


def change_plan(
    begin_transaction: BeginTransaction, opened: OpenPlan, *, base: Base, operation: Operation
) -> tuple[OpenPlan, str]:
    """An operation done and saved, and the key of what it made.

    It is done on what was on screen: where another change came first it is kept aside and told as a clash.
    Raises what the operation raises, Missing, Conflict.
    """
    plan = opened.plan
    if opened.stored.edition != base.edition:
        plan = read_plan_document(_revision(begin_transaction, opened, base.revision).document)
    done = operation.apply(plan)
    saved = save_plan(begin_transaction, opened, base=base, plan=done.plan, summary=done.summary)
    return saved, done.made


def _revision(begin_transaction: BeginTransaction, opened: OpenPlan, number: int) -> Revision:
    with begin_transaction() as connection:
        return plans.get_revision(connection, plan_id=opened.id, number=number)


def _theirs(begin_transaction: BeginTransaction, stored: StoredPlan, revision: int) -> tuple[Revision, Revision]:
    """The revision that a late change began from, and the one that stands."""
    with begin_transaction() as connection:
        base = plans.get_revision(connection, plan_id=stored.id, number=revision)
        return base, plans.get_revision(connection, plan_id=stored.id, number=stored.current)


def _words(base: Document, other: Document) -> tuple[str, ...]:
    return tuple(difference_words(d, other) for d in differences(base, other))


def _clash(begin_transaction: BeginTransaction, stored: StoredPlan, base: Base, mine: Document, aside: int) -> Clash:
    before, theirs = _theirs(begin_transaction, stored, base.revision)
    clashing = set(merge(before.document, mine, theirs.document, Prefer.MINE).clashes)
    return Clash(
        edition=stored.edition,
        current=stored.current,
        changed_by=theirs.made_by_name,
        theirs_words=_words(before.document, theirs.document),
        mine_words=_words(before.document, mine),
        clash_words=tuple(
            difference_words(d, mine) for d in differences(theirs.document, mine) if _within(d.path, clashing)
        ),
        mine=aside,
    )


def _within(path: tuple[str, ...], clashes: set[tuple[str, ...]]) -> bool:
    return any(path[: len(clash)] == clash for clash in clashes)


def settle(begin_transaction: BeginTransaction, opened: OpenPlan, *, base: Base, mine: int) -> OpenPlan:
    """A version set aside put together with what stands, one's own where both differ. Raises Missing, Conflict."""
    own = _revision(begin_transaction, opened, mine)
    if not own.set_aside or own.parent is None:
        raise Missing("That version is no longer set aside.")
    before = _revision(begin_transaction, opened, own.parent)
    both = merge(before.document, own.document, opened.stored.document, Prefer.MINE)
    try:
        plan = read_plan_document(both.document)
    except (FormatError, ValidationError):
        # Each change stood alone but not together: one's own stands whole.
        plan = read_plan_document(own.document)
    return save_plan(begin_transaction, opened, base=base, plan=plan, summary="Put together with another's change")


_BACK = "Brought back: "


def bring_back(begin_transaction: BeginTransaction, opened: OpenPlan, *, number: int) -> OpenPlan:
    """Make an older revision, or one set aside, the newest. Raises Missing, Conflict."""
    revision = _revision(begin_transaction, opened, number)
    summary = f"{_BACK}{revision.summary.removeprefix(_BACK)}"
    base = Base(opened.stored.edition, opened.stored.current)
    return save_plan(begin_transaction, opened, base=base, plan=read_plan_document(revision.document), summary=summary)


def step(begin_transaction: BeginTransaction, opened: OpenPlan, *, base: Base, back: bool) -> OpenPlan:
    """Undo or redo. Raises Missing, NothingThere, and Conflict, with nothing stored, when another change came first."""
    with begin_transaction() as connection:
        stored = _locked(connection, opened)
        late = stored.edition != base.edition
        number = stored.parent if back else stored.child
        if plans.was_stepped(connection, plan_id=opened.id, idempotency_key=base.idempotency_key):
            late, number = False, stored.current  # sent again, because its answer was lost
        elif not late and number is not None:
            revision = plans.get_revision(connection, plan_id=opened.id, number=number)
            plans.change_current(connection, plan_id=opened.id, number=number, name=revision.document["name"])
            who = opened.account_id
            plans.add_step(
                connection,
                plan_id=opened.id,
                number=number,
                back=back,
                idempotency_key=base.idempotency_key,
                made_by=who,
            )
            stored = plans.get_plan(connection, plan_id=opened.id, account_id=opened.account_id)
    if late:
        before, theirs = _theirs(begin_transaction, stored, base.revision)
        words = _words(before.document, theirs.document)
        raise Conflict(Clash(stored.edition, stored.current, theirs.made_by_name, words))
    if number is None:
        raise NothingThere("There is nothing to undo." if back else "There is nothing to redo.")
    return OpenPlan(opened.account_id, stored, read_written(stored))


def history_view(begin_transaction: BeginTransaction, opened: OpenPlan, page: int) -> dict[str, Any]:
    """A page of everything that was done on a plan, newest first, and whether there is more."""
    page = max(1, page)
    with begin_transaction() as connection:
        rows = plans.list_history(
            connection, plan_id=opened.id, most=HISTORY_A_PAGE + 1, skip=HISTORY_A_PAGE * (page - 1)
        )
    return {"history": rows[:HISTORY_A_PAGE], "page_number": page, "has_more": len(rows) > HISTORY_A_PAGE}
