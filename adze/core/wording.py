"""How kV, places and animals are said."""

from adze.core.ground import Place, run_of
from adze.core.plan import Plan
from adze.core.rounding import significant
from adze.core.season import Season
from adze.core.tables import animal_kinds
from adze.core.touch import Path
from adze.core.units import format_length

PATH_WORDS = {
    Path.SOIL: "through hooves",
    Path.EARTH_STRAND: "between live and earth strand",
    Path.APRON: "through hooves to the mesh on the ground",
}
WHAT_IF_WORDS = {
    "branch": "Branch on it",
    "insulator": "Insulator broken",
    "post": "Strand on a steel post",
    "tangle": "Live and earth tangled",
    "cut": "Strands cut",
}
SEASON_WORDS = {Season.DRY: "driest week", Season.USUAL: "usual week", Season.WET: "wettest week"}


def kv_words(kv: float) -> str:
    """kV to two significant figures, as people read a tester: 3.4, 0.31, 12."""
    rounded = significant(kv)
    return f"{rounded:.0f}" if rounded >= 10 else f"{rounded:.1f}" if rounded >= 1 else f"{rounded:.2g}"


def place_words(plan: Plan, place: Place) -> str:
    """A place as people say it: the run's name and how far along it."""
    return f"{run_of(plan, place.run).name}, {format_length(place.at_m, plan.units)} along"


def animal_word(kind: str) -> str:
    """The kind's label with a small first letter."""
    label = animal_kinds()[kind].label
    return label[:1].lower() + label[1:]
