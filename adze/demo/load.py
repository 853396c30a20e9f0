"""The demo farms, a copy for each visitor, dropped after a day.

What is computed of them lies beside this file, so that no visitor waits for it: `python -m adze.demo.load` writes it
anew, a test holds it to what the program computes.
"""

from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from pathlib import Path

from pydantic import TypeAdapter

from adze.core.plan.season import Season
from adze.demo.farms import DEMO_FARMS, DemoFarm
from adze.services.accounts.accounts import Caller, Key, admit_visitor, make_visitor
from adze.services.judging.verdicts import edition_of_rules, verdict_of
from adze.services.log.earth_tests import TestEntry, WorkedOut, default_entry, keep_test, worked_out
from adze.services.log.readings import Entry, with_forecast
from adze.services.plans.plans import begin_plan
from adze.store.connection import BeginTransaction
from adze.store.judging.verdicts import KeptVerdict, keep_verdict
from adze.store.log.readings import NewReading, add_reading
from adze.store.plans.farms import add_farm


@dataclass(frozen=True)
class Computed:
    """What is computed of a demo farm, for every visitor alike."""

    verdict: KeptVerdict
    readings: tuple[NewReading, ...]
    tests: tuple[tuple[TestEntry, WorkedOut], ...]


_ADAPTER = TypeAdapter(tuple[Computed, ...])
FILE = Path(str(resources.files("adze.demo"))) / "computed.json"


def computed(farm: DemoFarm) -> Computed:
    """A demo farm judged, with the forecasts of its readings."""
    plan = farm.plan
    entries = (Entry(r.run, r.at_m, r.strand, r.kv, r.amps, True, Season(r.season), r.note) for r in farm.readings)
    tests = []
    for t in farm.tests:
        usual = default_entry(plan, Season(t.season))
        test = replace(usual, rods_kv=t.rods_kv, fence_kv=t.fence_kv, read_on=t.day, note=t.note)
        tests.append((test, worked_out(plan, test)))
    return Computed(verdict_of(plan), tuple(with_forecast(plan, entry) for entry in entries), tuple(tests))


@cache
def known() -> tuple[Computed, ...]:
    """What lies beside this file of every demo farm, judged by this program."""
    rows = _ADAPTER.validate_json(FILE.read_bytes())
    return tuple(replace(row, verdict=replace(row.verdict, program=edition_of_rules())) for row in rows)


def open_demo(begin_transaction: BeginTransaction, caller: Caller, most_an_hour: int = 1000) -> Key:
    """An account for a visitor, with the demo farms on it, and the key to its browser: all of it or nothing.

    Raises Busy for an address that has opened it too often.
    """
    with begin_transaction() as connection:
        account = make_visitor(connection, caller, most_an_hour)
        for farm, found in zip(DEMO_FARMS, known(), strict=True):
            place = add_farm(connection, account_id=account.id, name=farm.name, note=farm.note)
            plan = begin_plan(connection, farm_id=place.id, name=farm.plan.name, made_by=account.id, plan=farm.plan)
            keep_verdict(connection, found.verdict, plan_id=plan, number=1)
            for reading in found.readings:
                add_reading(connection, reading, plan_id=plan, read_by=account.id)
            for entry, says in found.tests:
                keep_test(connection, plan_id=plan, plan=farm.plan, entry=entry, found=says, read_by=account.id)
        return admit_visitor(connection, account, caller)


def open_trial(begin_transaction: BeginTransaction, caller: Caller, most_an_hour: int = 1000) -> tuple[Key, int]:
    """An account for a visitor with one farm and a blank plan, the key to its browser, and the plan. Raises Busy."""
    with begin_transaction() as connection:
        account = make_visitor(connection, caller, most_an_hour)
        farm = add_farm(connection, account_id=account.id, name="My farm")
        plan = begin_plan(connection, farm_id=farm.id, name="First fence", made_by=account.id)
        return admit_visitor(connection, account, caller), plan


if __name__ == "__main__":
    FILE.write_bytes(_ADAPTER.dump_json(tuple(computed(farm) for farm in DEMO_FARMS), indent=1) + b"\n")
