"""Take lines from a file into a plan."""

from adze.core.plan import Plan
from adze.formats.geojson import read_lines


def take_geojson(plan: Plan, text: str) -> tuple[Plan, int]:
    """The plan with the file's lines added, and how many. Raises FormatError."""
    origin, lines = read_lines(text, plan.origin if plan.runs or plan.landmarks else None)
    taken = {run.id for run in plan.runs}
    fresh = (f"line{i}" for i in range(1, 10_000) if f"line{i}" not in taken)
    runs = [run.model_dump() for run in plan.runs]
    runs += [{"id": next(fresh), "name": line.name, "points": line.points} for line in lines]
    return Plan.model_validate(plan.model_dump() | {"origin": origin.model_dump(), "runs": runs}), len(lines)
