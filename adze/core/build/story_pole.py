"""The story pole: the marked stick that gives every height at every post without measuring.

Practice: marked once from a true-scale strip, carried from post to post, its foot on the ground.
"""

from dataclasses import dataclass

from adze.core.animals.strand_rules import Purpose, Role, post_over_cm
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds


@dataclass(frozen=True)
class PoleMark:
    """One strand on the stick: its number from the lowest, height in cm, role, whether it is on the bottom switch."""

    number: int
    cm: float
    role: Role
    switched: bool


@dataclass(frozen=True)
class StoryPole:
    """All marks of a fence, the least height of post over ground in cm, and where insulators go."""

    marks: tuple[PoleMark, ...]
    post_cm: float
    side: str


def story_pole(plan: Plan) -> StoryPole:
    """The story pole of a plan's strands."""
    fence = fence_of(replaced(plan, bottom_off=False))
    low = bottom_group_of(plan)
    marks = tuple(PoleMark(i + 1, s.cm, s.role, i in low) for i, s in enumerate(fence))
    return StoryPole(marks, post_over_cm(fence[-1].cm), insulator_side(plan))


def insulator_side(plan: Plan) -> str:
    """On which side of the posts insulators go: an animal that pushes presses the strand to the post."""
    animals = animals_of(plan)
    held = [a for a in animals if a.purpose is Purpose.HOLD]
    if held:
        largest = max(held, key=lambda a: a.shoulder_cm)
        return f"on the side facing the {animal_kinds()[largest.kind].plural}"
    return "on the outer side" if animals else "on the side facing the animals"
