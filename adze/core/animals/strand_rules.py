"""Heights and roles of strands from the animals' bodies. Lengths in cm above ground, kV peak.

Every limit comes from three body figures (nose, shoulder, head width) and what the animal does.
Rules are numbered as in docs/strands.md. The same limits serve the design and the checks.
"""

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache

from adze.core.basics.cache import cached
from adze.core.basics.rounding import round_half_up


class Purpose(StrEnum):
    """Held in, or kept out."""

    HOLD = "hold"
    OUT = "out"


class Duty(StrEnum):
    """What stands behind the fence: more fence, the usual, or nothing."""

    INNER = "inner"
    HOLD = "hold"
    LAST = "last"


class Scheme(StrEnum):
    """All strands live, or live and earth in turn."""

    LIVE = "live"
    ALTERNATE = "alternate"


class Role(StrEnum):
    """What a strand carries."""

    LIVE = "live"
    EARTH = "earth"
    DEAD = "dead"


@dataclass(frozen=True)
class Animal:
    """A kind at the fence: body in cm, habits, wanted kV (new, schooled; `step_kv` more); `bold`: training fails."""

    kind: str
    nose_cm: float
    shoulder_cm: float
    head_cm: float
    spring_cm: float
    digs: bool
    climbs: bool
    smooth: bool
    fleece_cm: float
    kv_new: float
    kv_schooled: float
    wild: bool
    purpose: Purpose
    schooled: bool
    step_kv: float = 0.0
    bold: bool = False

    def sized(self, nose_cm: float, shoulder_cm: float, head_cm: float) -> "Animal":
        """The same animal with another body."""
        return replace(self, nose_cm=nose_cm, shoulder_cm=shoulder_cm, head_cm=head_cm)

    def __post_init__(self) -> None:
        """Refuse a body without size."""
        for name in ("nose_cm", "shoulder_cm", "head_cm"):
            value = getattr(self, name)
            if not (math.isfinite(value) and 0 < value < 400):
                raise ValueError(f"{self.kind}: {name} is {value}, must be between 0 and 400")
        for name in ("spring_cm", "fleece_cm"):
            if not 0 <= getattr(self, name) < 400:
                raise ValueError(f"{self.kind}: {name} is {getattr(self, name)}, must be 0 or more")


@dataclass(frozen=True)
class Strand:
    """One strand: height in cm and what it carries."""

    cm: float
    role: Role


# Assumptions of the rules, each with its range.
SNIFF_GAP = 2.2  # of head width (1.8-2.6): a sniffing nose wanders 0.6 head widths up and down
PUSH_GAP = 1.25  # (1-1.5): a pushing one an eighth
LOW_PASSAGE = 0.40  # of shoulder (0.33-0.5): lowest passage on bent legs
DIGGER_NOSE = 0.70  # of nose (0.6-0.8)
DUCK = 0.65  # of shoulder: a strand on a back that feels it
CHEST_SNIFF, CHEST_PUSH = 0.75, 0.80  # of shoulder (0.7-0.8; 0.75-0.9)
NO_LIMIT_CM = 240.0
SWING_CM = 5
OFF_FIVES = 0.02
MOST_STRANDS = 8  # (6-10): posts, insulators, tension
HIGHEST_CM = 200
GRASS_CM = 40  # (25-55): strands at or below it share a switch
POST_OVER_CM = 5  # (3-10)
WOOLLY_CM = 3


@dataclass(frozen=True)
class Limits:
    """What one animal asks of a fence with a duty, in whole cm."""

    animal: Animal
    sniffs: bool
    ducks: bool
    gap_at_nose_cm: int
    lowest_cm: int
    chest_cm: int
    top_cm: int

    @property
    def touch_cm(self) -> float:
        """Farthest a nose may be from a live strand."""
        return max(self.animal.head_cm, self.gap_at_nose_cm / 2)

    def gap_cm(self, lower_edge_cm: float) -> int | None:
        """Widest gap above an edge (rule 4), None where there is no limit."""
        if lower_edge_cm >= self.top_cm:
            return None
        a = self.animal
        climb = 0.0
        if lower_edge_cm > a.nose_cm:
            climb = min(1.0, (lower_edge_cm - a.nose_cm) / max(a.shoulder_cm - a.nose_cm, 1e-9))
        return round_half_up(self.gap_at_nose_cm * (1 + climb))


def limits_of(animal: Animal, duty: Duty) -> Limits:
    """Rules 1 and 3 to 7 for one animal."""
    a = animal
    sniffs = a.purpose is Purpose.HOLD and a.schooled and duty is not Duty.LAST
    ducks = duty is Duty.INNER and sniffs and a.smooth and not (a.digs or a.climbs)
    gap = round_half_up(a.head_cm * (SNIFF_GAP if sniffs else PUSH_GAP))
    if ducks:
        lowest = max(a.nose_cm, DUCK * a.shoulder_cm)
    else:
        lowest = min(float(gap), LOW_PASSAGE * a.shoulder_cm)
        if a.digs:
            lowest = min(lowest, DIGGER_NOSE * a.nose_cm)
    if sniffs and duty is Duty.INNER:
        chest = max(a.nose_cm, min(0.6 * a.shoulder_cm, a.nose_cm + a.head_cm))
        top = chest
    else:
        share = CHEST_SNIFF if sniffs else CHEST_PUSH
        chest = max(a.nose_cm, share * a.shoulder_cm)
        top = max(a.nose_cm, share * a.shoulder_cm + a.spring_cm)
    return Limits(a, sniffs, ducks, gap, round_half_up(lowest), round_half_up(chest), round_half_up(top))


def wanted_kv(animals: tuple[Animal, ...]) -> float:
    """Rule 12: what the hardest animal wants at the far end, kV."""
    return max(
        (a.kv_schooled if a.schooled else a.kv_new) + (1.0 if a.fleece_cm > WOOLLY_CM else 0.0) + a.step_kv
        for a in animals
    )


def gap_limit_cm(limits: tuple[Limits, ...], lower_edge_cm: float) -> int | None:
    """The hardest animal's gap above an edge, None where no animal sets one."""
    known = [gap for one in limits if (gap := one.gap_cm(lower_edge_cm)) is not None]
    return min(known) if known else None


def _up_to_fives(cm: int) -> int:
    return -(-cm // 5) * 5


def post_over_cm(top_cm: float) -> int:
    """Rule 15: how far a post stands above ground for a top strand, cm, up to the fives."""
    return _up_to_fives(math.ceil(top_cm + POST_OVER_CM))


def _count(limits: tuple[Limits, ...], lowest: int, top: int) -> int:
    """Rule 8: strands from the lowest to the top by the longest steps."""
    at, count = lowest, 1
    while at < top:
        step = gap_limit_cm(limits, at)
        at = top if step is None else min(top, at + max(step, SWING_CM))
        count += 1
    return count


def _ends_and_count(limits: tuple[Limits, ...], duty: Duty) -> tuple[int, int, int]:
    """Rules 7 and 8: lowest strand, top strand, how many."""
    bottom = min(one.lowest_cm for one in limits)
    if bottom >= 20:
        bottom -= bottom % 5

    def fit(top: int) -> tuple[int, int, int]:
        lowest = min(bottom, top)
        if top - lowest >= SWING_CM:
            return lowest, top, _count(limits, lowest, top)
        if all(top <= one.lowest_cm for one in limits):
            return top, top, 1
        lowest = max(1, top - SWING_CM)
        return lowest, top, _count(limits, lowest, top)

    hardest = max(one.top_cm for one in limits)
    plain = fit(hardest)
    if duty is Duty.INNER or hardest < 40:
        return plain
    rounded = fit(_up_to_fives(hardest))
    return plain if rounded[2] > plain[2] else rounded


def spread(limits: tuple[Limits, ...], lowest: int, top: int, count: int) -> tuple[int, ...]:
    """Rule 9: the fairest whole-cm heights of `count` strands from lowest to top, found exactly."""
    if count == 1:
        return (top,)
    top = max(top, lowest + SWING_CM * (count - 1))

    allowed = {at: gap_limit_cm(limits, at) for at in range(lowest, top + 1)}

    @cache
    def best(at: int, left: int) -> tuple[float, tuple[int, ...]]:
        limit = allowed[at]
        shown = NO_LIMIT_CM if limit is None else min(float(limit), NO_LIMIT_CM)
        if left == 1:
            gap = top - at
            fits = gap >= SWING_CM and (limit is None or gap <= max(limit, SWING_CM))
            return ((gap / shown) ** 2, (top,)) if fits else (math.inf, ())
        found: tuple[float, tuple[int, ...]] = (math.inf, ())
        reach = top - SWING_CM * (left - 1)
        if limit is not None:
            reach = min(reach, at + max(limit, SWING_CM))
        for height in range(at + SWING_CM, reach + 1):
            cost, rest = best(height, left - 1)
            cost += ((height - at) / shown) ** 2 + (OFF_FIVES if height % 5 else 0.0)
            if cost < found[0] - 1e-12:
                found = (cost, (height, *rest))
        return found

    return lowest, *best(lowest, count - 1)[1]


@dataclass(frozen=True)
class Pattern:
    """A designed set of strands and what goes with it. Heights in cm, indices from the lowest strand."""

    strands: tuple[Strand, ...]
    switch: tuple[int, ...]
    post_cm: int
    wanted_kv: float
    limits: tuple[Limits, ...]
    refusal: str

    @property
    def holds(self) -> bool:
        """Whether one set can do it (rule 13)."""
        return not self.refusal

    @property
    def bottom_off(self) -> tuple[Strand, ...]:
        """The strands with the bottom group switched off."""
        return tuple(Strand(s.cm, Role.DEAD) if i in self.switch else s for i, s in enumerate(self.strands))


def nose_meets_live(limit: Limits, strands: tuple[Strand, ...], slack: float = 1.0) -> bool:
    """Whether the animal's nose comes near enough to a live strand (touch check)."""
    live = [s.cm for s in strands if s.role is Role.LIVE]
    return bool(live) and min(abs(cm - limit.animal.nose_cm) for cm in live) <= limit.touch_cm * slack


def narrowest_bridge_cm(limit: Limits, strands: tuple[Strand, ...]) -> float | None:
    """The narrowest live-earth pair within reach of the head, cm (bridge check); None if there is none."""
    reach = limit.animal.nose_cm + limit.animal.head_cm / 2
    pairs = [
        abs(a.cm - b.cm)
        for a in strands
        for b in strands
        if a.role is Role.LIVE and b.role is Role.EARTH and min(a.cm, b.cm) <= reach
    ]
    return min(pairs) if pairs else None


def _in_turn(heights: tuple[int, ...], limits: tuple[Limits, ...]) -> tuple[Strand, ...]:
    """Rule 10: live at the bottom and the top, live and earth in turn between."""
    live = tuple(Strand(cm, Role.LIVE) for cm in heights)
    if len(heights) == 1:
        half = heights[0] // 2
        return live if half < SWING_CM else (Strand(half, Role.EARTH), *live)
    if len(heights) == 2:
        if heights[1] - heights[0] < 2 * SWING_CM:
            return live
        return live[0], Strand((heights[0] + heights[1]) // 2, Role.EARTH), live[1]

    def roles(doubled: int | None) -> tuple[Strand, ...]:
        # Up to the doubled pair even strands are live, above it odd ones.
        return tuple(
            Strand(cm, Role.LIVE if (i - (doubled is not None and i > doubled)) % 2 == 0 else Role.EARTH)
            for i, cm in enumerate(heights)
        )

    if len(heights) % 2:
        return roles(None)

    def worth(doubled: int) -> tuple[int, int, int]:
        strands = roles(doubled)
        noses = sum(nose_meets_live(one, strands) for one in limits)
        bridges = [narrowest_bridge_cm(one, strands) for one in limits]
        heads = sum(b is not None and b <= one.gap_at_nose_cm for b, one in zip(bridges, limits, strict=True))
        return noses, heads, doubled

    return roles(max(range(0, len(heights) - 1, 2), key=worth))


def bottom_group(strands: tuple[Strand, ...]) -> tuple[int, ...]:
    """Rule 14: live strands in the grass, on one switch; never all that are live."""
    live = [i for i, s in enumerate(strands) if s.role is Role.LIVE]
    low = [i for i in live if strands[i].cm <= GRASS_CM]
    return tuple(low[:-1] if len(low) == len(live) else low)


def _refusal(limits: tuple[Limits, ...], count: int, top: int) -> str:
    """Rule 13: why no single set holds, with the animals that pull apart; empty when one does."""
    if count <= MOST_STRANDS and top <= HIGHEST_CM:
        return ""
    least = min(limits, key=lambda one: one.gap_at_nose_cm)
    tallest = max(limits, key=lambda one: one.top_cm)
    what = f"{count} strands, at most {MOST_STRANDS}" if count > MOST_STRANDS else f"{top} cm, at most {HIGHEST_CM}"
    if least is tallest:
        return f"No single set of strands holds ({what}): {least.animal.kind} alone rules it out. Use netting or mesh."
    return (
        f"No single set of strands holds ({what}): {least.animal.kind} needs gaps of {least.gap_at_nose_cm} cm up "
        f"to {least.top_cm} cm, {tallest.animal.kind} a top of {tallest.top_cm} cm. Use netting or mesh up to "
        f"{least.top_cm} cm with strands above, or two fences."
    )


@cached("designs", 256)
def design(animals: tuple[Animal, ...], duty: Duty, scheme: Scheme = Scheme.LIVE) -> Pattern:
    """The strands that hold all the animals, fewest first (rules 1 to 15).

    Raises ValueError without animals.
    """
    if not animals:
        raise ValueError("animals: choose at least one; the heights follow from them")
    limits = tuple(limits_of(a, duty) for a in animals)
    lowest, top, count = _ends_and_count(limits, duty)
    heights = spread(limits, lowest, top, count)
    strands: tuple[Strand, ...] = tuple(Strand(cm, Role.LIVE) for cm in heights)
    if scheme is Scheme.ALTERNATE:
        strands = _in_turn(heights, limits)
        # Rule 11: where a nose meets only an earth strand, one strand more, two at most.
        for more in (1, 2):
            if all(nose_meets_live(one, strands, 1.1) for one in limits) or count + more > MOST_STRANDS:
                break
            longer = _in_turn(spread(limits, lowest, top, count + more), limits)
            if _noses(limits, longer) > _noses(limits, strands):
                strands = longer
    top_cm = round_half_up(strands[-1].cm)
    return Pattern(
        strands=strands,
        switch=bottom_group(strands),
        post_cm=post_over_cm(top_cm),
        wanted_kv=wanted_kv(animals),
        limits=limits,
        refusal=_refusal(limits, len(strands), top_cm),
    )


OFFSET_SHARE = 2 / 3  # of shoulder (0.6-0.7): where a strand stands off an old fence


def stood_off(animals: tuple[Animal, ...], duty: Duty) -> tuple[Strand, ...]:
    """The fewest live strands in front of something solid that every nose meets; what is behind keeps bodies back.

    Near two thirds of the shoulder, or at the nose of what roots, as far as all noses of a group reach.
    Fewest: intervals met from the one that ends first. Raises ValueError without animals.
    """
    if not animals:
        raise ValueError("animals: choose at least one; the heights follow from them")
    reach = [
        (math.ceil(one.animal.nose_cm - one.touch_cm), math.floor(one.animal.nose_cm + one.touch_cm), one.animal)
        for one in (limits_of(a, duty) for a in animals)
    ]
    left = sorted(reach, key=lambda row: row[1])
    found: list[int] = []
    while left:
        end = left[0][1]
        group = [row for row in left if row[0] <= end]
        left = [row for row in left if row[0] > end]
        low = max(row[0] for row in group)
        if found:
            low = max(low, found[-1] + SWING_CM)
        wishes = [a.nose_cm if a.digs else OFFSET_SHARE * a.shoulder_cm for _, _, a in group]
        found.append(max(min(round_half_up(sum(wishes) / len(wishes)), end), low, SWING_CM))
    return tuple(Strand(float(cm), Role.LIVE) for cm in found)


def _noses(limits: tuple[Limits, ...], strands: tuple[Strand, ...]) -> int:
    return sum(nose_meets_live(one, strands, 1.1) for one in limits)
