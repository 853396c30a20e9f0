"""Saving, undo, redo, and two people on one plan."""

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.services.log.readings import Entry, ReadingError, log_reading, reading_words
from adze.services.operations.registry import read_operation
from adze.services.plans import plans as services_plans
from adze.services.plans.plans import (
    Base,
    Conflict,
    NothingThere,
    OpenPlan,
    begin_plan,
    change_plan,
    open_plan,
    save_plan,
    settle,
    step,
)
from adze.store.connection import BeginTransaction, Connection
from adze.store.plans import farms, plans
from adze.store.plans.plans import RevisionRow
from tests.conftest import simple_plan
from tests.store.test_queries import make_account


@pytest.fixture
def account(connection: Connection) -> int:
    return make_account(connection)


@pytest.fixture
def plan_id(connection: Connection, account: int) -> int:
    farm = farms.add_farm(connection, account_id=account, name="Reach")
    return begin_plan(connection, farm_id=farm.id, name="Line", made_by=account, plan=simple_plan())


@dataclass(frozen=True)
class Desk:
    """One account at one plan, on a connection whose changes are taken back."""

    connection: Connection
    account: int
    plan_id: int

    def begin_transaction(self) -> AbstractContextManager[Connection]:
        return nullcontext(self.connection)

    def open(self) -> OpenPlan:
        return open_plan(self.begin_transaction, plan_id=self.plan_id, account_id=self.account)

    def save(self, seen: OpenPlan, **changes: object) -> OpenPlan:
        plan = Plan.model_validate(seen.stored.document | changes)
        return save_plan(self.begin_transaction, self.open(), base=base_of(seen), plan=plan, summary="x")

    def step(self, seen: OpenPlan, *, back: bool) -> OpenPlan:
        return step(self.begin_transaction, self.open(), base=base_of(seen), back=back)

    def revisions(self) -> tuple[RevisionRow, ...]:
        return plans.list_revisions(self.connection, plan_id=self.plan_id)


def base_of(seen: OpenPlan) -> Base:
    return Base(seen.stored.edition, seen.stored.current)


@pytest.fixture
def desk(connection: Connection, account: int, plan_id: int) -> Desk:
    return Desk(connection, account, plan_id)


def test_a_change_is_a_revision_and_undo_and_redo_walk_them(desk: Desk) -> None:
    second = desk.save(desk.open(), grass="heavy")
    third = desk.save(second, soil="wet_clay")
    assert (third.stored.current, third.stored.edition) == (3, 3)
    assert desk.step(desk.open(), back=True).plan.soil == "loam"
    assert desk.step(desk.open(), back=True).plan.grass == "none"
    with pytest.raises(NothingThere):
        desk.step(desk.open(), back=True)
    assert desk.step(desk.open(), back=False).plan.grass == "heavy"
    assert desk.step(desk.open(), back=False).plan.soil == "wet_clay"
    with pytest.raises(NothingThere):
        desk.step(desk.open(), back=False)


def test_saving_the_same_makes_no_revision(desk: Desk) -> None:
    assert desk.save(desk.open()).stored.current == 1


def test_the_second_of_two_saves_is_told_and_loses_nothing(desk: Desk) -> None:
    seen = desk.open()
    desk.save(seen, rods=seen.stored.document["rods"] | {"count": 5})
    with pytest.raises(Conflict) as caught:
        desk.save(seen, grass="heavy")
    clash = caught.value.clash
    assert clash.theirs_words == ("rods, how many: 3 → 5",)
    assert clash.mine_words == ("growth: none → heavy",)
    assert clash.clash_words == ()
    aside = desk.revisions()[0]
    assert aside.set_aside
    assert aside.number == clash.mine
    assert plans.get_revision(desk.connection, plan_id=desk.plan_id, number=aside.number).document["grass"] == "heavy"
    assert desk.open().plan.grass == "none"
    both = settle(desk.begin_transaction, desk.open(), base=base_of(desk.open()), mine=aside.number)
    assert (both.plan.rods.count, both.plan.grass) == (5, "heavy")


def test_the_same_thing_changed_twice_is_shown_as_a_clash(desk: Desk) -> None:
    seen = desk.open()
    desk.save(seen, grass="light")
    with pytest.raises(Conflict) as caught:
        desk.save(seen, grass="heavy")
    assert caught.value.clash.clash_words == ("growth: light → heavy",)


def test_an_operation_is_done_on_what_was_on_screen(desk: Desk) -> None:
    """A second strand number one is not taken off because another was meanwhile."""
    seen = desk.save(desk.open(), strands=[{"cm": 30}, {"cm": 60}, {"cm": 90}])
    first = read_operation({"do": "remove_strand", "strand": 0})
    change_plan(desk.begin_transaction, desk.open(), base=base_of(seen), operation=first)
    with pytest.raises(Conflict) as caught:
        change_plan(desk.begin_transaction, desk.open(), base=base_of(seen), operation=first)
    aside = plans.get_revision(desk.connection, plan_id=desk.plan_id, number=caught.value.clash.mine or 0)
    assert [s["cm"] for s in aside.document["strands"]] == [60, 90]
    assert [s.cm for s in desk.open().plan.strands] == [60, 90]


def test_an_undo_that_comes_too_late_stores_nothing(desk: Desk) -> None:
    seen = desk.open()
    desk.save(seen, grass="light")
    with pytest.raises(Conflict) as caught:
        desk.step(seen, back=True)
    assert caught.value.clash.mine is None
    assert caught.value.clash.theirs_words == ("growth: none → light",)
    assert len(desk.revisions()) == 2


def test_no_connection_is_held_while_a_plan_is_computed(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """Every function of the service gives its connection back before the document is read or written down."""
    held: list[bool] = [False]

    @contextmanager
    def begin_transaction() -> Iterator[Connection]:
        held[0] = True
        yield desk.connection
        held[0] = False

    def watched(made: Callable[..., Any]) -> Callable[..., Any]:
        def ask(*given: Any, **named: Any) -> Any:
            assert not held[0], made.__name__
            return made(*given, **named)

        return ask

    for name in ("dump_plan", "read_plan_document", "merge", "differences"):
        monkeypatch.setattr(services_plans, name, watched(getattr(services_plans, name)))
    seen = open_plan(begin_transaction, plan_id=desk.plan_id, account_id=desk.account)
    heavy = changed(seen.plan, {"grass": "heavy"})
    save_plan(begin_transaction, seen, base=base_of(seen), plan=heavy, summary="x")
    with pytest.raises(Conflict):
        save_plan(begin_transaction, seen, base=base_of(seen), plan=heavy, summary="x")
    step(begin_transaction, desk.open(), base=base_of(desk.open()), back=True)


def on(connection: Connection) -> BeginTransaction:
    return lambda: nullcontext(connection)


def entry(**changes: object) -> Entry:
    base: dict[str, object] = {
        "run": "line1",
        "at_m": 800.0,
        "strand": 1,
        "kv": "6,1",
        "amps": "",
        "outward": True,
        "season": Season.USUAL,
        "note": " dry day ",
    }
    return Entry(**(base | changes))  # type: ignore[arg-type]


def test_a_reading_is_kept_beside_its_forecast(connection: Connection, account: int, plan_id: int) -> None:
    plan = simple_plan()
    kept = log_reading(on(connection), plan_id=plan_id, plan=plan, entry=entry(), read_by=account)
    assert (kept.kv, kept.note, kept.outward) == (6.1, "dry day", None)
    assert kept.forecast_low_kv is not None
    assert kept.forecast_low_kv <= (kept.forecast_kv or 0) <= (kept.forecast_high_kv or 0)
    low = log_reading(on(connection), plan_id=plan_id, plan=plan, entry=entry(kv="1.5", amps="9"), read_by=account)
    words = reading_words(plan, low, "Pacific/Auckland")
    there = low.read_at.astimezone(ZoneInfo("Pacific/Auckland"))
    assert words.read_at == there.strftime("%d %b %Y, %H:%M")
    assert words.status == "fails"
    assert "below the forecast" in words.says
    assert words.amps == "9 A outward"
    assert (
        reading_words(
            plan,
            log_reading(on(connection), plan_id=plan_id, plan=plan, entry=entry(kv="12"), read_by=account),
            "UTC",
        ).status
        == "holds"
    )


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"kv": "lots"}, "kv"),
        ({"kv": "21"}, "kv"),
        ({"kv": "nan"}, "kv"),
        ({"amps": "-4"}, "amps"),
        ({"run": "zz"}, "run"),
        ({"at_m": 5000.0}, "at_m"),
        ({"strand": 9}, "strand"),
        ({"note": "x" * 301}, "note"),
    ],
)
def test_a_reading_that_cannot_be_is_named_by_field(
    connection: Connection, account: int, plan_id: int, changes: dict[str, object], field: str
) -> None:
    with pytest.raises(ReadingError) as caught:
        log_reading(
            on(connection),
            plan_id=plan_id,
            plan=simple_plan(),
            entry=entry(**changes),
            read_by=account,
        )
    assert caught.value.field == field
