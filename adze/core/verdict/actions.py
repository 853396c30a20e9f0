"""What the plan itself can do about a finding, as a typed action with a key for pages and files."""

from dataclasses import dataclass
from enum import StrEnum


class ActionKind(StrEnum):
    """The actions, by the word that begins their key."""

    SWITCH = "switch"
    GATE = "gate"
    CROSSING = "crossing"
    SIGN = "sign"
    SIGNS = "signs"
    TEST_POINTS = "tests"
    JOIN = "joined"
    KEEP_APART = "apart"
    DEAD_GATE = "dead-gate"
    DRIVE_OVER = "drive-over"
    MOVE_BACK = "back"
    FEED = "feed"
    SET = "set"
    DIVERTER = "diverter"
    TRAIN = "train"
    SHUT = "shut"
    ROD_SITE = "rod-site"
    HEIGHTS = "heights"
    TOP = "top"


ACTION_WORDS = {
    ActionKind.SWITCH: "Place the switch",
    ActionKind.GATE: "Place a gate",
    ActionKind.CROSSING: "Place the crossing",
    ActionKind.SIGN: "Set a sign",
    ActionKind.SIGNS: "Set the signs",
    ActionKind.TEST_POINTS: "Set the test points",
    ActionKind.JOIN: "Join them",
    ActionKind.KEEP_APART: "Keep them apart",
    ActionKind.DEAD_GATE: "Make it dead when open",
    ActionKind.DRIVE_OVER: "Make it a drive-over",
    ActionKind.MOVE_BACK: "Move it back",
    ActionKind.FEED: "Feed from there",
    ActionKind.SET: "Do it",
    ActionKind.DIVERTER: "Set a lightning diverter at the feed",
    ActionKind.TRAIN: "Train them first",
    ActionKind.SHUT: "Shut it",
    ActionKind.ROD_SITE: "Move the rods to damper, quieter ground",
    ActionKind.HEIGHTS: "Set these heights",
    ActionKind.TOP: "Change the top strand",
}
# What setting a field says, by the field; {} stands for the value.
_SETS = {
    "battery_ah": "Use a battery of {} Ah",
    "deep_cycle": "Use a deep-cycle battery",
    "rate": "Run it at the full rate",
    "half_power": "Use the full terminal",
    "surge": "Add a surge protector",
    "what_ifs": "Join the strands",
    "post_cm": "Use posts as tall as the strands need",
    "post_spacing_m": "Set posts every {} m",
    "post": "Use {} posts",
    "insulator": "Use insulators that fit",
    "end_insulators": "Put a strain insulator at every end",
    "count": "Use {} rods",
    "length_m": "Use rods of {} m",
    "spacing_m": "Set the rods {} m apart",
    "slant_deg": "Slant the rods by {} degrees",
    "bore_cm": "Set the rods in bores of conductive clay",
    "metal": "Use galvanised rods, clamps and lead",
    "clamp_metal": "Use clamps of the rods' metal",
    "lead": "Use fence cable as earth lead",
    "clamp": "Put a bolt clamp on each rod",
}
_OPPOSITE = {ActionKind.JOIN: ActionKind.KEEP_APART, ActionKind.KEEP_APART: ActionKind.JOIN}


@dataclass(frozen=True)
class Action:
    """One action: its kind, and the ids and metres that say on what and where."""

    kind: ActionKind
    of: tuple[str, ...]

    @property
    def key(self) -> str:
        """The action in one word for a page; `read_action` reads it."""
        return ":".join((self.kind.value, *self.of))

    @property
    def words(self) -> str:
        """What its button says."""
        if self.kind is ActionKind.SET and len(self.of) > 2:
            return _SETS.get(self.of[1], ACTION_WORDS[self.kind]).format(self.of[2].replace("_", " "))
        return ACTION_WORDS[self.kind]

    @property
    def opposite(self) -> "Action | None":
        """The other answer to the same question, where there are two."""
        other = _OPPOSITE.get(self.kind)
        return Action(other, self.of) if other else None


def place_action(kind: ActionKind, run: str, at_m: float) -> Action:
    """An action at a place of a line, m from its start."""
    return Action(kind, (run, f"{at_m:.1f}"))


def setting(scope: str, **values: str) -> Action:
    """Fields of the plan set: scope "plan", "supply", "rods", or "fence" for how the lines of a finding are built."""
    return Action(ActionKind.SET, (scope, *(word for pair in values.items() for word in pair)))


def meeting_action(first: str, second: str, at: tuple[float, float], *, joined: bool) -> Action:
    """Two lines joined, or kept apart, where they meet, m east and north."""
    kind = ActionKind.JOIN if joined else ActionKind.KEEP_APART
    return Action(kind, (first, second, *(f"{x:.2f}" for x in at)))


def read_action(key: str) -> Action:
    """The action of a key. Raises ValueError for a kind that is not known."""
    kind, *of = key.split(":")
    if kind not in ACTION_WORDS:
        raise ValueError(f"action {key!r} is not known")
    return Action(ActionKind(kind), tuple(of))
