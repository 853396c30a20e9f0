"""Where builders differ: what each school does, and why one is taken unless another is chosen."""

from dataclasses import dataclass


@dataclass(frozen=True)
class WorkSchool:
    """A question of the work: its field in the plan's `work`, its answers, and why the first is the default."""

    field: str
    question: str
    answers: tuple[tuple[str, str], ...]
    why: str


WORK_SCHOOLS = (
    WorkSchool(
        "turns",
        "Turns that finish a tie",
        (("5", "five"), ("3", "three or four"), ("7", "seven or eight")),
        "Five turns hold hard wire at any strain here; three slip on soft wire, eight cost time at every end.",
    ),
    WorkSchool(
        "tension",
        "How tight",
        (("press", "by a hand's press"), ("no_slack", "until no slack shows"), ("figure", "by the gauge")),
        "You measure a hand press midway with what is at hand; Adze computes the give from span and strain.",
    ),
    WorkSchool(
        "first",
        "Which strand first",
        (("top", "the top one"), ("two", "top and lowest"), ("bottom", "the lowest one")),
        "You sight along the top strand; the lowest goes first where small stock waits.",
    ),
    WorkSchool(
        "joint",
        "Joints",
        (("clamp", "clamp"), ("crimp", "two sleeves"), ("twist", "locked twist"), ("split_bolt", "split bolt")),
        "A clamp holds and can be checked; a twist costs nothing and spits where it works loose.",
    ),
    WorkSchool(
        "rods",
        "Rods are driven",
        (("driver", "by hand driver, then sledge"), ("rotary", "by rotary hammer")),
        "By hand needs no power at the far rods; a rotary hammer saves half the time where a generator comes along.",
    ),
    WorkSchool(
        "repairs",
        "Small jobs later",
        (("off", "with the fence off"), ("live", "live, with insulated handles")),
        "Switch off at the nearest switch and check with the tester: habit hurts nobody then.",
    ),
)
