"""How plans stand, kept with their revisions, so that a list of farms computes nothing."""

import hashlib
import logging
from datetime import UTC, date, datetime
from functools import cache
from importlib import resources
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

from adze import core
from adze.core.basics.units import kv_words
from adze.core.ground.lines import length_m
from adze.core.log.due import READ_DAYS
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.formats.errors import FormatError
from adze.formats.plan.sketch import sketch
from adze.services.answers.forecasts import judgement_of, known_judgement
from adze.services.log.earth_tests import seasons_due
from adze.services.plans.plans import OpenPlan, read_written
from adze.services.sharing.people import MAY_WORDS
from adze.store.connection import BeginTransaction
from adze.store.judging import verdicts
from adze.store.judging.verdicts import FormerVerdict, KeptVerdict
from adze.store.log.devices import PlanAlarm, list_plan_alarms
from adze.store.log.earth_tests import list_last_tests
from adze.store.log.readings import list_last_read
from adze.store.plans.farms import list_removed

FARMS_A_PAGE = 30
_NOTICED_KV = 0.1  # of the far end: less is not told
BROKEN = "broken"
_LOG = logging.getLogger("adze")


@cache
def edition_of_rules() -> str:
    """What the verdicts are given by: a hash of the core's code and tables. Another one judges every plan again."""
    seen, todo = hashlib.sha256(), [resources.files(core)]
    while todo:
        for entry in sorted(todo.pop().iterdir(), key=lambda e: e.name):
            if entry.is_dir():
                todo.append(entry)
            elif entry.name.endswith((".py", ".csv")):
                seen.update(entry.name.encode() + entry.read_bytes())
    return seen.hexdigest()[:16]


def verdict_of(plan: Plan) -> KeptVerdict:
    """How a plan stands, in the words and the picture of the list."""
    judged = judgement_of(plan)
    worst = judged.worst
    line = f"{worst.title.lower()}, {worst.figure}" if worst else ""
    metres = sum(length_m(run) for run in plan.runs)
    end_kv = judged.volts[Season.USUAL].end_kv if judged.volts else None
    paths = list(sketch(plan).paths)
    return KeptVerdict(edition_of_rules(), judged.status.value, line.rstrip(", "), metres, paths, end_kv)


def computed_anew(begin_transaction: BeginTransaction, opened: OpenPlan) -> str:
    """What other rules changed of an open plan's verdict, in words, told once; nothing where nothing changed."""
    with begin_transaction() as connection:
        found = verdicts.take_former_verdict(connection, plan_id=opened.id, number=opened.stored.current)
    if found is None:
        return ""
    parts = []
    if found.end_kv is not None and found.was_end_kv is not None:
        more = found.end_kv - found.was_end_kv
        if abs(more) >= _NOTICED_KV:
            parts.append(f"the far end reads {kv_words(abs(more))} kV {'more' if more > 0 else 'less'}")
    if (found.status, found.line) != (found.was_status, found.was_line):
        was, now = (": ".join(x for x in row if x) for row in _both(found))
        parts.append(f"before: {was}; now: {now}")
    return f"Forecasts were recomputed: {'; '.join(parts)}. Readings are unchanged." if parts else ""


def _both(found: FormerVerdict) -> tuple[tuple[str, str], tuple[str, str]]:
    return (found.was_status, found.was_line), (found.status, found.line)


def keep_known_verdict(begin_transaction: BeginTransaction, opened: OpenPlan) -> None:
    """Keep the verdict of an open plan that has just been judged; nothing where it has not."""
    if known_judgement(opened.plan) is not None:
        keep_verdict_of(begin_transaction, opened.plan, plan_id=opened.id, number=opened.stored.current)


def keep_verdict_of(begin_transaction: BeginTransaction, plan: Plan, *, plan_id: int, number: int) -> None:
    """Judge a plan and keep how it stands as the verdict of one of its revisions."""
    verdict = verdict_of(plan)
    with begin_transaction() as connection:
        verdicts.keep_verdict(connection, verdict, plan_id=plan_id, number=number)


def judge_stored(begin_transaction: BeginTransaction, plan_id: int) -> str | None:
    """Judge what stands of a plan and keep it; the status, or None where the plan is gone.

    One that cannot be read or judged is kept as broken: its page says so, and its history brings it back.
    """
    with begin_transaction() as connection:
        found = verdicts.get_current(connection, plan_id=plan_id)
    if found is None:
        return None
    try:
        verdict = verdict_of(read_written(found))
    except Exception as error:
        if not isinstance(error, FormatError):
            _LOG.error("plan %s could not be judged", plan_id, exc_info=error)
        verdict = KeptVerdict(edition_of_rules(), BROKEN, "cannot be opened as it stands", 0.0, [])
    with begin_transaction() as connection:
        verdicts.keep_verdict(connection, verdict, plan_id=plan_id, number=found.number)
    return verdict.status


_ALARMS = {"low": "low", "fast": "fell fast", "battery": "battery low", "silent": "silent"}


def _alarm_words(going: tuple[PlanAlarm, ...]) -> dict[int, str]:
    """The alarms that go on at each plan, in words."""
    found: dict[int, list[str]] = {}
    for row in going:
        since = row.since.astimezone(ZoneInfo(row.time_zone))
        found.setdefault(row.plan_id, []).append(f"{row.name} {_ALARMS[row.kind]} since {since:%-d %b, %H:%M}")
    return {plan: "; ".join(words) for plan, words in found.items()}


def farms_view(begin_transaction: BeginTransaction, account_id: int, page: int) -> dict[str, Any]:
    """A page of an account's farms with their plans, and the plans that nobody has judged yet."""
    program, skip = edition_of_rules(), FARMS_A_PAGE * max(0, page - 1)
    with begin_transaction() as connection:
        farms = verdicts.list_farm_page(
            connection, account_id=account_id, program=program, most=FARMS_A_PAGE, skip=skip
        )
        cards = verdicts.list_cards(connection, farms=[farm.id for farm in farms], program=program)
        removed = list_removed(connection, account_id=account_id)
        tested = list_last_tests(connection, plans=[card.id for card in cards])
        read = list_last_read(connection, plans=[card.id for card in cards])
        going = list_plan_alarms(connection, plans=[card.id for card in cards])
    plans: dict[int, list[verdicts.Card]] = {}
    for card in cards:
        plans.setdefault(card.farm_id, []).append(card)
    count = farms[0].farms if farms else 0
    last: dict[int, dict[str, date | None]] = {}
    for row in tested:
        last.setdefault(row.plan_id, {})[row.season] = row.read_on
    today = datetime.now(UTC).date()
    read_days = {row.plan_id: (today - row.read_at.date()).days for row in read}
    return {
        "unread": {plan: days for plan, days in read_days.items() if days > READ_DAYS},
        "alarms": _alarm_words(going),
        "due": {card.id: seasons_due(last.get(card.id, {}), today) for card in cards if card.paths},
        "time_zones": sorted(available_timezones()),
        "farms": farms,
        "plans": plans,
        "removed": removed,
        "role_words": MAY_WORDS,
        "count": count,
        "page_number": max(1, page),
        "pages": -(-count // FARMS_A_PAGE),
        "unjudged": [card.id for card in cards if card.status is None],
    }
