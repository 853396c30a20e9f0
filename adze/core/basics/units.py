"""Lengths as people type and read them: metric and imperial, exact both ways (inch = 25.4 mm)."""

import math
import re
from enum import StrEnum

from adze.core.basics.rounding import significant

M_PER_FT = 0.3048
M_PER_MILE = 1609.344
_METRES = {
    "mm": 0.001,
    "cm": 0.01,
    "m": 1.0,
    "km": 1000.0,
    "in": 0.0254,
    "ft": M_PER_FT,
    "yd": 0.9144,
    "mi": M_PER_MILE,
}
_NAMES = {
    "metre": "m",
    "metres": "m",
    "meter": "m",
    "meters": "m",
    "inch": "in",
    "inches": "in",
    "foot": "ft",
    "feet": "ft",
    "yard": "yd",
    "yards": "yd",
    "mile": "mi",
    "miles": "mi",
    '"': "in",
    "″": "in",
    "'": "ft",
    "′": "ft",
}
_PART = re.compile(r"\s*([+-]?\d{1,9}(?:[.,]\d{1,9})?)\s*([a-zA-Z]+|[\"'″′])?")
_LONGEST_TEXT = 40


class Units(StrEnum):
    """What lengths are shown in."""

    METRIC = "metric"
    IMPERIAL = "imperial"


def parse_length_m(text: str, unit: str = "m") -> float:
    """Metres of a typed length: "5 ft 6 in", "1.7m", "66 in", or a bare number in `unit`.

    Raises ValueError that says what is understood.
    """
    shown = text.strip()
    if not shown or len(shown) > _LONGEST_TEXT:
        raise ValueError("write a length such as 12, 1.7 m or 5 ft 6 in")
    total, at, parts = 0.0, 0, 0
    while at < len(shown):
        match = _PART.match(shown, at)
        if not match or match.end() == at:
            raise ValueError(f"{shown!r} is not understood; write a length such as 12, 1.7 m or 5 ft 6 in")
        word = (match[2] or "").lower()
        # A bare number after feet is inches, as people write 5'6.
        key = _NAMES.get(word, word) or ("in" if parts and unit in ("ft", "in") else unit)
        if key not in _METRES:
            raise ValueError(f"{match[2]!r} is not a unit of length; use m, cm, km, ft, in, yd or mi")
        if parts and match[1].startswith(("-", "+")):
            raise ValueError(f"{shown!r} has a sign in its middle")
        total += float(match[1].replace(",", ".")) * _METRES[key]
        at, parts = match.end(), parts + 1
        while at < len(shown) and shown[at] in " \t":
            at += 1
    if parts > 2:
        raise ValueError(f"{shown!r} has too many parts; write a length such as 5 ft 6 in")
    return total


def needed_words(kv: float, needed_kv: float) -> str:
    """kV beside what is needed, such as 2.6 kV, 4.0 needed."""
    return f"{kv_words(kv)} kV, {kv_words(needed_kv)} needed"


def counted(count: int, noun: str) -> str:
    """A count with its noun, such as 1 rod, 2 rods, 2 switches."""
    ending = "" if count == 1 else "es" if noun.endswith(("s", "sh", "ch", "x")) else "s"
    return f"{count} {noun}{ending}"


def format_length(length_m: float, units: Units) -> str:
    """A length along the ground for people: m and km, or ft and miles."""
    if units is Units.IMPERIAL:
        feet = length_m / M_PER_FT
        return f"{length_m / M_PER_MILE:.2f} mi" if feet >= 5280 else f"{feet:,.0f} ft"
    return f"{length_m / 1000:.2f} km" if length_m >= 1000 else f"{length_m:.0f} m"


def format_tape(length_m: float, units: Units) -> str:
    """A length as a tape gives it: m to the centimetre, or feet to the tenth."""
    return f"{length_m / M_PER_FT:.1f} ft" if units is Units.IMPERIAL else f"{length_m:.2f} m"


def format_height(length_cm: float, units: Units) -> str:
    """A height on a post for people: whole cm, or feet and inches to the quarter inch."""
    if units is Units.METRIC:
        return f"{length_cm:g} cm"
    quarters = math.floor(length_cm / 2.54 * 4 + 0.5)
    feet, rest = divmod(quarters, 48)
    inches = f"{rest / 4:g} in"
    return f"{feet} ft {inches}" if feet else inches


def exact_metres(length_m: float) -> str:
    """A bare figure in metres to the millimetre, as it can be typed back without loss."""
    return f"{length_m:.3f}".rstrip("0").rstrip(".")


def figure_words(value: float) -> str:
    """Two significant figures, never with an exponent: 0.22, 3.4, 120."""
    rounded = significant(value)
    if rounded == 0 or not math.isfinite(rounded):
        return f"{rounded:g}"
    decimals = max(0, 1 - math.floor(math.log10(abs(rounded))))
    return f"{rounded:.{decimals}f}".rstrip("0").rstrip(".") if decimals else f"{rounded:.0f}"


_LEAST_J = 0.001  # less than this no body feels


def joule_words(joules: float) -> str:
    """Joules with their unit to two significant figures; next to nothing is said as such."""
    return f"under {_LEAST_J:g} J" if 0 < joules < _LEAST_J else f"{figure_words(joules)} J"


_LEAST_KV = 0.001


def kv_words(kv: float) -> str:
    """kV to two significant figures, as people read a tester: 3.4, 0.31, 12."""
    rounded = significant(kv)
    if rounded < _LEAST_KV:
        return "0"
    return f"{rounded:.1f}" if 1 <= rounded < 10 else figure_words(rounded)


def band_words(low: str, high: str) -> str:
    """A range between two figures as they are said; one figure where both are said alike."""
    return low if low == high else f"{low} to {high}"


_POINTS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


def bearing_words(degrees: float) -> str:
    """A bearing for a compass and for the eye: 045° NE."""
    turned = round(degrees) % 360
    return f"{turned:03d}° {_POINTS[round(turned / 45) % 8]}"
