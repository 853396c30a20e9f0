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
        "Five hold hard wire at any strain here; three slip on soft wire, eight cost time at every end.",
    ),
    WorkSchool(
        "tension",
        "How tight",
        (("press", "by a hand's press"), ("no_slack", "until no slack shows"), ("figure", "by the gauge")),
        "A press midway is measured with what is at hand; the give is computed from span and strain.",
    ),
    WorkSchool(
        "first",
        "Which strand first",
        (("top", "the top one"), ("two", "top and lowest"), ("bottom", "the lowest one")),
        "The top strand is sighted along; the lowest goes first where small stock waits.",
    ),
    WorkSchool(
        "joint",
        "Joints",
        (("clamp", "clamp"), ("crimp", "two sleeves"), ("twist", "locked twist"), ("split_bolt", "split bolt")),
        "A clamp holds and can be looked at; a twist is free and spits where it works loose.",
    ),
    WorkSchool(
        "rods",
        "Rods are driven",
        (("driver", "by hand driver, then sledge"), ("rotary", "by rotary hammer")),
        "By hand needs no current at the far rods; a hammer saves half the time where a generator comes along.",
    ),
    WorkSchool(
        "repairs",
        "Small jobs later",
        (("off", "with the fence off"), ("live", "live, with insulated handles")),
        "Off at the nearest switch and made sure with the tester: nobody is hurt by a habit.",
    ),
)
