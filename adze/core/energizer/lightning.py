"""Lightning on the line: how wide the gap of a diverter stands, and what its earth is tied to."""

import math

# Breakdown of even air gaps at 20 °C and 1013 hPa, peak kV over d in cm: 24.22 d + 6.08 sqrt(d).
# Source: E. Kuffel, W. S. Zaengl and J. Kuffel, High Voltage Engineering (2000), 5.
_PER_CM, _PER_ROOT_CM = 24.22, 6.08
DIVERTER_EARTH_WORDS = {
    "farthest": "the farthest rod",
    "middle": "the middle rod, by its own cable",
    "own": "rods of its own",
    "supply": "the supply's earth",
    "none": "nothing yet",
}


def spark_gap_mm(kv: float) -> float:
    """The gap between blunt ends that just holds off so many kV, mm. Sharp or wet ends spark over sooner."""
    if not 0 < kv < 100:
        raise ValueError(f"kv is {kv}, must lie between 0 and 100")
    root = (-_PER_ROOT_CM + math.sqrt(_PER_ROOT_CM**2 + 4 * _PER_CM * kv)) / (2 * _PER_CM)
    return 10 * root * root
