"""One step of a job: what, where, how, with what, who, how long, after what."""

from dataclasses import dataclass

from adze.core.plan.scalars import Position

PHASES = {
    "mark": "Set out",
    "services": "Services",
    "ends": "Ends",
    "guide": "Guide strand",
    "posts": "Posts",
    "insulators": "Insulators",
    "strands": "Strands",
    "tension": "Tension",
    "joints": "Joints",
    "gates": "Gates and crossings",
    "lead": "Lead-out",
    "earth": "Earth",
    "signs": "Signs",
    "out": "Everyone out",
    "on": "Switched on",
    "tests": "Tests",
    "close": "Done",
}


MACHINES = {"driver": "driver", "auger": "auger", "digger": "digger", "hammer": "rotary hammer"}


@dataclass(frozen=True)
class Step:
    """A step of the work. `minutes` are for one person; `least` to `most` people work on it at a time.

    `key` stays while the plan changes. `run` is empty for the whole plan, `drawing` names the sheet that shows it.
    A hold is ticked before anything that waits for it begins; `rests_days`: what follows waits so many nights.
    `dry` and `still` are what it asks of the weather; `machine` names what only those who are named for it may use.
    """

    key: str
    phase: str
    title: str
    amount: str
    how: tuple[str, ...]
    minutes: float
    after: tuple[str, ...] = ()
    run: str = ""
    at: Position | None = None
    tools: tuple[str, ...] = ()
    wear: tuple[str, ...] = ()
    parts: tuple[tuple[str, float, str], ...] = ()
    least: int = 1
    most: int = 1
    is_hold: bool = False
    rests_days: int = 0
    machine: str = ""
    dry: bool = False
    still: bool = False
    drawing: str = ""
    reads: str = ""

    @property
    def said(self) -> str:
        """The step as it was when somebody ticked it: what has changed since is told."""
        return f"{self.title}, {self.amount}" if self.amount else self.title
