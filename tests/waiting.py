"""Waiting for a state, however busy the machine is."""

import threading
import time
from collections.abc import Callable

_LOOK_EVERY_S = 0.05
HUNG_S = 600.0  # no wait of the tests takes a hundredth of it; what does not come by then never comes


def until(is_so: Callable[[], bool]) -> None:
    """Return once a claim holds. Between looks the processor is left to what is awaited."""
    pause, begun_s = threading.Event(), time.monotonic()
    while not is_so():
        assert time.monotonic() - begun_s < HUNG_S, "what is awaited does not come"
        pause.wait(_LOOK_EVERY_S)
