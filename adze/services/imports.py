"""Take a file's ground into a plan, or make a plan of it."""

from adze.core.plan import Plan
from adze.formats.brought import Choice, into_plan
from adze.formats.ground_files import read_ground


def plan_from_file(
    content: bytes, name: str, *, thin_m: float = 0.0, swap: bool = False
) -> tuple[Plan, tuple[str, ...]]:
    """A plan of its own from a file, and what is to be said about it. Raises FormatError."""
    return into_plan(read_ground(content), None, Choice(thin_m=thin_m, swap=swap), name)
