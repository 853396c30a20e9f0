"""The parts list as a workbook: the whole, line by line, tools; sums are formulas, so that a changed price adds up."""

import math

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from adze.core.build.parts import bill, parts_by_line
from adze.core.plan.document import Plan
from adze.core.tasks.tools import tools_for
from adze.formats.workbook import as_file, head, row, text

_HEAD = ("Group", "Part", "Need", "Unit", "In a pack", "Price of a pack", "Packs", "Cost", "Counted")
_WIDE = (20, 44, 10, 8, 10, 14, 8, 12, 70)


def parts_workbook(plan: Plan) -> bytes:
    """The list of a plan as an XLSX file."""
    book = Workbook()
    whole = book.active
    assert isinstance(whole, Worksheet)
    whole.title = "All"
    head(whole, _HEAD, _WIDE)
    found = bill(plan)
    for number, x in enumerate(found.lines, 2):
        row(whole, (x.group, x.label, x.quantity, x.unit, x.pack, x.cost / x.packs if x.packs else 0.0))
        by_metre = x.packs == math.ceil(x.quantity / x.pack - 1e-6)
        # What is cut from drums in one piece takes more packs than its metres.
        whole.cell(number, 7, f"=ROUNDUP(C{number}/E{number}-0.000001,0)" if by_metre else x.packs)
        whole.cell(number, 8, f"=F{number}*G{number}")
        text(whole.cell(number, 9), x.counted)
    last = len(found.lines) + 1
    whole.cell(last + 1, 2, "In all").font = Font(bold=True)
    whole.cell(last + 1, 8, f"=SUM(H2:H{last})" if last > 1 else 0.0).font = Font(bold=True)
    _by_line(book.create_sheet("By line"), plan)
    tools = book.create_sheet("Tools")
    head(tools, ("Own, borrow or hire",), (44,))
    for tool in tools_for(plan):
        row(tools, (tool.label,))
    return as_file(book)


def _by_line(sheet: Worksheet, plan: Plan) -> None:
    head(sheet, ("Line", "Group", "Part", "Need", "Unit"), (28, 20, 44, 10, 8))
    names = {run.id: run.name for run in plan.runs} | {"": "For all of it"}
    for part in parts_by_line(plan):
        for values in part.rows:
            row(sheet, (names[part.run], *values))
