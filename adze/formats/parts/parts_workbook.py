"""The parts list as a workbook: whole, by line, cut list, joints, tools, prices; a changed price adds up by itself."""

import math

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from adze.core.build.joints import joints_of
from adze.core.build.parts import Bill, bill, parts_by_line
from adze.core.plan.document import Plan
from adze.core.tasks.tools import tools_for
from adze.formats.parts.prices_csv import COLUMNS, price_rows
from adze.formats.tables.workbook import as_file, head, row, text

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
        by_metre = not x.mix and x.packs == math.ceil(x.quantity / x.pack - 1e-6)
        # What is cut from drums in one piece takes more packs than its metres.
        whole.cell(number, 7, f"=ROUNDUP(C{number}/E{number}-0.000001,0)" if by_metre else x.packs)
        whole.cell(number, 8, f"=F{number}*G{number}")
        text(whole.cell(number, 9), x.counted)
    last = len(found.lines) + 1
    whole.cell(last + 1, 2, "In all").font = Font(bold=True)
    whole.cell(last + 1, 8, f"=SUM(H2:H{last})" if last > 1 else 0.0).font = Font(bold=True)
    if found.vat_percent:
        whole.cell(last + 2, 2, "Tax, %")
        whole.cell(last + 2, 8, found.vat_percent)
        whole.cell(last + 3, 2, "With tax").font = Font(bold=True)
        whole.cell(last + 3, 8, f"=H{last + 1}*(1+H{last + 2}/100)").font = Font(bold=True)
    _by_line(book.create_sheet("By line"), plan)
    _cuts(book.create_sheet("Cut list"), found)
    _joints(book.create_sheet("Joints"), plan)
    tools = book.create_sheet("Tools")
    head(tools, ("Own, borrow or hire",), (44,))
    for tool in tools_for(plan):
        row(tools, (tool.label,))
    prices = book.create_sheet("Prices")
    head(prices, COLUMNS, (24, 44, 10, 10, 12, 16))
    for values in price_rows(plan):
        row(prices, values)
    return as_file(book)


def _cuts(sheet: Worksheet, found: Bill) -> None:
    head(sheet, ("Of", "Roll", "Piece", "m"), (44, 8, 50, 10))
    for line in found.lines:
        if line.cutting:
            if line.cutting.whole:
                row(
                    sheet,
                    (line.label, f"1 to {line.cutting.whole}", "whole rolls in long strands", line.cutting.roll_m),
                )
            for number, roll in enumerate(line.cutting.rolls, line.cutting.whole + 1):
                for piece in roll:
                    row(sheet, (line.label, number, piece.where, piece.length_m))


def _joints(sheet: Worksheet, plan: Plan) -> None:
    head(sheet, ("Where", "Kind", "What", "Fasteners", "Bare end, cm"), (44, 12, 44, 10, 12))
    for joint in joints_of(plan) if plan.runs else ():
        row(sheet, (joint.where, joint.kind, joint.words, joint.fasteners, joint.strip_cm))


def _by_line(sheet: Worksheet, plan: Plan) -> None:
    head(sheet, ("Line", "Group", "Part", "Need", "Unit"), (28, 20, 44, 10, 8))
    names = {run.id: run.name for run in plan.runs} | {"": "For all of it"}
    for part in parts_by_line(plan):
        for values in part.rows:
            row(sheet, (names[part.run], *values))
