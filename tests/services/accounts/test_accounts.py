"""Who is let in, who is kept waiting, and what an account's owner can do with it."""

import secrets
import threading
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractContextManager, nullcontext

import pytest

from adze.demo.load import open_demo
from adze.services.accounts import accounts, passwords
from adze.services.accounts.accounts import Caller, Key, NewAccount, SignInError
from adze.services.limits.concurrency import Busy, ConcurrencyLimiter
from adze.store.accounts.accounts import Account
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction, Connection, Store
from adze.store.errors import NameTaken
from adze.store.plans import farms
from adze.store.sharing import people

HERE = Caller("192.0.2.1", "A browser")
GOOD = "eleven grey geese"


def on(connection: Connection) -> BeginTransaction:
    def begin_transaction() -> AbstractContextManager[Connection]:
        return nullcontext(connection)

    return begin_transaction


def sign_up(connection: Connection, login: str = "ann", password: str = GOOD, *, most_an_hour: int = 99) -> Key:
    new = NewAccount(login, "Ann", password)
    limits = accounts.SignUpLimits(1, most_an_hour)
    return accounts.sign_up(on(connection), new, limits=limits, caller=HERE)


def sign_in(connection: Connection, login: str = "ann", password: str = GOOD, caller: Caller = HERE) -> Key:
    return accounts.sign_in(on(connection), login=login, password=password, days=1, caller=caller)


def session_of(connection: Connection, key: Key) -> Session | None:
    return accounts.who(connection, key.token, idle_days=7)


def signed_in(connection: Connection, key: Key) -> Session:
    found = session_of(connection, key)
    assert found is not None
    return found


def test_sign_up_sign_in_sign_out(connection: Connection) -> None:
    key = sign_up(connection, " Ann ")
    assert signed_in(connection, key).login == "ann"
    accounts.sign_out(connection, key.token)
    assert session_of(connection, key) is None
    assert session_of(connection, sign_in(connection, "ANN"))


@pytest.mark.parametrize(("login", "password"), [("ann", "wrong"), ("nobody", GOOD), ("ann", "x" * 5000)])
def test_who_does_not_belong_stays_out(connection: Connection, login: str, password: str) -> None:
    sign_up(connection)
    with pytest.raises(SignInError, match="name or the password is wrong"):
        sign_in(connection, login, password)


@pytest.mark.parametrize(
    ("login", "password", "field", "says"),
    [
        ("ann", "short", "password", "at least 8"),
        ("a", GOOD, "login", "3 to 80"),
        ("ann", "password1", "password", "easy to guess"),
        ("ann", "12345678", "password", "easy to guess"),
        ("hallow-reach", "Hallow-Reach1", "password", "your own name"),
        ("ann", "x" * 300, "password", "at most 200"),
    ],
)
def test_sign_up_says_what_is_wrong(connection: Connection, login: str, password: str, field: str, says: str) -> None:
    with pytest.raises(SignInError, match=says) as caught:
        sign_up(connection, login, password)
    assert caught.value.field == field


def test_a_name_is_taken_once_and_an_address_makes_so_many(connection: Connection) -> None:
    sign_up(connection)
    with pytest.raises(Busy):
        sign_up(connection, "ben", most_an_hour=1)
    with pytest.raises(NameTaken):
        sign_up(connection)


def test_passwords_are_kept_as_argon2(connection: Connection) -> None:
    sign_up(connection)
    row = connection.execute("SELECT password_hash FROM account WHERE login = 'ann'").fetchone()
    assert row is not None
    assert row[0].startswith("$argon2id$")


@pytest.mark.parametrize("login", ["ann", "nobody"])
def test_after_five_failures_one_waits_longer_each_time(connection: Connection, login: str) -> None:
    """The same for a name that is none; from elsewhere the owner is still let in."""
    sign_up(connection)
    for _ in range(7):
        connection.execute("INSERT INTO sign_in_failure (login, address) VALUES (%s, %s)", (login, HERE.address))
    with pytest.raises(Busy) as caught:
        sign_in(connection, login, "wrong")
    assert caught.value.retry_after_s == 4
    assert session_of(connection, sign_in(connection, caller=Caller("192.0.2.9", "")))
    connection.execute("UPDATE sign_in_failure SET at = at - interval '5 seconds'")
    with pytest.raises(SignInError):
        sign_in(connection, login, "wrong")
    with pytest.raises(Busy) as caught:
        sign_in(connection, login, "wrong")
    assert caught.value.retry_after_s == 8


def test_a_success_forgets_what_failed_before(connection: Connection) -> None:
    sign_up(connection)
    for _ in range(4):
        with pytest.raises(SignInError):
            sign_in(connection, password="wrong")
    sign_in(connection)
    assert connection.execute("SELECT count(*) FROM sign_in_failure WHERE login = 'ann'").fetchone() == (0,)


def test_a_name_guessed_at_from_everywhere_is_shut_for_a_while(connection: Connection) -> None:
    sign_up(connection)
    for number in range(40):
        connection.execute("INSERT INTO sign_in_failure (login, address) VALUES ('ann', %s)", (f"192.0.2.{number}",))
    with pytest.raises(Busy) as caught:
        sign_in(connection, caller=Caller("198.51.100.1", ""))
    assert caught.value.retry_after_s == 900


def test_a_browser_that_has_signed_in_before_is_let_in_whatever_strangers_do(connection: Connection) -> None:
    key = sign_up(connection)
    accounts.sign_out(connection, key.token)
    for number in range(60):
        connection.execute(
            "INSERT INTO sign_in_failure (login, address) VALUES ('ann', %s)", (f"192.0.2.{number % 8}",)
        )
    elsewhere = Caller("198.51.100.1", "", key.browser)
    assert session_of(connection, sign_in(connection, caller=elsewhere))
    with pytest.raises(Busy):
        sign_in(connection, caller=Caller("198.51.100.1", "", "made up"))
    # Its own failures count.
    for _ in range(5):
        with pytest.raises(SignInError):
            sign_in(connection, password="wrong", caller=elsewhere)
    with pytest.raises(Busy):
        sign_in(connection, caller=elsewhere)


def test_another_password_makes_strangers_of_other_browsers(connection: Connection) -> None:
    mine = sign_up(connection)
    other = sign_in(connection, caller=Caller("192.0.2.7", "A phone"))
    session = signed_in(connection, mine)
    caller = Caller("192.0.2.1", "", mine.browser)
    accounts.change_password(on(connection), session, now=GOOD, new="six wet woolly ewes", caller=caller)
    for browser, is_known in ((mine.browser, True), (other.browser, False)):
        account = Account(id=session.account_id, login="ann", name="Ann", password_hash="", is_demo=False)
        assert accounts.is_known(connection, account, Caller("", "", browser)) == is_known


@pytest.mark.parametrize("asks", ["confirm", "password", "end"])
def test_guessing_while_signed_in_waits_longer_each_time(connection: Connection, asks: str) -> None:
    session = signed_in(connection, sign_up(connection))

    def guess(password: str) -> None:
        if asks == "confirm":
            accounts.confirm_session(on(connection), session, password=password)
        elif asks == "password":
            accounts.change_password(on(connection), session, now=password, new="six wet woolly ewes", caller=HERE)
        else:
            accounts.end_account(on(connection), session, password=password)

    for _ in range(5):
        with pytest.raises(SignInError, match="not your password"):
            guess("wrong")
    with pytest.raises(Busy):
        guess(GOOD)
    connection.execute("UPDATE sign_in_failure SET at = at - interval '2 seconds'")
    guess(GOOD)


def test_many_guesses_at_once_count_each(store: Store) -> None:
    login = f"ann-{secrets.token_hex(4)}"
    new = NewAccount(login, "Ann Reach", GOOD)
    accounts.sign_up(store.begin_transaction, new, limits=accounts.SignUpLimits(1, 10_000), caller=HERE)

    def guess(_: int) -> str:
        caller = Caller("203.0.113.77", "")
        try:
            accounts.sign_in(store.begin_transaction, login=login, password="wrong", days=1, caller=caller)
        except (SignInError, Busy) as error:
            return type(error).__name__
        return "in"

    with ThreadPoolExecutor(12) as at_once:
        assert Counter(at_once.map(guess, range(24)))["SignInError"] <= 6


def test_nobody_takes_every_place_for_hashing() -> None:
    limiter = ConcurrencyLimiter(6, 4, most_of_one=2)
    with limiter.turn("one"), limiter.turn("one"):
        with pytest.raises(Busy), limiter.turn("one"):
            pass
        with limiter.turn("another"):
            assert limiter.inside == 3
    with limiter.turn("one"):
        assert limiter.inside == 1


def test_two_hash_at_once_a_few_wait_and_the_rest_come_again() -> None:
    limiter, inside, release = ConcurrencyLimiter(2, 1), threading.Semaphore(0), threading.Event()

    def work() -> None:
        with limiter.turn():
            inside.release()
            release.wait(10)

    threads = [threading.Thread(target=work) for _ in range(3)]
    for thread in threads:
        thread.start()
    assert inside.acquire(timeout=10)
    assert inside.acquire(timeout=10)
    while limiter.inside < 3:
        threads[0].join(0.01)
    with pytest.raises(Busy), limiter.turn():
        pass
    assert not inside.acquire(blocking=False)
    release.set()
    for thread in threads:
        thread.join(10)
    with limiter.turn():
        assert limiter.inside == 1


def test_an_unknown_name_costs_as_much_as_a_known_one() -> None:
    kept = passwords.hashed(GOOD, "here")
    assert passwords.fits(GOOD, kept, "here")
    assert not passwords.fits("wrong", kept, "here")
    assert not passwords.fits(GOOD, None, "here")


def test_another_password_signs_every_other_device_out(connection: Connection) -> None:
    first = sign_up(connection)
    second = sign_in(connection, caller=Caller("192.0.2.7", "A phone"))
    session = signed_in(connection, second)
    change = accounts.change_password
    with pytest.raises(SignInError, match="not your password"):
        change(on(connection), session, now="wrong", new="another seven geese", caller=HERE)
    with pytest.raises(SignInError, match="easy to guess"):
        change(on(connection), session, now=GOOD, new="password1", caller=HERE)
    change(on(connection), session, now=GOOD, new="another seven geese", caller=HERE)
    assert session_of(connection, first) is None
    assert session_of(connection, second)
    with pytest.raises(SignInError):
        sign_in(connection)
    sign_in(connection, password="another seven geese")
    kinds = [e.kind for e in accounts.account_view(on(connection), session).events]
    assert {"account made", "password changed", "sign-in failed", "signed in"} <= set(kinds)


def test_devices_are_listed_and_signed_out(connection: Connection) -> None:
    first, second = sign_up(connection), sign_in(connection, caller=Caller("192.0.2.7", "A phone"))
    session = signed_in(connection, first)
    view = accounts.account_view(on(connection), session)
    assert {d.device for d in view.devices} == {"A browser", "A phone"}
    phone = next(d for d in view.devices if d.device == "A phone")
    accounts.sign_device_out(on(connection), session, device=phone.id, caller=HERE)
    assert session_of(connection, second) is None
    sign_in(connection)
    assert accounts.sign_others_out(on(connection), session, HERE) == 1
    assert session_of(connection, first)


def test_a_device_left_alone_is_signed_out(connection: Connection) -> None:
    key = sign_up(connection)
    connection.execute("UPDATE session SET seen_at = now() - interval '8 days'")
    assert session_of(connection, key) is None
    connection.execute("UPDATE session SET seen_at = now() - interval '6 days'")
    assert session_of(connection, key)
    assert not signed_in(connection, key).unseen


def test_an_account_ends_with_all_that_it_owns(connection: Connection) -> None:
    session = signed_in(connection, sign_up(connection))
    farm = farms.add_farm(connection, account_id=session.account_id, name="Reach")
    with pytest.raises(SignInError):
        accounts.end_account(on(connection), session, password="wrong")
    accounts.end_account(on(connection), session, password=GOOD)
    assert people.get_shared_farm(connection, farm_id=farm.id, account_id=session.account_id) is None
    with pytest.raises(SignInError):
        sign_in(connection)


def test_each_visitor_has_a_demo_of_their_own_for_a_day(store: Store) -> None:
    keys = [open_demo(store.begin_transaction, HERE) for _ in range(2)]
    with store.begin_transaction() as connection:
        one, other = (signed_in(connection, key) for key in keys)
        assert one.account_id != other.account_id
        names = [row.farm_name for row in farms.list_everything(connection, account_id=one.account_id)]
        assert names == ["Hallow Reach", "Sallow Flats", "Vine Steps"]
        connection.execute("UPDATE account SET made_at = now() - interval '25 hours' WHERE id = %s", (one.account_id,))
        with pytest.raises(Busy):
            accounts.make_visitor(connection, HERE, 2)
        accounts.make_visitor(connection, HERE, 99)
        assert session_of(connection, keys[0]) is None
        assert session_of(connection, keys[1])
        with pytest.raises(SignInError):
            accounts.sign_in(on(connection), login=other.login, password="", days=1, caller=HERE)
