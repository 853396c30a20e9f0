"""Everything a plan needs, once: counted line by line as drawn, in whole packs, with made-up prices."""

import math
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from adze.core.basics.cache import cached_without
from adze.core.basics.units import counted
from adze.core.build.conductors import conductor_needs
from adze.core.build.construction import bottom_switch_of, fence_of, switched_on
from adze.core.build.count import Count, count_line, sign_count
from adze.core.build.cuts import Cutting, Offer, cheapest_packs, laid
from adze.core.build.ends import end_needs, has_no_ends, owned_ends, pulls_by_kind
from adze.core.build.fittings import insulator_needs, strain_needs
from adze.core.build.gateways import cable_needs, gate_needs, switch_needs
from adze.core.build.joints import Joint, joint_needs, line_joints, shared_joints
from adze.core.build.needs import CutPiece, PartNeed, priced, spare_needs
from adze.core.build.supply_parts import earth_needs, power_needs
from adze.core.ground.lines import length_m
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import standing_fences, views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run
from adze.core.plan.prices import OwnPrice, Quote
from adze.core.tables.construction import nettings, post_kinds

Offers = tuple[OwnPrice, ...]


@dataclass(frozen=True)
class PartLine:
    """One line of the list: what, how many of which unit, packs to buy, what they cost, how it was counted.

    `part` is its key in the table of prices; empty for what has a table of its own (posts, conductors, nets, units).
    `own` says that the price is the user's, `code` the shop's for it;
    `cutting` how its pieces are laid into rolls, where it is cut;
    `from_shed` how much of it the shed gives, `runs` the lines that take it;
    `mix` how many of which pack, where a shop sells it in several sizes: `pack` is then their mean.
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
    own: bool = False
    code: str = ""
    cutting: Cutting | None = None
    from_shed: float = 0.0
    runs: tuple[str, ...] = ()
    mix: tuple[tuple[int, OwnPrice], ...] = ()

    @property
    def left_over(self) -> float:
        """What is left of the packs that are bought, in its unit."""
        return round(self.packs * self.pack - max(0.0, self.quantity - self.from_shed), 1)

    @property
    def key(self) -> str:
        """What a price list calls it."""
        return self.part or self.label


@dataclass(frozen=True)
class Bill:
    """The parts list and its sums."""

    lines: tuple[PartLine, ...]
    fence_m: float
    vat_percent: float = 0.0

    @property
    def total(self) -> float:
        """What all of it costs."""
        return sum(line.cost for line in self.lines)

    @property
    def with_vat(self) -> float:
        """What all of it costs with the tax on top."""
        return self.total * (1 + self.vat_percent / 100)

    @property
    def per_m(self) -> float:
        """Cost per metre of fence; 0 without fence."""
        return self.total / self.fence_m if self.fence_m else 0.0


def _bought(needs: Iterable[PartNeed], own: Mapping[str, Offers], shed: Mapping[str, float]) -> Iterator[PartLine]:
    """One line for each part, in whole packs, at the user's own price where there is one."""
    parts: dict[tuple[str, str], list[PartNeed]] = {}
    for need in needs:
        if need.quantity > 0:
            parts.setdefault((need.group, need.label), []).append(need)
    for rows in parts.values():
        one, quantity = rows[0], sum(need.quantity for need in rows)
        offers = own.get(one.part or one.label, ())
        mine = max(offers, key=lambda offer: offer.pack, default=None)
        pack, price = (mine.pack, mine.price) if mine else (one.pack, one.price)
        cutting = _cut(rows, pack)
        runs = tuple(dict.fromkeys(need.run for need in rows if need.run))
        given = min(shed.get(one.part or one.label, 0.0), quantity)
        packs = math.ceil(round((quantity - given) / pack, 6))
        if cutting and one.unbroken and not given:
            # A strand is joined from what is left of other rolls; a cable is bought in drums as long as its pieces.
            price *= cutting.roll_m / pack
            pack, packs = cutting.roll_m, cutting.bought
        counted, mix = _told(list(dict.fromkeys(need.counted for need in rows))), _mixed(quantity - given, offers)
        if mix and not (cutting and one.unbroken):
            packs = sum(n for n, _ in mix)
            pack = sum(n * offer.pack for n, offer in mix) / packs
            price = sum(n * offer.price for n, offer in mix) / packs
            counted += f"; bought as {' and '.join(f'{n} of {offer.pack:g}' for n, offer in mix)}"
        codes = dict.fromkeys(offer.code for _, offer in mix) if mix else (mine.code if mine else "",)
        cost, told = round(packs * price, 2), (one.part, mine is not None, ", ".join(filter(None, codes)))
        yield PartLine(
            one.group, one.label, round(quantity, 1), one.unit, pack, packs, cost, counted, *told, cutting, given, runs,
            mix,
        )  # fmt: skip


def _mixed(quantity: float, offers: Offers) -> tuple[tuple[int, OwnPrice], ...]:
    """The cheapest packs of several sizes, how many of each; none where there is one size or nothing to buy."""
    if len(offers) < 2 or quantity <= 0:
        return ()
    counts = cheapest_packs(round(quantity, 6), tuple(Offer(offer.pack, offer.price) for offer in offers))
    return tuple((n, offer) for n, offer in zip(counts, offers, strict=True) if n)


def _offers(rows: Iterable[OwnPrice]) -> dict[str, Offers]:
    """The packs in which each part is sold, the largest first."""
    found: dict[str, Offers] = {}
    for row in sorted(rows, key=lambda row: -row.pack):
        found[row.part] = (*found.get(row.part, ()), row)
    return found


def _cut(rows: list[PartNeed], pack: float) -> Cutting | None:
    """Pieces in rolls of the pack's length; unbroken ones from a drum that is as long as the longest asks."""
    pieces: tuple[CutPiece, ...] = tuple(piece for need in rows for piece in need.pieces)
    if not pieces:
        return None
    drum = math.ceil(round(max(piece.length_m for piece in pieces) / pack, 6)) if rows[0].unbroken else 1
    return laid(pieces, pack * drum)


def _told(reasons: list[str]) -> str:
    """How a part was counted: two reasons in full, and how many lines more."""
    more = len(reasons) - 2
    return "; ".join(reasons[:2]) + (f"; similar on {counted(more, 'other line')}" if more > 0 else "")


def bill(plan: Plan) -> Bill:
    """The parts list of a plan. Empty without runs."""
    if not plan.runs:
        return Bill((), 0.0)
    own = _offers(plan.own_prices)
    shed = {row.part: row.quantity for row in plan.from_shed}
    lines = sorted(_bought(needs_of(plan), own, shed), key=lambda line: _GROUPS.index(line.group))
    return Bill(tuple(lines), sum(length_m(run) for run in plan.runs), plan.vat_percent)


def at_quote(plan: Plan, quote: Quote) -> Bill:
    """The list at a shop's prices; what the shop does not name stays at the plan's own."""
    named = {row.part for row in quote.prices}
    own = (*(row for row in plan.own_prices if row.part not in named), *quote.prices)
    return bill(replaced(plan, own_prices=own, vat_percent=quote.vat_percent))


@dataclass(frozen=True)
class LineParts:
    """What one line takes before packs, rows of (group, label, quantity, unit); `run` is empty for the whole plan."""

    run: str
    rows: tuple[tuple[str, str, float, str], ...]


def parts_by_line(plan: Plan) -> tuple[LineParts, ...]:
    """The list parted: the lines in their order, then what belongs to the plan as a whole."""
    own: dict[str, dict[tuple[str, str, str], float]] = {key: {} for key in (*(run.id for run in plan.runs), "")}
    for need in needs_of(plan) if plan.runs else ():
        if need.quantity > 0:
            rows, key = own[need.run], (need.group, need.label, need.unit)
            rows[key] = rows.get(key, 0.0) + need.quantity
    found = []
    for run, rows in own.items():
        kept = sorted(rows.items(), key=lambda row: _GROUPS.index(row[0][0]))
        found.append(LineParts(run, tuple((g, label, round(q, 1), unit) for (g, label, unit), q in kept)))
    return tuple(line for line in found if line.rows)


def needs_of(plan: Plan) -> Iterator[PartNeed]:
    """Everything that is needed, line by line, then for the whole plan; spares where they are wanted."""
    needs = list(_built(plan))
    yield from needs
    if plan.allowance.spares:
        yield from spare_needs(needs)


_NOT_OF_LINES = (
    "own_energizers", "energizer", "half_power", "supply", "rods", "tester", "earth_school", "calibration",
    "own_prices", "quotes", "from_shed", "vat_percent", "notes", "underlay",
)  # fmt: skip


@cached_without("needs of lines", 32, _NOT_OF_LINES)
def _lines(plan: Plan) -> tuple[PartNeed, ...]:
    """What all lines take."""
    views, ends = views_by_run(switched_on(plan)), owned_ends(plan)
    by_run: dict[str, list[Joint]] = {}
    for joint in line_joints(plan):
        by_run.setdefault(joint.run, []).append(joint)
    found = []
    for run in plan.runs:
        needs = (*_line(views[run.id], run, ends[run.id]), *joint_needs(by_run.get(run.id, [])))
        found += [need.on(run.id) for need in needs if need.quantity > 0]
    return tuple(found)


def _built(plan: Plan) -> Iterator[PartNeed]:
    yield from _lines(plan)
    groups = sum(bool(bottom_switch_of(built.view)) for built in standing_fences(plan))
    cut_outs = groups + plan.lead_out.switch
    yield from switch_needs(cut_outs, "where the lead-out comes in, and bottom strands")
    yield from power_needs(plan)
    yield from joint_needs(list(shared_joints(plan)))
    yield from earth_needs(plan)
    yield priced("Signs", "sign", sign_count(plan), "4 sides, each gate, every 100 m of public path")


_GROUPS = ("Posts", "Insulators", "Conductor", "Joints", "Gates and crossings", "Power", "Earth", "Signs")


def _line(view: Plan, run: Run, own_ends: tuple[str, ...]) -> Iterator[PartNeed]:
    """What one line takes."""
    metres = length_m(run)
    mesh_m = metres if view.apron else 0
    yield priced("Earth", "apron_mesh", mesh_m, "along the line, pegged flat, joined to earth")
    net = nettings().get(view.netting or "")
    if net:
        # Netting brings its posts, its joints at the ends and its gates: what stands over it is strung beside.
        why = f"rolls of {net.roll_m:g} m with their posts"
        yield PartNeed("Conductor", net.label, metres, "m", net.roll_m, net.price, why)
        if not view.strands:
            return
        view = replaced(view, netting=None)
    fixtures = [f for f in view.fixtures if f.run == run.id]
    n = count_line(view, run, fixtures, view.post_spacing_m)
    if not has_no_ends(view):
        for kind, pulls in pulls_by_kind(view, run, own_ends, n).items():
            yield from end_needs(view, kind, pulls)
        yield priced("Posts", "tie_down", n.dips, "1 in each dip, on an insulated tie")
    yield from _line_posts(view, n)
    yield from insulator_needs(view, n)
    yield from conductor_needs(view, run, fixtures, n)
    yield from strain_needs(view, n)
    yield from gate_needs(view, fixtures)
    yield from cable_needs(view, fixtures)


def _line_posts(view: Plan, n: Count) -> Iterator[PartNeed]:
    held: Counter[str] = Counter(strand.stands or "bracket" for strand in view.strands if view.behind)
    if view.behind:
        if not held:
            held["bracket"] = len(fence_of(view))
        each = n.line_posts + 1
        for key, part in (("bracket", "bracket"), ("over", "top_bracket")):
            yield priced("Posts", part, held[key] * each, f"{held[key]} strands, one at each spacing")
        yield priced("Posts", "staple", (held["bracket"] + held["over"]) * each, "1 over each bracket's shank")
    if not view.behind or held["post"]:
        post = post_kinds()[view.post]
        yield PartNeed("Posts", post.label, n.line_posts, "piece", 1, post.price, _posts_why(view, n))


def _posts_why(plan: Plan, n: Count) -> str:
    return f"every {plan.post_spacing_m:g} m between" + (f", {n.rises} on rises" if n.rises else "")
