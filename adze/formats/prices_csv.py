"""A price list as CSV: one row a part, in the shop's packs and prices, with the shop's own codes."""

import csv
import io
import math

from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.core.plan.prices import OwnPrice
from adze.core.tables.prices import prices
from adze.formats.errors import FormatError
from adze.formats.rows_csv import rows_csv, unguarded

COLUMNS = ("part", "label", "unit", "pack", "price", "code")
_MOST = 400


def prices_csv(plan: Plan) -> str:
    """The parts of a plan with the prices that are taken for them now: to be typed over and brought back."""
    rows = []
    for x in bill(plan).lines:
        price = x.cost / x.packs if x.packs else 0.0
        rows.append((x.key, x.label, x.unit, f"{x.pack:g}", f"{price:.2f}", x.code))
    return rows_csv(COLUMNS, rows)


def read_prices(text: str, plan: Plan) -> tuple[OwnPrice, ...]:
    """Prices of a text for a plan. Raises FormatError naming the line and the column; nothing is half read."""
    lines = text.strip().splitlines()
    if not lines:
        raise FormatError("prices: there is no row; take the price list, type your prices over and bring it back")
    split = ";" if lines[0].count(";") > lines[0].count(",") else ","
    rows = list(csv.reader(io.StringIO(text.strip()), delimiter=split))
    head = [cell.strip().lower() for cell in rows[0]]
    missing = [name for name in ("part", "price") if name not in head]
    if missing:
        raise FormatError(f"line 1: the column {missing[0]!r} is missing; the heading is {', '.join(COLUMNS)}")
    if len(rows) - 1 > _MOST:
        raise FormatError(f"prices: {len(rows) - 1} rows, at most {_MOST} are taken")
    units = {x.key: (x.unit, x.pack) for x in bill(plan).lines}
    units |= {key: (row.unit, row.pack) for key, row in prices().items() if key not in units}
    found: dict[str, OwnPrice] = {}
    for number, row in enumerate(rows[1:], 2):
        if any(cell.strip() for cell in row):
            own = _row(number, dict(zip(head, (unguarded(cell.strip()) for cell in row), strict=False)), units)
            if own.part in found:
                raise FormatError(f"line {number}, part: {own.part!r} stands twice; keep one row of it")
            found[own.part] = own
    return tuple(found.values())


def _row(number: int, cells: dict[str, str], units: dict[str, tuple[str, float]]) -> OwnPrice:
    part = cells.get("part", "")
    if part not in units:
        raise FormatError(
            f"line {number}, part: {part!r} is not known here; take the first column as it is in the list"
        )
    unit, pack = units[part]
    said = cells.get("unit", "")
    if said and said != unit:
        raise FormatError(
            f"line {number}, unit: {said!r}; {part} is counted by the {unit}: give pack and price for that"
        )
    packed = _number(number, "pack", cells["pack"]) if cells.get("pack") else pack
    if packed <= 0:
        raise FormatError(f"line {number}, pack: {packed:g} holds nothing; say how many {unit} a pack has")
    price = _number(number, "price", cells.get("price", ""))
    if price < 0:
        raise FormatError(f"line {number}, price: {price:g} is less than nothing; give 0 for what is in the shed")
    return OwnPrice(part=part, price=price, pack=packed, code=cells.get("code", "")[:40])


def _number(number: int, column: str, text: str) -> float:
    """A figure with a point or a comma; thousands parted by the other."""
    plain = text.replace("\u00a0", "").replace(" ", "")
    if "," in plain and "." in plain:
        last = max(plain.rfind(","), plain.rfind("."))
        plain = plain[:last].replace(",", "").replace(".", "") + "." + plain[last + 1 :]
    try:
        value = float(plain.replace(",", "."))
    except ValueError:
        raise FormatError(f"line {number}, {column}: {text!r} is no number; write it such as 12.50") from None
    if not math.isfinite(value):
        raise FormatError(f"line {number}, {column}: {text!r} is no number; write it such as 12.50")
    return value
