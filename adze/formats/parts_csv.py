"""The parts list as CSV."""

import csv
import io

from adze.core.build.parts import Bill

_HEAD = ("group", "part", "quantity", "unit", "pack", "packs", "cost", "counted")


def parts_csv(bill: Bill) -> str:
    """The parts list as CSV with a head and a total."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(_HEAD)
    for x in bill.lines:
        writer.writerow(
            (x.group, x.label, f"{x.quantity:g}", x.unit, f"{x.pack:g}", x.packs, f"{x.cost:.2f}", x.counted)
        )
    writer.writerow(("Total", "", "", "", "", "", f"{bill.total:.2f}", f"{bill.per_m:.2f} a metre"))
    return out.getvalue()
