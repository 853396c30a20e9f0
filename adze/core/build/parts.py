"""Everything a plan needs, once: counted from the line as drawn, in whole packs, with made-up prices."""

import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import bottom_group_of, conductors_of, fence_of, has_earth_strands
from adze.core.build.count import Count, count, sign_count
from adze.core.build.materials import insulators_for
from adze.core.build.rods import lead_m, places_of
from adze.core.ground.feed import WITH_WHEELS, feed, lead_out_shape, ways_crossed
from adze.core.ground.lines import length_m
from adze.core.ground.survey import joins
from adze.core.ground.wiring import cable_m
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import Built, standing_fences, views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import RoadCrossing, RodSite
from adze.core.tables.construction import nettings, post_kinds
from adze.core.tables.ground import rod_metals
from adze.core.tables.prices import prices

CLAY_KG_PER_L = 1.6
_WASTE = 1.05
_TAIL_M = 2.0
_ROLL_M = {"wire": 500.0}
_OTHER_ROLL_M = 200.0
_INSULATOR_PACK = 25


@dataclass(frozen=True)
class PartLine:
    """One line of the list: what, how many of which unit, packs to buy, what they cost, how it was counted.

    `part` is its key in the table of prices; empty for what has a table of its own (posts, conductors, nets, units).
    """

    group: str
    label: str
    quantity: float
    unit: str
    pack: float
    packs: int
    cost: float
    counted: str
    part: str = ""


@dataclass(frozen=True)
class Bill:
    """The parts list and its sums."""

    lines: tuple[PartLine, ...]
    fence_m: float

    @property
    def total(self) -> float:
        """What all of it costs."""
        return sum(line.cost for line in self.lines)

    @property
    def per_m(self) -> float:
        """Cost per metre of fence; 0 without fence."""
        return self.total / self.fence_m if self.fence_m else 0.0


@dataclass(frozen=True)
class _Need:
    """So much of something, before packs: what several fences ask for is bought together."""

    group: str
    label: str
    quantity: float
    unit: str
    pack: float
    price: float
    counted: str
    part: str = ""


def _priced(group: str, key: str, quantity: float, counted: str) -> _Need:
    price = prices()[key]
    return _Need(group, price.label, quantity, price.unit, price.pack, price.price, counted, key)


def _bought(needs: list[_Need]) -> Iterator[PartLine]:
    """One line for each part, in whole packs."""
    parts: dict[tuple[str, str], list[_Need]] = {}
    for need in needs:
        if need.quantity > 0:
            parts.setdefault((need.group, need.label), []).append(need)
    for rows in parts.values():
        one, quantity = rows[0], sum(need.quantity for need in rows)
        packs = math.ceil(round(quantity / one.pack, 6))
        counted = "; ".join(dict.fromkeys(need.counted for need in rows))
        cost = round(packs * one.price, 2)
        yield PartLine(one.group, one.label, round(quantity, 1), one.unit, one.pack, packs, cost, counted, one.part)


def bill(plan: Plan) -> Bill:
    """The parts list of a plan. Empty without runs."""
    if not plan.runs:
        return Bill((), 0.0)
    views = views_by_run(plan)
    braced = {run.id for run in plan.runs if not (views[run.id].netting or views[run.id].behind)}
    needs = _strong_posts(count(_with_runs(plan, braced))) if braced else []
    for built in standing_fences(plan):
        needs += _fence(_only(built))
    needs += [*_crossings(plan), *_power(plan), *_earth(plan)]
    needs.append(_priced("Signs", "sign", sign_count(plan), "4 sides, each gate, every 100 m of public path"))
    lines = sorted(_bought(needs), key=lambda line: _GROUPS.index(line.group))
    return Bill(tuple(lines), sum(length_m(run) for run in plan.runs))


_GROUPS = ("Posts", "Insulators", "Conductor", "Joints", "Gates and crossings", "Power", "Earth", "Signs")


def _only(built: Built) -> Plan:
    """The view of a fence with its own lines and what stands on them."""
    return _with_runs(built.view, set(built.runs))


def _with_runs(plan: Plan, runs: set[str]) -> Plan:
    if len(runs) == len(plan.runs):
        return plan
    kept = tuple(run for run in plan.runs if run.id in runs)
    return replaced(plan, runs=kept, fixtures=tuple(f for f in plan.fixtures if f.run in runs))


def _fence(plan: Plan) -> list[_Need]:
    """What the strands and line posts of the lines of one fence ask for."""
    metres = sum(length_m(run) for run in plan.runs)
    mesh = [_priced("Earth", "apron_mesh", metres if plan.apron else 0, "along the line, pegged flat, joined to earth")]
    net = nettings().get(plan.netting or "")
    if net:
        # Netting brings its posts, its joints at the ends and its gates: what stands over it is strung beside.
        why = f"rolls of {net.roll_m:g} m with their posts"
        mesh.append(_Need("Conductor", net.label, metres, "m", net.roll_m, net.price, why))
        if not plan.strands:
            return mesh
        plan = replaced(plan, netting=None)
    fence = fence_of(plan)
    live, earth = (sum(s.role is role for s in fence) for role in (Role.LIVE, Role.EARTH))
    n = count(plan)
    needs = [*_line_posts(plan, n), *_fixings(plan, n, live, len(fence) - live)]
    needs += [*_conductor(plan, n, metres), *_joints(plan, n, live, earth)]
    return [*needs, *_gates(n, live), *mesh]


def _strong_posts(n: Count) -> list[_Need]:
    strain = n.ends + n.corners + 2 * n.gates
    return [
        _priced("Posts", "end_post", strain, f"{n.ends} ends, {n.corners} corners, 2 at each of {n.gates} gates"),
        _priced("Posts", "brace_kit", n.ends + 2 * n.corners + 2 * n.gates, "1 an end or gate post, 2 a corner"),
        _priced("Posts", "tie_down", n.dips, "1 in each dip, on an insulated tie"),
    ]


def _line_posts(plan: Plan, n: Count) -> list[_Need]:
    if plan.behind:
        held: Counter[str] = Counter(strand.stands or "bracket" for strand in plan.strands)
        if not held:
            held["bracket"] = len(fence_of(plan))
        each = n.line_posts + 1
        found = [
            _priced("Posts", part, held[key] * each, f"{held[key]} strands, one at each spacing")
            for key, part in (("bracket", "bracket"), ("over", "top_bracket"))
        ]
        if not held["post"]:
            return found
        post = post_kinds()[plan.post]
        return [*found, _Need("Posts", post.label, n.line_posts, "piece", 1, post.price, _posts_why(plan, n))]
    post = post_kinds()[plan.post]
    return [_Need("Posts", post.label, n.line_posts, "piece", 1, post.price, _posts_why(plan, n))]


def _posts_why(plan: Plan, n: Count) -> str:
    return f"every {plan.post_spacing_m:g} m between" + (f", {n.rises} on rises" if n.rises else "")


def _fixings(plan: Plan, n: Count, live: int, others: int) -> list[_Need]:
    end = 2 * live * n.sections if plan.end_insulators else 0
    return [
        *_line_insulators(plan, n),
        _priced("Insulators", "end_insulator", end, f"{live} live strands, both ends of each strain"),
        _priced("Insulators", "corner_insulator", live * n.corners, f"{live} live strands at {n.corners} corners"),
        _priced("Insulators", "earth_clip", others * n.line_posts, f"{others} strands that are not live"),
    ]


def _line_insulators(plan: Plan, n: Count) -> list[_Need]:
    if plan.behind or not post_kinds()[plan.post].insulators:
        return []
    made = [c.kind for s, c in zip(fence_of(plan), conductors_of(plan), strict=True) if s.role is Role.LIVE]
    found = []
    for kind, insulator in insulators_for(plan):
        count, label = made.count(kind) * n.line_posts, insulator.label if insulator else "Line insulator"
        why = f"{made.count(kind)} live of {kind} on {n.line_posts} line posts"
        price = insulator.price if insulator else 0.0
        found.append(_Need("Insulators", label, count, "piece", _INSULATOR_PACK, _INSULATOR_PACK * price, why))
    return found


def _conductor(plan: Plan, n: Count, length: float) -> list[_Need]:
    made = conductors_of(plan)
    strands, rolls = len(made), []
    for wire in dict.fromkeys(made):
        roll, own = _ROLL_M.get(wire.kind, _OTHER_ROLL_M), made.count(wire)
        metres = own * (length * _WASTE + 2 * _TAIL_M * n.sections)
        why = f"{own} strand{'s' * (own > 1)} of {length:.0f} m, 5 % waste, 2 m tails"
        rolls.append(_Need("Conductor", wire.label, math.ceil(metres), "m", roll, roll * wire.price_per_m, why))
    return [
        *rolls,
        _priced("Conductor", "strainer", strands * n.sections, "1 a strand and strain"),
        _priced("Conductor", "spring", strands * n.long_sections, "1 a strand on strains over 300 m"),
    ]


def _joints(plan: Plan, n: Count, live: int, earth: int) -> list[_Need]:
    links = sum(f.kind == "join" for f in plan.fixtures)
    bonds = (2 * n.sections + links) * (max(live - 1, 0) + max(earth - 1, 0))
    branches = len(joins(plan)) * (live + earth)
    return [
        _priced("Joints", "joint_clamp", bonds + branches + 2, "strands joined at both ends, branches, lead-out"),
    ]


def _gates(n: Count, live: int) -> list[_Need]:
    return [
        _priced("Gates and crossings", "gate_set", live * n.gates, f"{live} live strands at each gate that opens"),
        _priced("Gates and crossings", "drive_over_set", live * n.drive_overs, f"{live} live strands, driven over"),
    ]


def _crossings(plan: Plan) -> list[_Need]:
    views = views_by_run(plan)
    gates = sum(cable_m(f) for f in plan.fixtures if f.kind == "gate")
    roads = [(cable_m(f), has_earth_strands(views[f.run])) for f in plan.fixtures if f.kind == "crossing"]
    # Under a road both the live and the earth strand cross.
    cable = gates + sum(metres * (2 if earth else 1) for metres, earth in roads)
    ducts = gates + sum(metres for metres, _ in roads)
    overs = sum(isinstance(f, RoadCrossing) and f.over for f in plan.fixtures)
    switches = sum(f.kind == "switch" for f in plan.fixtures) + plan.lead_out.switch
    groups = sum(bool(bottom_group_of(built.view)) for built in standing_fences(plan))
    return [
        _priced("Gates and crossings", "under_gate_cable", cable, "width and 3 m at each gate and road fed under"),
        _priced("Gates and crossings", "duct", ducts, "for the cable; ends turned down and sealed"),
        _priced("Gates and crossings", "tall_post", 2 * overs, "2 at each crossing that goes over"),
        _priced("Gates and crossings", "cutout_switch", switches + groups, "at the feed, as drawn, bottom strands"),
    ]


def _power(plan: Plan) -> list[_Need]:
    start = feed(plan)
    unit = unit_of(plan)
    if unit is None or start is None:
        return []
    lines = [
        _Need("Power", unit.label, 1, "piece", 1, unit.price, "as chosen"),
        _priced("Power", "lead_out", start.lead_m + 5, f"{start.lead_m:.0f} m to the fence and 5 m to spare"),
        *_lead_out(plan),
        _priced("Power", "diverter", max(1, _kind_count(plan, "diverter")), "between energizer and fence"),
        _priced("Power", "tester", 1, "reads kV and amps"),
    ]
    if "mains" in unit.supply and plan.supply.surge:
        lines.append(_priced("Power", "surge", 1, "on the mains side"))
    if unit.supply != "mains":
        lines.append(_priced("Power", "battery", 1, "one in use, one charging"))
    return lines


def _lead_out(plan: Plan) -> list[_Need]:
    """What the way of the lead-out asks beside its cable: duct, sleeves under wheels, conduit through the wall."""
    lead, way = lead_out_shape(plan), plan.lead_out
    if lead is None:
        return []
    wheels = sum(mark.kind in WITH_WHEELS for mark in ways_crossed(plan))
    buried = way.way == "buried"
    return [
        _priced("Power", "duct", lead.length if buried else 0, "the lead-out in the ground; ends turned down, sealed"),
        _priced("Power", "sleeve", wheels if buried and way.sleeve else 0, f"under {wheels} ways with wheels"),
        _priced("Power", "duct_seal", 2 if buried else 0, "both ends: dirt, water and frost stay out"),
        _priced("Power", "conduit", 1 if way.conduit else 0, "where the lead-out leaves the building"),
    ]


def _kind_count(plan: Plan, kind: str) -> int:
    return sum(f.kind == kind for f in plan.fixtures)


def _earth(plan: Plan) -> list[_Need]:
    rods = plan.rods
    sites = [f.rods for f in plan.fixtures if isinstance(f, RodSite)]
    far = sum(sites)
    at = places_of(rods)
    between = sum(math.dist(a, b) for a, b in pairwise(at)) + sum((n - 1) * rods.spacing_m + 2 for n in sites)
    home = lead_m(plan) + 5 if rods.count else 0.0
    why = f"{rods.count} rods of {rods.length_m:g} m" + (f", {far} along the line" if far else "")
    metal, price = rod_metals()[rods.metal], prices()["rod"]
    watch = rods.length_m if rods.monitor else 0.0
    metres = (rods.count + far) * rods.length_m + watch
    label = price.label if rods.metal == "galvanised" else f"Rod, {metal.label.lower()}"
    needs = [
        _Need("Earth", label, metres, price.unit, price.pack, round(price.price * metal.price_factor, 2), why, "rod"),
        _priced("Earth", "rod_clamp", rods.count + far + bool(rods.monitor), "1 a rod, of the rod's metal"),
    ]
    bare = rods.bare_wire or rods.lead not in ("cable", "household")
    insulated = home + (0.0 if bare else between)
    if metres:
        needs.append(_priced("Earth", "earth_lead", insulated, "to the rods and on through them, unbroken"))
        needs.append(_priced("Earth", "bare_lead", between if bare else 0.0, "through the rods, unbroken"))
    if rods.plate_m:
        needs.append(_priced("Earth", "earth_plate", rods.plate_m**2, "flat, 60 cm deep, joined to the rods"))
    if rods.bore_cm:
        litres = math.pi / 4 * (rods.bore_cm / 10) ** 2 * 10 * min(rods.bore_m, rods.length_m) * (rods.count + far)
        needs.append(_priced("Earth", "clay", CLAY_KG_PER_L * litres, f"bores of {rods.bore_cm:g} cm"))
    return needs
