"""Why the strands stand where they stand: each rule as one sentence with its figure, for each animal."""

from dataclasses import dataclass

from adze.core.animals.strand_rules import (
    CHEST_PUSH,
    CHEST_SNIFF,
    DIGGER_NOSE,
    DUCK,
    LOW_PASSAGE,
    PUSH_GAP,
    SNIFF_GAP,
    Animal,
    Duty,
    Limits,
    limits_of,
)
from adze.core.basics.rounding import round_half_up


@dataclass(frozen=True)
class Reason:
    """One rule for one animal: what it is about, its limit in cm, and the sentence."""

    what: str
    limit_cm: float
    says: str


def reasons(animal: Animal, duty: Duty) -> tuple[Reason, ...]:
    """The rules that set the strands for an animal, from the ground up."""
    limit = limits_of(animal, duty)
    return (
        Reason("lowest strand, at most", limit.lowest_cm, _lowest(limit)),
        Reason("gap at the nose, at most", limit.gap_at_nose_cm, _gap(limit)),
        Reason(
            "gap at the shoulder, at most",
            round_half_up(2.0 * limit.gap_at_nose_cm),
            "Above the nose it must lift its head, so the gap may be twice as wide at the shoulder.",
        ),
        Reason("nose to a live strand, at most", limit.touch_cm, "Farther off its nose meets no pulse."),
        Reason("chest strand, at least", limit.chest_cm, _chest(limit)),
        Reason("top strand, at least", limit.top_cm, _top(limit)),
    )


def _lowest(limit: Limits) -> str:
    a = limit.animal
    if limit.ducks:
        return (
            f"A strand on its back stops it: {DUCK:g} of the shoulder height is low enough, but never under the nose."
        )
    if a.digs and limit.lowest_cm == round_half_up(DIGGER_NOSE * a.nose_cm):
        return f"It roots with its nose low, at {DIGGER_NOSE:g} of the nose's height."
    if limit.lowest_cm == limit.gap_at_nose_cm:
        return "Its head goes under any gap that it fits through."
    return f"With bent legs it creeps under {LOW_PASSAGE:g} of its shoulder height."


def _gap(limit: Limits) -> str:
    if limit.sniffs:
        return f"It sniffs first: its nose moves 0.6 head widths up and down ({SNIFF_GAP:g} head widths in all)."
    return f"It pushes on: in a gap over {PUSH_GAP:g} head widths its head is through before a pulse."


def _chest(limit: Limits) -> str:
    share = CHEST_SNIFF if limit.sniffs else CHEST_PUSH
    return f"Over a strand lower than {share:g} of its shoulder height it leans with its chest."


def _top(limit: Limits) -> str:
    a = limit.animal
    if limit.top_cm == limit.chest_cm:
        return "It does not jump from a stand, so the chest strand is the top."
    return f"From a stand it lifts its body {a.spring_cm:g} cm above the chest strand."
