"""How figures, places and kinds are said on a page."""

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from adze.core.basics.units import (
    Units,
    band_words,
    bearing_words,
    counted,
    exact_metres,
    figure_words,
    format_height,
    format_length,
    format_tape,
    joule_words,
    kv_words,
    needed_words,
)
from adze.core.plan.season import SEASON_WORDS
from adze.core.tables.animals import animal_word
from adze.core.verdict.findings import without_repeats


def when_words(moment: datetime) -> str:
    """How long ago something was."""
    gone = datetime.now(UTC) - moment
    if gone.total_seconds() < 90:
        return "just now"
    if gone.total_seconds() < 5400:
        return f"{gone.total_seconds() / 60:.0f} minutes ago"
    return "today" if gone.days < 1 else f"{gone.days} days ago"


def amount_words(quantity: float, unit: str) -> str:
    """So much of a part as a shop says it: pieces without a word, sets in the plural, the rest by its measure."""
    if unit == "piece":
        return f"{quantity:g}"
    return f"{quantity:g} {unit}{'s' if unit == 'set' and quantity != 1 else ''}"


FILTERS: dict[str, Callable[..., Any]] = {
    "kv": kv_words,
    "counted": counted,
    "needed": needed_words,
    "joules": joule_words,
    "figure": figure_words,
    "amount": amount_words,
    "without_repeats": without_repeats,
    "distance": lambda x, units: format_length(x, Units(units)),
    "height": lambda x, units: format_height(x, Units(units)),
    "animal": animal_word,
    "when": when_words,
    "bearing": bearing_words,
    "kv_band": lambda low, high: band_words(kv_words(low), kv_words(high)),
    "band": lambda low, high: band_words(f"{low:.0f}", f"{high:.0f}"),
    "metres": exact_metres,
    "tape": lambda x, units: format_tape(x, Units(units)),
    "hours": lambda x: f"{x * 60:.0f} min" if x < 1 else f"{x:.0f} h",
}
WORDS: dict[str, Any] = {"season_words": SEASON_WORDS}
