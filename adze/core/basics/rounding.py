"""How figures are rounded for people."""

import math


def round_half_up(value: float) -> int:
    """Whole number, halves upward (the trade's way; Python's own rounds halves to even)."""
    return math.floor(value + 0.5 + 1e-9)


def significant(value: float, figures: int = 2) -> float:
    """The value at so many significant figures; 0 stays 0."""
    if value == 0 or not math.isfinite(value):
        return value
    return round(value, figures - 1 - math.floor(math.log10(abs(value))))
