"""The demo farms, a copy for each visitor, dropped after a day."""

from dataclasses import dataclass, replace
from functools import cache

from adze.core.plan.season import Season
from adze.demo.farms import DEMO_FARMS
from adze.services.accounts.accounts import Caller, Key, admit_visitor, make_visitor
from adze.services.judging.verdicts import verdict_of
from adze.services.log.earth_tests import TestEntry, WorkedOut, default_entry, keep_test, worked_out
from adze.services.log.readings import Entry, with_forecast
from adze.services.plans.plans import begin_plan
from adze.store.connection import BeginTransaction
from adze.store.judging.verdicts import KeptVerdict, keep_verdict
from adze.store.log.readings import NewReading, add_reading
from adze.store.plans.farms import add_farm


@dataclass(frozen=True)
class _Prepared:
    """What is kept of a demo farm for every visitor alike."""

    verdict: KeptVerdict
    readings: tuple[NewReading, ...]
    tests: tuple[tuple[TestEntry, WorkedOut], ...]


@cache
def _prepared(number: int) -> _Prepared:
    """A demo farm judged, with the forecasts of its readings: computed for the first visitor, known after it."""
    farm = DEMO_FARMS[number]
    plan = farm.plan
    entries = (Entry(r.run, r.at_m, r.strand, r.kv, r.amps, True, Season(r.season), r.note) for r in farm.readings)
    tests = []
    for t in farm.tests:
        usual = default_entry(plan, Season(t.season))
        test = replace(usual, rods_kv=t.rods_kv, fence_kv=t.fence_kv, read_on=t.day, note=t.note)
        tests.append((test, worked_out(plan, test)))
    return _Prepared(verdict_of(plan), tuple(with_forecast(plan, entry) for entry in entries), tuple(tests))


def open_demo(begin_transaction: BeginTransaction, caller: Caller, most_an_hour: int = 1000) -> Key:
    """An account for a visitor, with the demo farms on it, and the key to its browser.

    Raises Busy for an address that has opened it too often.
    """
    with begin_transaction() as connection:
        account = make_visitor(connection, caller, most_an_hour)
    for number, farm in enumerate(DEMO_FARMS):
        known = _prepared(number)
        with begin_transaction() as connection:
            place = add_farm(connection, account_id=account.id, name=farm.name, note=farm.note)
            plan = begin_plan(connection, farm_id=place.id, name=farm.plan.name, made_by=account.id, plan=farm.plan)
            keep_verdict(connection, known.verdict, plan_id=plan, number=1)
            for reading in known.readings:
                add_reading(connection, reading, plan_id=plan, read_by=account.id)
            for entry, found in known.tests:
                keep_test(connection, plan_id=plan, plan=farm.plan, entry=entry, found=found, read_by=account.id)
    with begin_transaction() as connection:
        return admit_visitor(connection, account, caller)
