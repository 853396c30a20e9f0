"""How plans stand, kept beside their revisions; the list of farms by it."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries
from adze.store.plans.plans import Written

_QUERIES = load_queries(__name__)


@dataclass(frozen=True)
class KeptVerdict:
    """How a revision stands: the edition of the rules, status, the worst in words, metres of fence, a small picture.

    `end_kv` is what the far end reads in the usual week.
    """

    program: str
    status: str
    line: str
    length_m: float
    paths: list[str]
    end_kv: float | None = None


@dataclass(frozen=True, kw_only=True)
class FormerVerdict:
    """A verdict beside what it was by earlier rules."""

    status: str
    line: str
    end_kv: float | None
    was_status: str
    was_line: str
    was_end_kv: float | None


@dataclass(frozen=True, kw_only=True)
class FarmRow:
    """A farm of a page of farms, and what one may do with it; `farms` counts all of them."""

    id: int
    name: str
    note: str
    currency: str
    time_zone: str
    role: int
    owner_name: str
    farms: int


@dataclass(frozen=True, kw_only=True)
class Card:
    """A plan in the list of farms; without a status it is not judged yet."""

    id: int
    farm_id: int
    name: str
    number: int
    changed_at: datetime
    status: str | None
    line: str | None
    length_m: float | None
    paths: list[str] | None


@dataclass(frozen=True, kw_only=True)
class Current(Written):
    """The revision of a plan that stands."""

    number: int


def keep_verdict(connection: Connection, verdict: KeptVerdict, *, plan_id: int, number: int) -> None:
    """Keep how a revision stands; a verdict of other rules is replaced."""
    run(connection, _QUERIES["keep_verdict"], plan_id=plan_id, number=number, **vars(verdict))


def take_former_verdict(connection: Connection, *, plan_id: int, number: int) -> FormerVerdict | None:
    """What a revision's verdict was by earlier rules, the first time that it is asked for."""
    return fetch_one(connection, _QUERIES["take_former_verdict"], FormerVerdict, plan_id=plan_id, number=number)


def list_farm_page(
    connection: Connection, *, account_id: int, program: str, most: int, skip: int
) -> tuple[FarmRow, ...]:
    """A page of an account's farms, what needs a hand first."""
    return fetch_all(
        connection,
        _QUERIES["list_farm_page"],
        FarmRow,
        account_id=account_id,
        program=program,
        most=most,
        skip=skip,
    )


def list_cards(connection: Connection, *, farms: list[int], program: str) -> tuple[Card, ...]:
    """The plans of some farms."""
    return fetch_all(connection, _QUERIES["list_cards"], Card, farms=farms, program=program)


def get_current(connection: Connection, *, plan_id: int) -> Current | None:
    """What stands of a plan, whoever owns it; None where it is gone."""
    return fetch_one(connection, _QUERIES["get_current"], Current, plan_id=plan_id)
