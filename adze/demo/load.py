"""The demo farms, a copy for each visitor, dropped after a day."""

from dataclasses import replace

from adze.core.plan.season import Season
from adze.demo.farms import DEMO_FARMS
from adze.services.accounts import Caller, Key, admit_visitor, make_visitor
from adze.services.earth_tests import default_entry, log_test
from adze.services.plans import begin_plan
from adze.services.readings import Entry, log_reading
from adze.services.verdicts import keep_verdict_of
from adze.store.connection import Transaction
from adze.store.farms import add_farm


def open_demo(transaction: Transaction, caller: Caller, most_an_hour: int = 1000) -> Key:
    """An account for a visitor, with the demo farms on it, and the key to its browser.

    The plans are those of every visitor: their forecasts are computed for the first one and known after it.
    Raises Busy for an address that has opened it too often.
    """
    with transaction() as connection:
        account = make_visitor(connection, caller, most_an_hour)
    for farm in DEMO_FARMS:
        with transaction() as connection:
            place = add_farm(connection, account_id=account.id, name=farm.name, note=farm.note)
            plan = begin_plan(connection, farm_id=place.id, name=farm.plan.name, made_by=account.id, plan=farm.plan)
        keep_verdict_of(transaction, farm.plan, plan_id=plan, number=1)
        for r in farm.readings:
            entry = Entry(r.run, r.at_m, r.strand, r.kv, r.amps, True, Season(r.season), r.note)
            log_reading(transaction, plan_id=plan, plan=farm.plan, entry=entry, read_by=account.id)
        for t in farm.tests:
            usual = default_entry(farm.plan, Season(t.season))
            test = replace(usual, rods_kv=t.rods_kv, fence_kv=t.fence_kv, read_on=t.day, note=t.note)
            log_test(transaction, plan_id=plan, plan=farm.plan, entry=test, read_by=account.id)
    with transaction() as connection:
        return admit_visitor(connection, account, caller)
