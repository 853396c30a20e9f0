"""The parts list as CSV."""

from adze.core.build.parts import Bill
from adze.formats.rows_csv import rows_csv

_HEAD = ("group", "part", "quantity", "unit", "pack", "packs", "cost", "counted")


def parts_csv(bill: Bill) -> str:
    """The parts list as CSV with a head and a total."""
    lines = [
        (x.group, x.label, f"{x.quantity:g}", x.unit, f"{x.pack:g}", x.packs, f"{x.cost:.2f}", x.counted)
        for x in bill.lines
    ]
    total = ("Total", "", "", "", "", "", f"{bill.total:.2f}", f"{bill.per_m:.2f} a metre")
    return rows_csv(_HEAD, [*lines, total])
