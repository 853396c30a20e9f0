"""A price list as CSV: a row for each pack of a part, with its price and the shop's own code."""

import math

from adze.core.basics.units import M_PER_FT
from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.core.plan.prices import OwnPrice
from adze.core.tables.prices import prices
from adze.formats.errors import FormatError
from adze.formats.tables.rows_csv import csv_rows, rows_csv, unguarded

COLUMNS = ("part", "label", "unit", "pack", "price", "code")
_MOST = 400
# How shops call the units of the list, and how much of the list's unit each is.
_SHOP_UNITS = {
    "m": {"m": 1.0, "metre": 1.0, "metres": 1.0, "meter": 1.0, "meters": 1.0, "km": 1000.0, "ft": M_PER_FT,
          "foot": M_PER_FT, "feet": M_PER_FT, "yd": 0.9144, "yard": 0.9144, "yards": 0.9144},
    "piece": dict.fromkeys(("piece", "pieces", "pc", "pcs", "each", "ea", "unit", "no"), 1.0)
    | {"pair": 2.0, "dozen": 12.0, "hundred": 100.0},
    "set": {"set": 1.0, "sets": 1.0, "kit": 1.0, "each": 1.0, "pair": 2.0},
    "kg": {"kg": 1.0, "g": 0.001, "lb": 0.45359237, "lbs": 0.45359237},
    "m²": {"m²": 1.0, "m2": 1.0, "sqm": 1.0, "ft²": 0.09290304, "ft2": 0.09290304, "sqft": 0.09290304},
}  # fmt: skip


def price_rows(plan: Plan) -> list[tuple[str, str, str, float, float, str]]:
    """The parts of a plan with the prices that are taken for them now, a row for each of `COLUMNS`."""
    offers: dict[str, list[OwnPrice]] = {}
    for own in plan.own_prices:
        offers.setdefault(own.part, []).append(own)
    rows = []
    for x in bill(plan).lines:
        if len(offers.get(x.key, ())) > 1:
            rows += [(x.key, x.label, x.unit, own.pack, own.price, own.code) for own in offers[x.key]]
        else:
            rows.append((x.key, x.label, x.unit, x.pack, round(x.cost / x.packs, 2) if x.packs else 0.0, x.code))
    return rows


def prices_csv(plan: Plan) -> str:
    """The price list of a plan: to be typed over and brought back."""
    rows = (
        (part, label, unit, f"{n:g}", f"{price:.2f}", code) for part, label, unit, n, price, code in price_rows(plan)
    )
    return rows_csv(COLUMNS, rows)


def read_prices(text: str, plan: Plan) -> tuple[OwnPrice, ...]:
    """Prices of a text for a plan. Raises FormatError naming the line and the column; nothing is half read."""
    lines = text.strip().splitlines()
    if not lines:
        raise FormatError("prices: there is no row; take the price list, type your prices over and bring it back")
    split = ";" if lines[0].count(";") > lines[0].count(",") else ","
    rows = csv_rows(text.strip(), split)
    head = [cell.strip().lower() for cell in rows[0]]
    missing = [name for name in ("part", "price") if name not in head]
    if missing:
        raise FormatError(f"line 1: the column {missing[0]!r} is missing; the heading is {', '.join(COLUMNS)}")
    if len(rows) - 1 > _MOST:
        raise FormatError(f"prices: {len(rows) - 1} rows, at most {_MOST} are taken")
    units = {x.key: (x.unit, x.pack) for x in bill(plan).lines}
    units |= {key: (row.unit, row.pack) for key, row in prices().items() if key not in units}
    found: dict[tuple[str, float], OwnPrice] = {}
    for number, row in enumerate(rows[1:], 2):
        if any(cell.strip() for cell in row):
            own = _row(number, dict(zip(head, (unguarded(cell.strip()) for cell in row), strict=False)), units)
            if (own.part, own.pack) in found:
                raise FormatError(
                    f"line {number}, part: {own.part!r} is there twice in packs of {own.pack:g}; keep one row"
                )
            found[own.part, own.pack] = own
    return tuple(found.values())


def _row(number: int, cells: dict[str, str], units: dict[str, tuple[str, float]]) -> OwnPrice:
    part = cells.get("part", "")
    if part not in units:
        raise FormatError(
            f"line {number}, part: {part!r} is not known here; take the first column as it is in the list"
        )
    unit, pack = units[part]
    each = _in_list_units(number, part, cells.get("unit", ""), unit)
    packed = each * _number(number, "pack", cells["pack"]) if cells.get("pack") else pack
    if packed <= 0:
        raise FormatError(f"line {number}, pack: {packed:g} holds nothing; say how many {unit} a pack has")
    price = _number(number, "price", cells.get("price", ""))
    if price < 0:
        raise FormatError(f"line {number}, price: {price:g} is less than nothing; give 0 for what is in the shed")
    return OwnPrice(part=part, price=price, pack=packed, code=cells.get("code", "")[:40])


def _in_list_units(number: int, part: str, said: str, unit: str) -> float:
    """How much of the list's unit one of the shop's is; a pack of 500 yards holds 457.2 m."""
    known = _SHOP_UNITS.get(unit, {}) | {unit: 1.0}
    plain = said.lower().rstrip(".")
    if plain and plain not in known:
        others = ", ".join(known)
        raise FormatError(
            f"line {number}, unit: {said!r}; {part} is counted by the {unit}: give pack and price for that, or in one "
            f"of {others}"
        )
    return known[plain] if plain else 1.0


def _number(number: int, column: str, text: str) -> float:
    """A figure with a point or a comma; thousands parted by the other."""
    plain = text.replace("\u00a0", "").replace(" ", "")
    if "," in plain and "." in plain:
        last = max(plain.rfind(","), plain.rfind("."))
        plain = plain[:last].replace(",", "").replace(".", "") + "." + plain[last + 1 :]
    try:
        value = float(plain.replace(",", "."))
    except ValueError:
        raise FormatError(f"line {number}, {column}: {text!r} is not a number; write it as 12.50") from None
    if not math.isfinite(value):
        raise FormatError(f"line {number}, {column}: {text!r} is not a number; write it as 12.50")
    return value
