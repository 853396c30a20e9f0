"""The animals of a plan as the strand rules want them: bodies, fleece by date, what they know.

Sizes follow from the withers or shoulder where only that is measured: nose and head keep the kind's
proportions. Fleece grows evenly from what the shears leave to the kind's full length in a year.
"""

from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum

from adze.core.animals.strand_rules import WOOLLY_CM, Animal, Purpose, wanted_kv
from adze.core.basics.cache import cached
from adze.core.plan.document import Plan
from adze.core.plan.herds import Herd
from adze.core.tables.animals import AnimalKind, animal_kinds, animal_word

YEAR_DAYS = 365.0  # from shearing to full fleece (300-400): most flocks are shorn once a year
LARGE = 1.15  # of the kind's typical shoulder: a large breed
STEP_KV = 0.5  # (0.3-1)
YOUNG_BODY, YOUNG_HEAD = 0.6, 0.68  # of the grown: nose and shoulder, head
YOUNG_SPRING_CM = 15  # the young spring at least so far
TRAINING_DAYS = 5  # several days to a week in the pen
_FLAT_WANTED_KV = 3.0  # the school of one figure for all, where no animal is chosen yet
TRAINING_TOUCHES = 2  # for each animal: usually two or three


def fleece_cm(kind: AnimalKind, herd: Herd, on: date | None) -> float:
    """Length of the fleece, cm: grown since shearing where both dates are known, else as said.

    Without a date to judge on, a flock that is shorn once a year is met in full fleece: the harder case.
    """
    if herd.sheared is None:
        return kind.fleece_cm if herd.woolled else kind.shorn_cm
    if on is None or on < herd.sheared:
        return kind.fleece_cm
    grown = min(1.0, (on - herd.sheared).days / YEAR_DAYS)
    return round(kind.shorn_cm + (kind.fleece_cm - kind.shorn_cm) * grown, 1)


def is_bold(herd: Herd) -> bool:
    """Whether a group walks on though it knows the fence: said to be bold, or entire males."""
    return herd.bold or herd.sex == "entire"


def kv_steps(herd: Herd) -> tuple[str, ...]:
    """Why a group wants more kV than its kind does, each worth `STEP_KV`: large, thick-coated, bold.

    Practice: large or determined animals take little notice of a light unit. The step is an assumption.
    """
    reasons = (
        ("large", scale_of(herd) >= LARGE),
        ("thick-coated", herd.thick_coated),
        ("bold", is_bold(herd)),
    )
    return tuple(word for word, is_so in reasons if is_so)


def is_schooled(herd: Herd, on: date | None) -> bool:
    """Whether a group stops at a strand it knows: bold ones walk on all the same (rule 1)."""
    knows = herd.schooled or progress(herd, on) is TrainingProgress.DONE
    return knows and not is_bold(herd) and animal_kinds()[herd.kind].purpose == Purpose.HOLD


def animal_of(kind: AnimalKind, *, schooled: bool, fleece_cm: float, scale: float = 1.0) -> Animal:
    """A kind as the strand rules want it, its body `scale` times the typical one."""
    return Animal(
        kind=kind.key,
        nose_cm=round(kind.nose_cm * scale, 1),
        shoulder_cm=round(kind.shoulder_cm * scale, 1),
        head_cm=round(kind.head_cm * scale, 1),
        spring_cm=kind.spring_cm,
        digs=kind.digs,
        climbs=kind.climbs,
        smooth=kind.smooth,
        fleece_cm=fleece_cm,
        kv_new=kind.kv_new,
        kv_schooled=kind.kv_schooled,
        wild=kind.wild,
        purpose=Purpose(kind.purpose),
        schooled=schooled and kind.purpose == Purpose.HOLD,
    )


@dataclass(frozen=True)
class Body:
    """The body of a group as typed or as its kind's, cm."""

    nose_cm: float
    shoulder_cm: float
    head_cm: float


def body_of(herd: Herd) -> Body:
    """A group's body: what is typed, the rest in proportion to the shoulder."""
    kind = animal_kinds()[herd.kind]
    scale, head = scale_of(herd), scale_of(herd)
    if herd.age == "growing" and herd.shoulder_cm is None:
        scale, head = YOUNG_BODY, YOUNG_HEAD
    return Body(
        herd.nose_cm or round(kind.nose_cm * scale, 1),
        herd.shoulder_cm or round(kind.shoulder_cm * scale, 1),
        herd.head_cm or round(kind.head_cm * head, 1),
    )


def scale_of(herd: Herd) -> float:
    """How large a group is beside its kind's typical body, by what is measured."""
    return (herd.shoulder_cm or 0.0) / animal_kinds()[herd.kind].shoulder_cm or 1.0


def animals_of_herd(herd: Herd, on: date | None) -> tuple[Animal, ...]:
    """A group, and its young at foot as a kind of their own: they know what the dam knows (rule 2)."""
    kind, body, schooled = animal_kinds()[herd.kind], body_of(herd), is_schooled(herd, on)
    own = animal_of(kind, schooled=schooled, fleece_cm=fleece_cm(kind, herd, on))
    own = replace(
        own.sized(body.nose_cm, body.shoulder_cm, body.head_cm),
        step_kv=STEP_KV * len(kv_steps(herd)),
        bold=is_bold(herd),
    )
    if herd.age == "growing":
        own = replace(own, spring_cm=max(own.spring_cm, YOUNG_SPRING_CM))
    if not (herd.young and kind.young):
        return (own,)
    young = animal_kinds()[kind.young]
    return own, animal_of(young, schooled=schooled, fleece_cm=young.shorn_cm, scale=scale_of(herd))


@cached("animals", 128, identity_args=1)
def animals_of(plan: Plan) -> tuple[Animal, ...]:
    """The animals that the fence must meet, each once."""
    return tuple(dict.fromkeys(a for herd in plan.stock for a in animals_of_herd(herd, plan.on_date)))


def wanted_of(plan: Plan) -> float:
    """kV needed at the weakest spot: the hardest animal's, or one figure for all where none is chosen."""
    return wanted_kv(animals_of(plan)) if plan.stock else _FLAT_WANTED_KV


def state_words(animal: Animal) -> str:
    """The state that what an animal wants is said for: trained or new to the fence, in wool."""
    untrained = "new to the fence" if animal.purpose == Purpose.HOLD else "never trained"
    known = "trained" if animal.purpose == Purpose.HOLD and animal.schooled else untrained
    return f"{known}, in wool" if animal.fleece_cm > WOOLLY_CM else known


def wanted_by(plan: Plan) -> str:
    """Whose figure the wanted kV is, and in which state; empty where no animal is chosen."""
    animals = animals_of(plan)
    if not animals:
        return ""
    hardest = max(animals, key=lambda animal: wanted_kv((animal,)))
    herds = [h for h in plan.stock if hardest in animals_of_herd(h, plan.on_date)]
    return ", ".join((animal_word(hardest.kind), *(kv_steps(herds[0]) if herds else ()), state_words(hardest)))


class TrainingProgress(StrEnum):
    """How far a group is in learning the fence."""

    UNKNOWN = "not begun"
    LEARNING = "in the pen"
    READY = "ready to be let out"
    EARLY = "let out early"
    DONE = "trained"


def released_by(herd: Herd, on: date | None) -> date | None:
    """The day a group was let out, if that lies before the day judged for."""
    out = herd.training and herd.training.released
    return out if out and (on is None or out <= on) else None


def days_in_pen(herd: Herd, on: date | None) -> int:
    """Days in the pen up to the day judged for, or to the release; 0 where no end is known."""
    end = released_by(herd, on) or on
    return max(0, (end - herd.training.came).days) if herd.training and end else 0


def progress(herd: Herd, on: date | None) -> TrainingProgress:
    """How far a group is: days in the pen and touches for each animal against what practice asks."""
    log = herd.training
    if log is None:
        return TrainingProgress.UNKNOWN
    out = released_by(herd, on)
    enough = not untouched(herd) and days_in_pen(herd, on) >= TRAINING_DAYS
    if out:
        return TrainingProgress.DONE if enough else TrainingProgress.EARLY
    return TrainingProgress.READY if enough else TrainingProgress.LEARNING


def touches_seen(herd: Herd) -> int:
    """Touches of a group in the pen: as counted for all, or the sum of those noted animal by animal."""
    log = herd.training
    if log is None:
        return 0
    return sum(row.touches for row in log.animals) if log.animals else log.touches


def untouched(herd: Herd) -> tuple[str, ...]:
    """Who has not had its touches yet, by name where animals are noted one by one; "others" for those unnamed."""
    log = herd.training
    if log is None:
        return ("all",)
    short = [row.name for row in log.animals if row.touches < TRAINING_TOUCHES]
    if not log.animals:
        return () if log.touches >= TRAINING_TOUCHES * herd.count else ("all",)
    unnamed = herd.count - len(log.animals)
    return (*short, *([f"{unnamed} not noted yet"] if unnamed > 0 else []))
