"""A limit on computing, and a question asked by several at once."""

import time
from threading import Barrier, Event, Thread

import pytest

from adze.core.basics.cache import Cache, forget_everything
from adze.core.basics.deadline import DeadlineExceeded, look, within
from adze.core.forecast.volts import volts
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan


def test_what_takes_too_long_is_stopped_where_it_looks() -> None:
    look()
    with within(60):
        look()
    with within(-1), pytest.raises(DeadlineExceeded, match="Thin long tracks"):
        look()
    look()


def test_a_busy_machine_stops_nothing_that_a_quiet_one_computes() -> None:
    with within(0.1):
        look()
        Event().wait(0.3)  # somebody else has the processor
        look()
        until_s = time.thread_time() + 0.15
        while time.thread_time() < until_s:
            pass
        with pytest.raises(DeadlineExceeded, match="Thin long tracks"):
            look()
    with within(0.01):
        look()
        Event().wait(0.2)
        with pytest.raises(DeadlineExceeded, match="too busy just now; nothing was changed"):
            look()


def test_a_forecast_looks() -> None:
    plan = simple_plan(soil_ohm_m=117.0)
    forget_everything()
    with within(-1), pytest.raises(DeadlineExceeded):
        volts(plan, Weather(Season.USUAL))
    assert volts(plan, Weather(Season.USUAL))


def test_several_who_ask_the_same_at_once_wait_for_one_answer() -> None:
    cache: Cache[object] = Cache("several at once", 4)
    others = Barrier(6)
    made: list[int] = []
    found: list[object] = []

    def make() -> object:
        made.append(1)
        others.wait(10)  # until the five others are about to ask
        return object()

    def ask() -> None:
        others.wait(10)
        found.append(cache.get("same", make))

    threads = [Thread(target=lambda: found.append(cache.get("same", make)))]
    threads += [Thread(target=ask) for _ in range(5)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(made) == 1
    assert len(set(map(id, found))) == 1


def test_who_waits_for_one_that_fails_asks_for_itself() -> None:
    cache: Cache[int] = Cache("one that fails", 4)
    begun, go_on = Event(), Event()

    def fails() -> int:
        begun.set()
        go_on.wait(10)
        raise ValueError("no")

    def first() -> None:
        with pytest.raises(ValueError, match="no"):
            cache.get("same", fails)

    thread = Thread(target=first)
    thread.start()
    begun.wait(10)
    with within(-1), pytest.raises(DeadlineExceeded):
        cache.get("same", lambda: 7)
    go_on.set()
    assert cache.get("same", lambda: 7) == 7
    thread.join()
