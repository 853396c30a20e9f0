"""What the list would cost with one thing chosen otherwise: the rows that differ, and what is lost with it."""

from dataclasses import dataclass

from adze.core.build.parts import Bill, bill
from adze.core.build.rods import rods_ohm
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate
from adze.core.plan.season import Season, Weather
from adze.core.tables.ground import rod_metals
from adze.core.tables.prices import prices
from adze.core.tables.substitutes import Substitute, substitutes

GATE_WORDS = {
    "handle": "handles on each strand",
    "rope": "ropes",
    "spring": "springs",
    "removable_post": "a post that is lifted out",
}
SEARCH_SAVED_H, HOUR_PRICE = 1.5, 15.0  # of walking that a tester with amps saves a search; own work. Assumptions.


@dataclass(frozen=True)
class Differs:
    """A row of the list that differs: its label, unit, how many now and then, money more (negative: less)."""

    label: str
    unit: str
    now: float
    then: float
    money: float


@dataclass(frozen=True)
class Otherwise:
    """One thing chosen otherwise: in words, money more, the rows that differ, and what is lost or won."""

    group: str
    words: str
    money: float
    rows: tuple[Differs, ...]
    loses: str


def differs(now: Bill, then: Bill) -> tuple[Differs, ...]:
    """The rows in which two lists differ, dearest change first."""
    ours = {(x.group, x.label): x for x in now.lines}
    theirs = {(x.group, x.label): x for x in then.lines}
    found = []
    for key in dict.fromkeys((*ours, *theirs)):
        a, b = ours.get(key), theirs.get(key)
        one = a or b
        quantities = (a.quantity if a else 0.0, b.quantity if b else 0.0)
        money = round((b.cost if b else 0.0) - (a.cost if a else 0.0), 2)
        if one and (quantities[0] != quantities[1] or money):
            found.append(Differs(one.label, one.unit, *quantities, money))
    return tuple(sorted(found, key=lambda row: -abs(row.money)))


def parts_otherwise(plan: Plan) -> tuple[Otherwise, ...]:
    """Other rods, other gates and cheaper substitutes, each against the list as it stands."""
    if not plan.runs:
        return ()
    base = bill(plan)
    found = [*_rods(plan, base), *_gates(plan, base), *_substituted(base)]
    return tuple(found)


def _against(base: Bill, group: str, words: str, plan: Plan, loses: str) -> Otherwise:
    then = bill(plan)
    return Otherwise(group, words, round(then.total - base.total, 2), differs(base, then), loses)


def _rods(plan: Plan, base: Bill) -> list[Otherwise]:
    found = []
    for key, metal in rod_metals().items():
        if key != plan.rods.metal and plan.rods.count:
            other = replaced(plan, rods=replaced(plan.rods, metal=key))
            now, then = _dry_ohm(plan), _dry_ohm(other)
            ohms = f"{now:.0f} → {then:.0f} ohm in the dry" if now and then else "no rods that can stand so"
            loses = f"{ohms}; {metal.years:g} years in moist soil. {metal.note}"
            found.append(_against(base, "Rods of", metal.label, other, loses))
    return found


def _dry_ohm(plan: Plan) -> float:
    try:
        return rods_ohm(plan, Weather(Season.DRY))
    except ValueError:
        return 0.0


_GATE_LOSES = {
    "rope": "Two ropes for any number of strands: smaller animals pass under the lower one.",
    "spring": "It recoils when you let go: mind eyes and children. One for each strand.",
    "removable_post": "All strands at once, but they must be slack enough to lift the post out.",
    "handle": "One for each strand: slow to open with many strands, but each can be left off.",
}


def _gates(plan: Plan, base: Bill) -> list[Otherwise]:
    gates = [f for f in plan.fixtures if isinstance(f, Gate) and f.opens]
    if not gates:
        return []
    found = []
    for style, words in GATE_WORDS.items():
        if any(gate.style != style for gate in gates):
            fixtures = [f.model_dump() | ({"style": style} if f in gates else {}) for f in plan.fixtures]
            loses = _GATE_LOSES[style]
            found.append(_against(base, "Gates with", words, changed(plan, {"fixtures": fixtures}), loses))
    return [*found, _of_steel(plan, base, gates)]


def _of_steel(plan: Plan, base: Bill, gates: list[Gate]) -> Otherwise:
    """Gates of steel in the place of strands: each hangs on two braced posts."""
    fixtures = [f.model_dump() | ({"posts": "braced"} if f in gates else {}) for f in plan.fixtures]
    braced = differs(base, bill(changed(plan, {"fixtures": fixtures})))
    strands = tuple(
        Differs(line.label, line.unit, line.quantity, 0, -line.cost)
        for line in base.lines
        if line.part in ("gate_set", "gate_insulator", "gate_rope", "gate_sleeve", "spring_gate")
    )
    steel = prices()["steel_gate"]
    hung = Differs(steel.label, steel.unit, 0, len(gates), round(len(gates) * steel.price, 2))
    rows = (hung, *braced, *strands)
    loses = "Each hangs on two braced posts. It opens and shuts with one hand, and nothing on it is live."
    return Otherwise("Gates of", "steel", round(sum(row.money for row in rows), 2), rows, loses)


def _substituted(base: Bill) -> list[Otherwise]:
    """Cheaper things in the place of what is listed."""
    by_part = {line.part: line for line in base.lines if line.part}
    found = []
    for row in substitutes().values():
        line = by_part.get(row.part)
        if line and line.cost:
            found.append(_one(line.label, line.quantity, line.cost, row))
    return found


def _one(label: str, quantity: float, cost: float, row: Substitute) -> Otherwise:
    money = round(quantity * row.each * row.price - cost, 2)
    rows = (
        Differs(label, "", quantity, 0.0, -cost),
        Differs(row.label, row.unit, 0.0, quantity * row.each, money + cost),
    )
    return Otherwise("Instead", f"{row.label.lower()} for: {label.lower()}", money, rows, row.loses)


def searches_to_pay(tester_price: float) -> int:
    """After how many searches for a fault a tester that shows amps has paid for itself, by own work saved."""
    saved = SEARCH_SAVED_H * HOUR_PRICE
    return max(1, -int(-tester_price // saved))
