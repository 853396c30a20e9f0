"""What goes on paper and into files."""

from typing import Any

from adze.core.build.construction import conductors_of
from adze.core.build.materials import insulators_for
from adze.core.build.parts import bill
from adze.core.build.story_pole import story_pole
from adze.core.ground.lines import length_m
from adze.core.plan.constructions import built_as, every_fence
from adze.core.plan.document import Plan
from adze.core.tables.construction import post_kinds
from adze.core.tasks.tools import tools_for
from adze.formats.drawings.ground_svg import PAPERS_MM, SCALES, TooMany, ground_sheets
from adze.formats.drawings.pole_svg import PORTRAIT_MM, pole_sheets
from adze.formats.parts.parts_list import parts_csv
from adze.formats.parts.parts_workbook import parts_workbook
from adze.formats.parts.prices_book import price_list_text, prices_workbook
from adze.formats.parts.prices_csv import prices_csv
from adze.services.plans.plans import OpenPlan

_UNKNOWN = "{} is not a known paper size; A4 is shown."


def parts_file(plan: Plan) -> str:
    """The parts list as CSV."""
    return parts_csv(bill(plan))


def price_list(plan: Plan) -> str:
    """The prices that are taken now, as CSV."""
    return prices_csv(plan)


def price_book(plan: Plan) -> bytes:
    """The same as a workbook."""
    return prices_workbook(plan)


def price_text(content: bytes) -> str:
    """A shop's price list, XLSX or text, as the text that is brought in. Raises FormatError."""
    return price_list_text(content)


def parts_book(plan: Plan) -> bytes:
    """The parts list as a workbook whose sums are formulas."""
    return parts_workbook(plan)


def parts_paper_view(opened: OpenPlan, *, prices: bool) -> dict[str, Any]:
    """The parts list and the tools on paper, with boxes to tick; for a shop without prices."""
    plan = opened.plan
    own = {"bill": bill(plan), "tools": tools_for(plan) if plan.runs else (), "prices": prices}
    return {"stored": opened.stored, "plan": plan, "plan_id": opened.id} | own


def ground_paper_view(opened: OpenPlan, paper: str, scale: int | None) -> dict[str, Any]:
    """The ground on paper, true to scale; a paper or a scale that cannot be is said, and the usual one shown."""
    message = ""
    if paper not in PAPERS_MM:
        paper, message = "A4", _UNKNOWN.format(paper[:20])
    if scale is not None and not 50 <= scale <= 100_000:
        scale, message = None, "A scale lies between 1:50 and 1:100,000; the one that fits is shown."
    try:
        sheets = ground_sheets(opened.plan, paper, scale)
    except TooMany as error:
        sheets, message = ground_sheets(opened.plan, paper), str(error)
    own = {"sheets": sheets, "message": message, "papers": PAPERS_MM, "scales": SCALES}
    return {"stored": opened.stored, "plan": opened.plan, "plan_id": opened.id} | own


def pole_paper_view(opened: OpenPlan, paper: str, fence: str | None) -> dict[str, Any]:
    """The story pole in true millimetres, and a sheet of the strands for every line."""
    whole = opened.plan
    built = built_as(whole, fence)
    plan = built.view
    message = ""
    if paper not in PORTRAIT_MM:
        paper, message = "A4", _UNKNOWN.format(paper[:20])
    pole = story_pole(plan)
    name = f"{plan.name}, {built.name}" if whole.fences else plan.name
    return {
        "stored": opened.stored,
        "plan": plan,
        "built": built,
        "fences": every_fence(whole),
        "name": name,
        "plan_id": opened.id,
        "units": plan.units,
        "pole": pole,
        "sheets": pole_sheets(pole, name, paper, plan.units),
        "papers": PORTRAIT_MM,
        "message": message,
        "lengths": {run.id: length_m(run) for run in plan.runs if run.id in built.runs},
        "made": conductors_of(plan),
        "fitting": dict(insulators_for(plan)),
        "post": post_kinds()[plan.post],
    }
