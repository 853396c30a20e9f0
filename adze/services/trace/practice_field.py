"""Practice on a phone without signal: a round that the server draws, with what every reading of it would show."""

from dataclasses import asdict, dataclass
from typing import Any

from adze.core.basics.faults import FieldFault
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.practice.halving import halve_all
from adze.core.practice.simulated_farm import HiddenFault, Truth, simulated_farm, walk_all
from adze.core.pulse.network import NetworkError
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import farm_of, fence_place
from adze.services.plans.plans import OpenPlan
from adze.services.trace.practice import CAUSES, MOST_FAULTS, hide, unit_kv
from adze.store.connection import BeginTransaction
from adze.store.trace import searches


def field_round(plan: Plan, season: str, faults: int, seed: int) -> dict[str, Any]:
    """Faults hidden on the own farm, and its table of answers for a phone. Raises FieldFault, Incomplete.

    `states` has a row for every set of faults that may be left, by the sum of 2 to their numbers: kV at each place, A
    in each of its legs, kV of the rods, without the tester's errors. A fault is seen at its `place`. With `truth`, the
    factors of unit, rods and growth, a phone computes what shows while switches stand open.
    """
    if season not in {s.value for s in Season}:
        raise FieldFault("season", f"Season: {season[:20]!r} is not known; choose dry, usual or wet.")
    if not 1 <= faults <= MOST_FAULTS:
        raise FieldFault("hidden", f"Hidden faults: 1 to {MOST_FAULTS}.")
    try:
        hidden = hide(plan, Season(season), faults, seed)
        return _tables(plan, Season(season), hidden)
    except NetworkError as error:
        raise FieldFault("season", f"Trace: {error}.") from None


def _tables(plan: Plan, season: Season, hidden: dict[str, Any]) -> dict[str, Any]:
    farm, truth = farm_of(plan, season), Truth(**hidden["truth"])
    faults, where = [HiddenFault(**fault) for fault in hidden["faults"]], grid(farm)
    states = []
    for mask in range(2 ** len(faults)):
        there = simulated_farm(farm, [fault for k, fault in enumerate(faults) if mask >> k & 1], truth, 0)
        rows = [
            [there.true_reading(where.at(place, leg), leg) for leg in legs] for place, legs in enumerate(where.legs)
        ]
        states.append(
            {
                "restored": there.is_restored,
                "rods_kv": round(there.true_rods_kv(), 3),
                "kv": [round(own[0][0], 3) for own in rows],
                "amps": [[round(amps, 2) for _, amps in own] for own in rows],
            }
        )
    walked, halved = (way(simulated_farm(farm, faults, truth, hidden["seed"])) for way in (walk_all, halve_all))
    return {
        "season": season.value,
        "seed": hidden["seed"],
        "unit_kv": unit_kv(plan, hidden),
        "truth": {name: hidden["truth"][name] for name in ("unit", "rods", "grass")},
        "faults": [_seen(plan, where, fault) for fault in faults],
        "states": states,
        "halving_minutes": round(halved.minutes),
        "walking_minutes": round(walked.minutes),
        "walking_restored": walked.is_restored,
    }


def _seen(plan: Plan, where: Any, fault: HiddenFault) -> dict[str, Any]:
    place = where.place(fault.seen_at)
    at = fence_place(plan, where, place, fault.span)
    on = {"run": at.run, "at_m": round(at.at_m, 1)} if at else {"run": "", "at_m": 0.0}
    lies = {"span": fault.span, "span_at_m": fault.at_m, "until_m": fault.until_m, "size": fault.size}
    return lies | {"place": place, "kind": fault.kind, "cause": CAUSES[fault.kind]} | on


@dataclass(frozen=True)
class Practised:
    """How a round on a phone went, with its token."""

    idempotency_key: str
    season: str
    seed: int
    faults: int
    left: int
    restored: bool
    minutes: int
    metres: int
    readings: int
    steps: int
    causes: tuple[str, ...]
    advice_minutes: int
    advice_restored: bool
    halving_minutes: int
    walking_minutes: int
    walking_restored: bool


def keep_practised(begin_transaction: BeginTransaction, opened: OpenPlan, told: Practised, by: int) -> None:
    """Keep a round that was practised on a phone, once. Raises FieldFault."""
    if told.season not in {s.value for s in Season}:
        raise FieldFault("season", f"Season: {told.season[:20]!r} is not known; choose dry, usual or wet.")
    result = asdict(told) | {"practice": True, "lesson": "", "finds": [{"cause": cause} for cause in told.causes]}
    for name in ("idempotency_key", "season", "seed", "causes"):
        result.pop(name)
    with begin_transaction() as connection:
        searches.add_practised(
            connection,
            plan_id=opened.id,
            season=told.season,
            hidden={"seed": told.seed, "once": told.idempotency_key, "faults": []},
            result=result,
            started_by=by,
        )
