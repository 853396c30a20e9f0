"""The parts list as CSV and as JSON."""

import json
from typing import Any

from adze.core.build.parts import Bill, bill, parts_by_line
from adze.core.plan.document import Plan
from adze.formats.tables.rows_csv import rows_csv

_HEAD = ("group", "part", "quantity", "unit", "pack", "packs", "cost", "counted")


def parts_csv(bill: Bill) -> str:
    """The parts list as CSV with a head and a total."""
    lines = [
        (x.group, x.label, f"{x.quantity:g}", x.unit, f"{x.pack:g}", x.packs, f"{x.cost:.2f}", x.counted)
        for x in bill.lines
    ]
    total = ("Total", "", "", "", "", "", f"{bill.total:.2f}", f"{bill.per_m:.2f} a metre")
    tax = ("With tax", "", "", "", "", "", f"{bill.with_vat:.2f}", f"{bill.vat_percent:g} % on top")
    return rows_csv(_HEAD, [*lines, total, *([tax] if bill.vat_percent else [])])


def parts_json(plan: Plan) -> str:
    """The parts list of a plan as JSON: part, group, need, packs and cost of each row, and the lines that take it."""
    found, takes = bill(plan), parts_by_line(plan)
    names = {run.id: run.name for run in plan.runs} | {"": "for all of it"}
    rows: list[dict[str, Any]] = [
        {
            "part": x.part or x.label,
            "label": x.label,
            "group": x.group,
            "need": x.quantity,
            "unit": x.unit,
            "pack": x.pack,
            "packs": x.packs,
            "cost": x.cost,
            "counted": x.counted,
            "lines": {
                names[line.run]: quantity
                for line in takes
                for group, label, quantity, _ in line.rows
                if (group, label) == (x.group, x.label)
            },
        }
        for x in found.lines
    ]
    tax = {"vat_percent": found.vat_percent, "with_vat": round(found.with_vat, 2)} if found.vat_percent else {}
    return json.dumps(
        {"rows": rows, "total": round(found.total, 2), **tax, "fence_m": round(found.fence_m, 1)}, indent=1
    )
