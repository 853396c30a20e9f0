"""Verdicts kept with revisions: the list computes nothing, jobs judge what is not judged, broken plans say so."""

from collections.abc import Iterator
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient
from psycopg.types.json import Jsonb

from adze.services.jobs.queue import Jobs
from adze.services.judging import verdicts
from adze.services.plans import plans
from adze.services.plans.plans import BrokenPlan
from adze.settings import Settings
from adze.store.accounts.accounts import add_account
from adze.store.connection import Store
from adze.store.plans.farms import add_farm
from adze.web.app import create_app
from tests.conftest import simple_plan
from tests.waiting import until


@pytest.fixture
def account(store: Store) -> Iterator[int]:
    with store.begin_transaction() as connection:
        made = add_account(connection, login=f"u{uuid4().hex[:10]}", name="Ann", password_hash="", is_demo=False).id
    yield made
    with store.begin_transaction() as connection:
        connection.execute("DELETE FROM account WHERE id = %s", (made,))


def begin(store: Store, account: int, *names: str) -> list[int]:
    """A farm for each name, with a line of its own."""
    found = []
    with store.begin_transaction() as connection:
        for name in names:
            farm = add_farm(connection, account_id=account, name=name)
            plan = simple_plan(name=name, stock=[{"id": "e", "kind": "ewe"}] if name == "Trouble" else [])
            found.append(plans.begin_plan(connection, farm_id=farm.id, name=name, made_by=account, plan=plan))
    return found


def names(store: Store, account: int, page: int = 1) -> list[str]:
    return [farm.name for farm in verdicts.farms_view(store.begin_transaction, account, page)["farms"]]


def test_a_list_shows_what_is_kept_and_asks_for_the_rest(store: Store, account: int) -> None:
    quiet, trouble = begin(store, account, "Quiet", "Trouble")
    view = verdicts.farms_view(store.begin_transaction, account, 1)
    assert view["unjudged"] == [quiet, trouble]
    assert verdicts.judge_stored(store.begin_transaction, trouble) == "fails"
    view = verdicts.farms_view(store.begin_transaction, account, 1)
    assert view["unjudged"] == [quiet]
    (card,) = view["plans"][view["farms"][0].id]
    assert (card.name, card.status, round(card.length_m)) == ("Trouble", "fails", 1600)
    assert card.line
    assert card.paths


def test_what_other_rules_changed_is_told_once(store: Store, account: int, monkeypatch: pytest.MonkeyPatch) -> None:
    (plan,) = begin(store, account, "Trouble")
    with monkeypatch.context() as other:
        other.setattr(verdicts, "edition_of_rules", lambda: "other rules")
        former = verdicts.KeptVerdict("other rules", "holds", "", 1600, [], 9.4)
        other.setattr(verdicts, "verdict_of", lambda _: former)
        verdicts.judge_stored(store.begin_transaction, plan)
    verdicts.judge_stored(store.begin_transaction, plan)
    opened = plans.open_plan(store.begin_transaction, plan_id=plan, account_id=account)
    told = verdicts.computed_anew(store.begin_transaction, opened)
    assert "Forecasts were recomputed: the far end reads" in told
    assert "kV less" in told
    assert "before: holds; now: fails" in told
    assert verdicts.computed_anew(store.begin_transaction, opened) == ""


def test_what_needs_a_hand_comes_first_and_pages_hold_thirty(store: Store, account: int) -> None:
    begin(store, account, *(f"Farm {n:02}" for n in range(34)))
    (trouble,) = begin(store, account, "Trouble")
    verdicts.judge_stored(store.begin_transaction, trouble)
    assert names(store, account)[:2] == ["Trouble", "Farm 00"]
    assert (len(names(store, account)), len(names(store, account, 2)), names(store, account, 3)) == (30, 5, [])


def test_other_rules_judge_again(store: Store, account: int, monkeypatch: pytest.MonkeyPatch) -> None:
    (plan,) = begin(store, account, "Quiet")
    verdicts.judge_stored(store.begin_transaction, plan)
    monkeypatch.setattr(verdicts, "edition_of_rules", lambda: "other rules")
    assert verdicts.farms_view(store.begin_transaction, account, 1)["unjudged"] == [plan]
    verdicts.judge_stored(store.begin_transaction, plan)
    assert verdicts.farms_view(store.begin_transaction, account, 1)["unjudged"] == []


def test_a_plan_that_cannot_be_read_is_broken_and_its_history_brings_it_back(store: Store, account: int) -> None:
    (plan,) = begin(store, account, "Quiet")
    with store.begin_transaction() as connection:
        document = {"format": "adze-plan", "version": 3, "name": "Quiet", "soil": "custard"}
        connection.execute(
            "INSERT INTO revision (plan_id, number, parent, document, summary, made_by) VALUES (%s, 2, 1, %s, 'x', %s)",
            (plan, Jsonb(document), account),
        )
        connection.execute("UPDATE plan SET current = 2 WHERE id = %s", (plan,))
    assert verdicts.judge_stored(store.begin_transaction, plan) == "broken"
    with pytest.raises(BrokenPlan, match="custard") as caught:
        plans.open_plan(store.begin_transaction, plan_id=plan, account_id=account)
    assert [r.number for r in caught.value.revisions] == [2, 1]
    plans.restore(store.begin_transaction, plan_id=plan, account_id=account, number=1)
    assert plans.open_plan(store.begin_transaction, plan_id=plan, account_id=account).plan.soil == "loam"


def test_a_job_judges_and_is_queued_once(store: Store, settings: Settings, account: int) -> None:
    (plan,) = begin(store, account, "Trouble")
    jobs = Jobs(str(settings.database_url))
    jobs.open()
    jobs.judge([plan, plan])
    jobs.close()
    with store.begin_transaction() as connection:
        queued = connection.execute(
            "SELECT count(*) FROM procrastinate_jobs WHERE status = 'todo' AND args->>'plan_id' = %s", (str(plan),)
        ).fetchone()
    assert queued == (1,)
    working = settings.model_copy(update={"worker": True})
    with TestClient(create_app(working)):
        until(lambda: not verdicts.farms_view(store.begin_transaction, account, 1)["unjudged"])


def test_a_plan_that_is_gone_is_no_fault(store: Store) -> None:
    assert verdicts.judge_stored(store.begin_transaction, 999_999_999) is None
