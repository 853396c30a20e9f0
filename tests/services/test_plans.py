"""Saving, undo, redo, and two people on one plan."""

import pytest

from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.demo.load import load_demo
from adze.services import accounts
from adze.services.accounts import DEMO_LOGIN, DEMO_PASSWORD, SignInError
from adze.services.plans import Conflict, NothingThere, begin_plan, open_plan, save_plan, step
from adze.services.readings import Entry, ReadingError, log_reading, reading_words
from adze.store import farms, plans
from adze.store.connection import Connection, Store
from adze.store.plans import StoredPlan
from tests.conftest import simple_plan
from tests.store.test_queries import make_account


@pytest.fixture
def account(connection: Connection) -> int:
    return make_account(connection)


@pytest.fixture
def plan_id(connection: Connection, account: int) -> int:
    farm = farms.add_farm(connection, account_id=account, name="Reach")
    return begin_plan(connection, farm_id=farm.id, name="Line", made_by=account, plan=simple_plan())


def save(connection: Connection, account: int, plan_id: int, base: StoredPlan, **changes: object) -> StoredPlan:
    plan = Plan.model_validate(base.document | changes)
    return save_plan(
        connection,
        plan_id=plan_id,
        account_id=account,
        edition=base.edition,
        based_on=base.current,
        plan=plan,
        summary="x",
    )


def opened(connection: Connection, account: int, plan_id: int) -> StoredPlan:
    return open_plan(connection, plan_id=plan_id, account_id=account)[0]


def test_a_change_is_a_revision_and_undo_and_redo_walk_them(connection: Connection, account: int, plan_id: int) -> None:
    first = opened(connection, account, plan_id)
    second = save(connection, account, plan_id, first, grass="heavy")
    third = save(connection, account, plan_id, second, soil="wet_clay")
    assert (third.current, third.edition) == (3, 3)

    def go(back: bool) -> StoredPlan:
        edition = opened(connection, account, plan_id).edition
        return step(connection, plan_id=plan_id, account_id=account, edition=edition, back=back)

    assert go(back=True).document["soil"] == "loam"
    assert go(back=True).document["grass"] == "none"
    with pytest.raises(NothingThere):
        go(back=True)
    assert go(back=False).document["grass"] == "heavy"
    assert go(back=False).document["soil"] == "wet_clay"
    with pytest.raises(NothingThere):
        go(back=False)


def test_saving_the_same_makes_no_revision(connection: Connection, account: int, plan_id: int) -> None:
    first = opened(connection, account, plan_id)
    assert save(connection, account, plan_id, first).current == 1


def test_the_second_of_two_saves_is_told_and_loses_nothing(connection: Connection, account: int, plan_id: int) -> None:
    base = opened(connection, account, plan_id)
    save(connection, account, plan_id, base, rods=base.document["rods"] | {"count": 5})
    with pytest.raises(Conflict) as caught:
        save(connection, account, plan_id, base, grass="heavy")
    clash = caught.value.clash
    assert clash.theirs_words == ("rods, how many: 3 → 5",)
    assert clash.mine_words == ("growth: none → heavy",)
    assert clash.clash_words == ()
    assert (clash.both["rods"]["count"], clash.both["grass"]) == (5, "heavy")
    aside = plans.list_revisions(connection, plan_id=plan_id)[0]
    assert aside.set_aside
    assert plans.get_revision(connection, plan_id=plan_id, number=aside.number).document["grass"] == "heavy"
    assert opened(connection, account, plan_id).document["grass"] == "none"


def test_the_same_thing_changed_twice_is_shown_as_a_clash(connection: Connection, account: int, plan_id: int) -> None:
    base = opened(connection, account, plan_id)
    save(connection, account, plan_id, base, grass="light")
    with pytest.raises(Conflict) as caught:
        save(connection, account, plan_id, base, grass="heavy")
    assert caught.value.clash.clash_words == ("growth: light → heavy",)


def test_undo_on_an_old_edition_is_a_conflict_too(connection: Connection, account: int, plan_id: int) -> None:
    base = opened(connection, account, plan_id)
    save(connection, account, plan_id, base, grass="light")
    with pytest.raises(Conflict):
        step(connection, plan_id=plan_id, account_id=account, edition=base.edition, back=True)


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
    kept = log_reading(connection, plan_id=plan_id, plan=plan, entry=entry(), read_by=account)
    assert (kept.kv, kept.note, kept.outward) == (6.1, "dry day", None)
    assert kept.forecast_low_kv is not None
    assert kept.forecast_low_kv <= (kept.forecast_kv or 0) <= (kept.forecast_high_kv or 0)
    low = log_reading(connection, plan_id=plan_id, plan=plan, entry=entry(kv="1.5", amps="9"), read_by=account)
    words = reading_words(plan, low)
    assert words.status == "fails"
    assert "below the forecast" in words.says
    assert words.amps == "9 A outward"
    assert (
        reading_words(
            plan, log_reading(connection, plan_id=plan_id, plan=plan, entry=entry(kv="12"), read_by=account)
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
        log_reading(connection, plan_id=plan_id, plan=simple_plan(), entry=entry(**changes), read_by=account)
    assert caught.value.field == field


def test_sign_up_sign_in_sign_out(connection: Connection) -> None:
    key = accounts.sign_up(connection, login=" Ann ", name="Ann", password="long enough", days=1)
    session = accounts.who(connection, key.token)
    assert session is not None
    assert session.login == "ann"
    accounts.sign_out(connection, key.token)
    assert accounts.who(connection, key.token) is None
    assert accounts.who(connection, accounts.sign_in(connection, login="ANN", password="long enough", days=1).token)


@pytest.mark.parametrize(("login", "password"), [("ann", "wrong"), ("nobody", "long enough")])
def test_who_does_not_belong_stays_out(connection: Connection, login: str, password: str) -> None:
    accounts.sign_up(connection, login="ann", name="Ann", password="long enough", days=1)
    with pytest.raises(SignInError, match="do not go together"):
        accounts.sign_in(connection, login=login, password=password, days=1)


@pytest.mark.parametrize(("login", "password", "field"), [("ann", "short", "password"), ("a", "long enough", "login")])
def test_sign_up_says_what_is_too_short(connection: Connection, login: str, password: str, field: str) -> None:
    with pytest.raises(SignInError) as caught:
        accounts.sign_up(connection, login=login, name="", password=password, days=1)
    assert caught.value.field == field


def test_passwords_are_kept_as_argon2(connection: Connection) -> None:
    accounts.sign_up(connection, login="ann", name="Ann", password="long enough", days=1)
    row = connection.execute("SELECT password_hash FROM account WHERE login = 'ann'").fetchone()
    assert row is not None
    assert row[0].startswith("$argon2id$")


def test_the_demo_is_loaded_once(store: Store) -> None:
    load_demo(store)
    assert load_demo(store) is False
    with store.transaction() as connection:
        key = accounts.sign_in(connection, login=DEMO_LOGIN, password=DEMO_PASSWORD, days=1)
        session = accounts.who(connection, key.token)
        assert session is not None
        names = [f.name for f in farms.list_farms(connection, account_id=session.account_id)]
        assert names[:3] == ["Hallow Reach", "Sallow Flats", "Vine Steps"]
        assert len(names) == len(set(names))
