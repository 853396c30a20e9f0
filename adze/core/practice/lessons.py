"""Prepared lessons of practice: what is hidden on the own farm so that one thing is learned by it."""

import math
import random
from collections import Counter
from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any

from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.practice.simulated_farm import HiddenFault, Truth, simulated_farm
from adze.core.pulse.network import Span
from adze.core.trace.farm import TracedFarm
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import farm_of

_TRIES = 60
_DRY_RODS = 4.0  # times the forecast's ohms


@dataclass(frozen=True)
class PracticeLesson:
    """A lesson: what is told before it, what it teaches, and what is hidden for it."""

    title: str
    told: str
    teaches: str
    hidden: Callable[[TracedFarm, random.Random], tuple[list[HiddenFault], Truth] | None]


def _at_legs(farm: TracedFarm, rng: random.Random) -> tuple[list[HiddenFault], Truth] | None:
    """A hard short beyond a junction, on one of the legs far from the unit."""
    meets = Counter(node for span in _lines(farm) for node in (span.a, span.b))
    beyond = [span for span in _lines(farm) if max(meets[span.a], meets[span.b]) > 2] or _lines(farm)
    far = sorted(beyond, key=lambda span: _away_m(farm, span))[len(beyond) // 2 :]
    return _one(farm, far, (40.0, 100.0), rng)


def _near(farm: TracedFarm, rng: random.Random) -> tuple[list[HiddenFault], Truth] | None:
    """A leak on the branch nearest to the unit."""
    nearest = sorted(_lines(farm), key=lambda span: _away_m(farm, span))[:2]
    return _one(farm, nearest, (80.0, 300.0), rng)


def _dry(farm: TracedFarm, rng: random.Random) -> tuple[list[HiddenFault], Truth] | None:  # noqa: ARG001
    """Nothing leaks; the rods stand in dust."""
    return [], Truth(rods=_DRY_RODS)


LESSONS = {
    "legs": PracticeLesson(
        "Amps at every leg",
        "A hard short, somewhere far out.",
        "Behind a junction kV are low everywhere alike; the leg that draws most says where it is, at once.",
        _at_legs,
    ),
    "near": PracticeLesson(
        "The nearest branch first",
        "The far end is low.",
        "What is low at the far end often leaks close by: the nearest branch is a minute's walk, the end is many.",
        _near,
    ),
    "hooves": PracticeLesson(
        "Dry hooves",
        "They walk through, in the driest week; somebody says the fence is broken.",
        "Nothing leaked: the rods stood in dust. Their kV with the fence on tell it before anybody walks.",
        _dry,
    ),
}


def _lines(farm: TracedFarm) -> list[Span]:
    return [span for span in farm.network.spans if span.id in farm.hazards and not span.is_open]


def _away_m(farm: TracedFarm, span: Span) -> float:
    where = grid(farm)
    first = int(where.first_piece[where.span_number[span.id]])
    return float(where.walk_m[where.start, where.a[first]])


def _one(
    farm: TracedFarm, spans: list[Span], ohm: tuple[float, float], rng: random.Random
) -> tuple[list[HiddenFault], Truth] | None:
    truth = Truth()
    for _ in range(_TRIES):
        span = rng.choice(spans)
        size = math.exp(rng.uniform(math.log(ohm[0]), math.log(ohm[1])))
        fault = HiddenFault("LS", span.id, rng.uniform(0.1, 0.9) * span.length_m, size)
        if not simulated_farm(farm, [fault], truth, 0).is_restored:
            return [fault], truth
    return None


def prepared(plan: Plan, season: Season, lesson: str, seed: int) -> dict[str, Any] | None:
    """What is hidden for a lesson; None where this fence has no place for it. Raises KeyError."""
    found = LESSONS[lesson].hidden(farm_of(plan, season), random.Random(seed))
    if found is None:
        return None
    faults, truth = found
    return {"seed": seed, "faults": [asdict(f) for f in faults], "truth": asdict(truth), "lesson": lesson}
