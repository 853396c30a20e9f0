"""The search for a design: asked once, computed by a worker, told step by step to whoever watches it.

It goes on when the browser leaves, is found again by the revision it was asked for, and is computed once however
many ask the same.
"""

import logging
import math
import secrets
import time
from collections.abc import Callable, Iterator
from dataclasses import asdict
from typing import Any

from pydantic import TypeAdapter

from adze.core.advice.designs import StrandChange
from adze.core.advice.reroute import Link
from adze.core.advice.search import Design, SearchProgress, Wishes, left_open, search
from adze.core.basics.status import Status
from adze.core.basics.units import format_length, kv_words
from adze.core.build.parts import bill
from adze.core.ground.places import nearest_place, place_words
from adze.core.plan.catalogue import catalogue, unpriced_units
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.animals import animal_word
from adze.core.tables.construction import conductors
from adze.services.jobs.queue import Jobs
from adze.services.judging.verdicts import edition_of_rules
from adze.services.plans.plans import OpenPlan, read_written
from adze.store.connection import BeginTransaction
from adze.store.errors import Missing, StoreError
from adze.store.judging import searches
from adze.store.judging.searches import SearchRow

MOST_AT_ONCE = 3  # of one account
LONGEST_S = 600.0

_LOG = logging.getLogger("adze")
_EVERY_S = 0.25
_WISHES = TypeAdapter(Wishes)
# What a search answers holds in full; what else stays marginal, such as a diverter, is told beside it.
_ANSWERED = (Stage.EARTH, Stage.VOLTS)
_STATUS = {Status.FAILS: "still fails", Status.MARGINAL: "stays marginal", Status.UNKNOWN: "is not known"}
_STRANDS = {
    StrandChange.EARTH_BETWEEN: "earth strands between",
    StrandChange.MESH_BEFORE: "mesh before it",
}


class TooManySearches(StoreError):
    """More searches at once than one account may have."""


class Interrupted(Exception):
    """The worker stops: another goes on with it."""


def ask(begin_transaction: BeginTransaction, jobs: Jobs, opened: OpenPlan, wishes: Wishes) -> SearchRow:
    """Ask for a search of what stands of a plan; one that is known already is found again. Raises TooManySearches."""
    with begin_transaction() as connection:
        found = searches.ask_search(
            connection,
            plan_id=opened.id,
            number=opened.stored.current,
            wishes=asdict(wishes),
            program=edition_of_rules(),
            asked_by=opened.account_id,
        )
        if searches.count_open_searches(connection, account_id=opened.account_id) > MOST_AT_ONCE:
            raise TooManySearches(
                f"{MOST_AT_ONCE} searches of yours are running. Stop one, or let one end, and search again."
            )
    if found.state == "waiting":
        jobs.search(found.id)
    return found


def told(begin_transaction: BeginTransaction, opened: OpenPlan, search_id: int) -> SearchRow:
    """How far a search is. Raises Missing."""
    with begin_transaction() as connection:
        found = searches.get_search(connection, plan_id=opened.id, search_id=search_id)
    if found is None:
        raise Missing("That search has been deleted. Search again.")
    return found


def stop(begin_transaction: BeginTransaction, opened: OpenPlan, search_id: int) -> None:
    """Stop a search; its best so far stays."""
    with begin_transaction() as connection:
        searches.stop_search(connection, plan_id=opened.id, search_id=search_id)


def latest(begin_transaction: BeginTransaction, opened: OpenPlan) -> SearchRow | None:
    """The search that was last asked for what stands of a plan."""
    with begin_transaction() as connection:
        return searches.get_latest_search(
            connection, plan_id=opened.id, number=opened.stored.current, program=edition_of_rules()
        )


def run_search(begin_transaction: BeginTransaction, search_id: int, stopping: Callable[[], bool]) -> None:
    """A worker's part: search, keep how far it is, end when it is stopped or too long. Raises Interrupted."""
    with begin_transaction() as connection:
        asked = searches.begin_search(connection, search_id=search_id)
    if asked is None:
        return
    until = time.monotonic() + LONGEST_S
    try:
        for step in stream_search(read_written(asked), _WISHES.validate_python(asked.wishes)):
            state = "failed" if "fault" in step else "done" if step.get("finished") else "running"
            if state == "running" and time.monotonic() > until:
                state = "stopped"
            with begin_transaction() as connection:
                if not searches.tell_search(connection, search_id=search_id, told=step, state=state):
                    return
            if state != "running":
                return
            if stopping():
                raise Interrupted
    except (StoreError, Interrupted):
        raise
    except Exception as error:
        reference = secrets.token_hex(4)
        _LOG.error("reference %s", reference, exc_info=error)
        fault = {"fault": f"The search could not be computed: our mistake, reference {reference}."}
        with begin_transaction() as connection:
            searches.tell_search(connection, search_id=search_id, told=fault, state="failed")


def stream_search(plan: Plan, wishes: Wishes) -> Iterator[dict[str, Any]]:
    """How far the search is and the best so far, a few times a second, and the last word.

    What cannot be searched is told as a fault in words.
    """
    # A design has to hold on a sound fence: what is tried on the plan is left out.
    plan = replaced(plan, what_ifs=())
    now, latest, last = bill(plan).total, time.monotonic(), None
    try:
        for last in search(plan, wishes):
            if time.monotonic() - latest >= _EVERY_S:
                latest = time.monotonic()
                yield _progress_json(plan, last, now)
    except (Incomplete, ValueError) as missing:
        yield {"fault": str(missing)}
        return
    if last:
        yield _progress_json(plan, last, now) | {"finished": True}


def _progress_json(plan: Plan, step: SearchProgress, now: float) -> dict[str, Any]:
    return {
        "done": step.done,
        "computed": step.computed,
        "total": step.total,
        "front": [{"cost": d.cost, "margin": round(d.margin, 3), "holds": d.holds} for d in step.front],
        "best": [_design_json(plan, d, now) for d in step.best],
    }


def _link_words(plan: Plan, link: Link) -> str:
    ends = [met[0] for spot in link if (met := nearest_place(plan.runs, spot))]
    words = " and ".join(place_words(plan, place) for place in ends)
    return f"a link of {format_length(math.dist(*link), plan.units)} between {words}"


def _design_json(plan: Plan, found: Design, now: float) -> dict[str, Any]:
    choice = found.choice
    build = choice.build
    long = "" if choice.rod_m in (None, plan.rods.length_m) else f" of {format_length(choice.rod_m or 0, plan.units)}"
    parts = [catalogue(plan)[choice.energizer].label, f"{choice.rods} rods{long}"]
    if choice.rods_at:
        parts.append("rods in damper ground")
    if build.strands is not StrandChange.NONE:
        parts.append(_STRANDS.get(build.strands, build.strands.value))
    if build.more_live:
        parts.append("one live strand more")
    if build.far_rods:
        parts.append("3 rods at the far end")
    if build.conductor:
        parts.append(conductors()[build.conductor].label)
    if build.feed_at and (fed := nearest_place(plan.runs, build.feed_at)):
        parts.append(f"fed in at {place_words(plan, fed[0])}")
    if build.link:
        parts.append(_link_words(plan, build.link))
    left = left_open(plan, choice)
    if choice.energizer in unpriced_units(plan):
        parts[0] += " (its price is unknown)"
    weakest = "the earth test, " if found.by_test else f"{animal_word(found.animal)}, " if found.animal else ""
    where = place_words(plan, found.where) if found.where else ""
    return {
        "words": ", ".join(parts),
        "choice": asdict(choice),
        "cost": found.cost,
        "more": round(found.cost - now, 2),
        "margin": round(found.margin, 3),
        "holds": found.holds and not any(status is Status.FAILS or stage in _ANSWERED for stage, status in left),
        "leaves": [f"{stage.label} {_STATUS[status]}" for stage, status in left],
        "least_kv": kv_words(found.least_kv),
        "weakest": f"{weakest}{found.season.value}{', ' if where else ''}{where}",
    }
