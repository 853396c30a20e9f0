"""Load the demo account and its farms once."""

from contextlib import AbstractContextManager, nullcontext
from dataclasses import replace

from adze.core.plan.season import Season
from adze.demo.farms import DEMO_FARMS
from adze.services.accounts import ensure_demo_account
from adze.services.earth_tests import default_entry, log_test
from adze.services.plans import begin_plan
from adze.services.readings import Entry, log_reading
from adze.store.connection import Connection, Store
from adze.store.farms import add_farm


def load_demo(store: Store) -> bool:
    """Make the demo account with its farms; False when it is there already."""
    with store.transaction() as connection:
        account, fresh = ensure_demo_account(connection)
        if not fresh:
            return False

        def here() -> AbstractContextManager[Connection]:
            return nullcontext(connection)  # all of it, or nothing

        for farm in DEMO_FARMS:
            place = add_farm(connection, account_id=account, name=farm.name, note=farm.note)
            plan = begin_plan(connection, farm_id=place.id, name=farm.plan.name, made_by=account, plan=farm.plan)
            for r in farm.readings:
                entry = Entry(r.run, r.at_m, r.strand, r.kv, r.amps, True, Season(r.season), r.note)
                log_reading(here, plan_id=plan, plan=farm.plan, entry=entry, read_by=account)
            for t in farm.tests:
                usual = default_entry(farm.plan, Season(t.season))
                test = replace(usual, rods_kv=t.rods_kv, fence_kv=t.fence_kv, read_on=t.day, note=t.note)
                log_test(here, plan_id=plan, plan=farm.plan, entry=test, read_by=account)
    return True
