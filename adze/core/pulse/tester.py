"""What a tester shows of a pulse: it does not follow the wave at once, and is adjusted on some pulse (S13)."""

from adze.core.basics.types import Complex
from adze.core.pulse.discharge import solved_frequencies
from adze.core.pulse.laplace import Window


def followed_v(spectra: Complex, window: Window, response_s: float) -> Complex:
    """Spectra (..., K+1) as a first-order response leaves them; its own peak hold is ideal."""
    if not response_s:
        return spectra
    left: Complex = spectra / (1 + response_s * solved_frequencies(window))
    return left
