"""Kinds of animals and their electrical classes."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table, word_parts

BODIES = ("walker", "croucher", "bird")


@dataclass(frozen=True)
class AnimalKind:
    """A kind of animal: body in cm, habits, wanted kV, touch class, outline; `young` names the kind at foot.

    `causes` and `wants` are spaced words: the losses that it causes, and the things it is after behind a line.
    """

    key: str
    label: str
    plural: str
    nose_cm: float
    shoulder_cm: float
    head_cm: float
    spring_cm: float
    digs: bool
    climbs: bool
    smooth: bool
    fleece_cm: float
    shorn_cm: float
    kv_new: float
    kv_schooled: float
    wild: bool
    purpose: str
    touch_class: str
    young: str
    causes: str
    wants: str
    prey: bool
    paws: bool
    bunches: bool
    least_stored_j: float
    least_released_j: float
    outline: str

    @property
    def outline_parts(self) -> dict[str, float | str | bool]:
        """How the kind is drawn: its body, shares of the shoulder's height, marks. Raises ValueError without a body."""
        body = self.outline.partition(" ")[0]
        if body not in BODIES:
            raise ValueError(f"{self.key}: an outline begins with one of {', '.join(BODIES)}, not {body!r}")
        return word_parts(self.outline) | {"body": body}


@dataclass(frozen=True)
class TouchClass:
    """An animal as a circuit: ohms of body and hoof, disc radius in m, kV a dry coat holds off."""

    key: str
    body_ohm: float
    body_low_ohm: float
    body_high_ohm: float
    hoof_radius_m: float
    feet: int
    hoof_moist_ohm: float
    hoof_dry_ohm: float
    coat_kv: float
    level_new: str
    level_schooled: str


@cache
def animal_kinds() -> dict[str, AnimalKind]:
    """All kinds of animal by key."""
    return read_table("animals.csv", AnimalKind)


@cache
def touch_classes() -> dict[str, TouchClass]:
    """All touch classes by key."""
    return read_table("touch_classes.csv", TouchClass)


def animal_word(kind: str) -> str:
    """The kind's label with a small first letter."""
    label = animal_kinds()[kind].label
    return label[:1].lower() + label[1:]
