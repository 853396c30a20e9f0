"""How kV are said where a tester would read them: its scale ends, and so does what the model may promise."""

from dataclasses import dataclass

from adze.core.basics.units import kv_words
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan

ABOVE_OPEN = 1.1  # of the open kV: beyond it insulators, knots and testers are not linear


@dataclass(frozen=True)
class ScaleEnd:
    """The most kV that are said as a figure, and what is said from there on."""

    kv: float
    words: str


def scale_end(plan: Plan) -> ScaleEnd:
    """Where figures end: at the tester's scale, or a tenth over the unit's open kV where that comes first."""
    unit, most = unit_of(plan), plan.tester.most_kv
    if unit is not None and ABOVE_OPEN * unit.open_kv < most:
        return ScaleEnd(ABOVE_OPEN * unit.open_kv, f"over {kv_words(ABOVE_OPEN * unit.open_kv)}")
    return ScaleEnd(most, f"{kv_words(most)} or more")


def read_words(plan: Plan, kv: float) -> str:
    """kV as the farm's tester shows them."""
    end = scale_end(plan)
    return end.words if kv >= end.kv else kv_words(kv)
