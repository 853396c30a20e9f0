"""The steps of one line: set out, ends, guide strand, posts, insulators, strands, tension, joints, gates."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from adze.core.basics.units import format_length
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.count import Count, count_line
from adze.core.build.ends import has_no_ends, pulls_by_kind
from adze.core.build.gateways import cable_needs, gate_needs
from adze.core.build.joints import Joint
from adze.core.build.needs import PartNeed
from adze.core.ground.lines import length_m, point_at
from adze.core.ground.wiring import cable_m
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, RoadCrossing, Run
from adze.core.tables.construction import nettings, post_kinds
from adze.core.tasks import how
from adze.core.tasks.steps import Step

Rates = Mapping[str, float]
Parts = Mapping[str, tuple[tuple[str, float, str], ...]]
_MACHINE_POSTS = ("steel_t", "timber", "dense_timber", "fibreglass", "composite")
_DRIVER = ("Eyes and ears, hard hat under the driver",)
_WIRE = ("Gloves and goggles",)
_IN_TRENCH = ("under_gate_cable", "duct", "duct_seal", "sleeve", "tall_post")
GATE_HOW = {
    "handle": (
        "Wrap the insulator twice and leave a loop of 5 to 8 cm for the hook. Put a second insulator at the hook's "
        "side, so that nothing hangs live once it is open.",
        "Strain it without sag: the second person holds.",
    ),
    "rope": (
        "Hang two ropes from hooks at top and bottom with an end rod of fibreglass. Park the open rope on a small "
        "insulated post.",
        "Make two wraps and a slip knot at one end, three wraps and four plain knots at the other, and seal them by "
        "flame.",
    ),
    "removable_post": (
        "Set the sleeve flush with the ground and let it drain. Leave the strands slack enough to lift the post out.",
    ),
    "spring": ("Hook springs away from the stock. Call out when you let one go: it recoils.",),
    "drive_over": ("Set a low span on two springs: wheels press it down, clear of the axle.",),
}


@dataclass(frozen=True)
class LineWork:
    """What a line's steps are made from: the fence as it stands, its run, counts, parts by phase, joints."""

    view: Plan
    run: Run
    own_ends: tuple[str, ...]
    parts: Parts
    joints: tuple[Joint, ...]

    @property
    def long(self) -> str:
        """The line's length in words."""
        return format_length(length_m(self.run), self.view.units)

    def key(self, phase: str) -> str:
        """A step's key."""
        return f"{self.run.id}/{phase}"


def line_steps(line: LineWork, rates: Rates) -> Iterator[Step]:
    """The steps of a line in their order; what a fence does not have is left out."""
    view, run = line.view, line.run
    fixtures = [f for f in view.fixtures if f.run == run.id]
    n = count_line(view, run, fixtures, view.post_spacing_m)
    hundreds = length_m(run) / 100
    mark = (
        "Use strings, or two people sighting from end to end. Mark ends, corners, gates and every post with spray "
        "or pegs.",
        "Walk it once as the animal would and once with the trimmer: cut now what touches a strand.",
    )
    minutes = hundreds * (rates["mark_100m"] + rates["trim_100m"])
    yield _step(line, "mark", f"Set out {run.name}", line.long, mark, minutes, ())
    yield from _raised(line, rates, n)
    yield from _strung(line, rates, n)
    yield from _passed(line, rates)


def _step(
    line: LineWork, phase: str, title: str, amount: str, lines: tuple[str, ...], minutes: float, after: tuple[str, ...]
) -> Step:
    parts = line.parts.get(phase, ())
    return Step(
        key=line.key(phase),
        phase=phase,
        title=title,
        amount=amount,
        how=lines,
        minutes=round(minutes, 1),
        after=after,
        run=line.run.id,
        at=line.run.points[0],
        parts=parts,
    )


def _raised(line: LineWork, rates: Rates, n: Count) -> Iterator[Step]:
    """Ends, the guide strand, posts and insulators."""
    view, name = line.view, line.run.name
    after: tuple[str, ...] = ("services",)
    net = nettings().get(view.netting or "")
    if net and not view.strands:
        return
    ends = tuple(_ends(line, rates, n, after)) if not has_no_ends(view) else ()
    yield from ends
    after = tuple(step.key for step in ends) or after
    if not view.behind and any(made.kind != "polywire" for made in conductors_of(view)):
        words = how.FIRST_WORDS[view.work.first]
        hundreds = length_m(line.run) / 100 * (2 if view.work.first == "two" else 1)
        lines = (words, "Tie it off lightly strained and walk back along it. You sight the posts along it.")
        step = _step(line, "guide", f"Guide strand of {name}", line.long, lines, hundreds * rates["strand_100m"], after)
        yield replace(step, least=2, most=2, wear=_WIRE, tools=("Spinning jenny",))
        after = (step.key,)
    posts = n.line_posts
    driven = view.post in _MACHINE_POSTS and not view.behind
    each = "driven_post" if driven else "screw_bracket" if view.behind else "step_in"
    name_of_posts, held = ("Brackets", how.bracket_lines) if view.behind else ("Posts", how.post_lines)
    minutes = posts * rates[each] + n.dips * rates["tie_down"]
    if posts:
        step = _step(
            line,
            "posts",
            f"{name_of_posts} of {name}",
            f"{_held_by(line, posts):g}",
            held(view, n.dips, n.rises),
            minutes,
            after,
        )
        yield replace(
            step,
            most=4,
            machine="driver" if driven else "",
            wear=_DRIVER if driven else (),
            tools=("Post driver",) if driven else ("Drill, 6 mm bit", "Hammer") if view.behind else (),
        )
        after = (step.key,)
        on_posts = any(strand.stands == "post" for strand in view.strands)
        if on_posts or (post_kinds()[view.post].insulators and not view.behind):
            live = len(fence_of(view))
            step = _step(
                line, "insulators", f"Insulators of {name}", f"{live} a post", how.insulator_lines(view),
                posts * live * rates["insulator"], after,
            )  # fmt: skip
            yield replace(step, most=4, tools=("Story pole", "Drill"), drawing="pole")


def _held_by(line: LineWork, posts: int) -> float:
    """How many posts are set, or brackets where the line stands on an old fence."""
    brackets = sum(need[1] for need in line.parts.get("posts", ()) if "bracket" in need[0].lower())
    return brackets if line.view.behind else posts


def _ends(line: LineWork, rates: Rates, n: Count, after: tuple[str, ...]) -> Iterator[Step]:
    """A step for each kind of end; the parts of all of them go with the first."""
    for number, (kind, pulls) in enumerate(pulls_by_kind(line.view, line.run, line.own_ends, n).items()):
        step = _step(
            line, "ends", f"Ends of {line.run.name}", f"{pulls.posts} × {kind}",
            how.end_lines(replaced(line.view, end_kind=kind)), pulls.posts * rates[f"end_{kind}"], after,
        )  # fmt: skip
        if number:
            step = replace(step, key=f"{step.key}-{kind}", parts=())
        drawing = f"end:{kind}" if number else "end"
        heavy = kind in ("braced", "block", "concreted")
        tools = ("Auger or spade", "Level", "Driver") if heavy else ("Hammer",)
        yield replace(
            step, least=2 if heavy else 1, most=2 if heavy else 1, rests_days=int(kind == "concreted"),
            machine="auger" if heavy else "", dry=kind == "concreted",
            drawing=drawing, tools=tools, wear=_DRIVER if heavy else (),
        )  # fmt: skip


def _strung(line: LineWork, rates: Rates, n: Count) -> Iterator[Step]:
    """Strands, tension, joints; netting."""
    view, name = line.view, line.run.name
    net = nettings().get(view.netting or "")
    if net:
        rolls = max(1, round(length_m(line.run) / net.roll_m + 0.49))
        step = _step(
            line, "strands", f"Netting of {name}", f"{rolls} rolls", how.strand_lines(view),
            rolls * rates["netting_roll"], ("services", line.key("mark")),
        )  # fmt: skip
        yield replace(step, most=2, drawing="net")
    if net and not view.strands:
        return
    strands = len(fence_of(view))
    guides = 0 if view.behind else 2 if view.work.first == "two" else 1
    hundreds = length_m(line.run) / 100 * max(strands - guides, 0)
    ties = 2 * strands * n.sections
    before = tuple(line.key(p) for p in ("mark", "ends", "guide", "posts", "insulators"))
    key = "wires" if net else "strands"
    step = _step(
        line, key, f"Strands of {name}", f"{strands} of {line.long}", how.strand_lines(replaced(view, netting=None)),
        hundreds * rates["strand_100m"] + ties * rates["tie"], (*before, "services"),
    )  # fmt: skip
    yield replace(step, phase="strands", least=2, most=3, wear=_WIRE, still=True, drawing="tie")
    strains = sum(need[1] for need in line.parts.get("tension", ()) if "strainer" in need[0] or "ensioner" in need[0])
    after: tuple[str, ...] = (line.key(key),)
    if strains:
        step = _step(
            line, "tension", f"Strain {name}", f"{strains:g} strainers", how.tension_lines(view),
            strains * rates["strainer"], after,
        )  # fmt: skip
        yield replace(step, most=2, wear=_WIRE, tools=("Strainer tool",))
        after = (step.key,)
    joints = [j for j in line.joints if j.fasteners and j.kind in ("strands", "splice")]
    if joints:
        count = sum(j.fasteners for j in joints)
        parted = any("; " in j.words for j in joints)  # groups of strands, each told by itself
        step = _step(
            line, "joints", f"Joints of {name}", f"{count} in {len(joints)} places",
            how.joint_lines(view, parted=parted), count * rates["joint"], after,
        )  # fmt: skip
        yield replace(step, most=2, drawing="jumper", tools=("Crimper or spanner",))


def _passed(line: LineWork, rates: Rates) -> Iterator[Step]:
    """Gates, switches and ways under which cable goes: a trench first, sealed and tested before it is closed."""
    for f in line.view.fixtures:
        if f.run != line.run.id or f.kind not in ("gate", "crossing", "switch"):
            continue
        after: tuple[str, ...] = ("services", line.key("mark"))
        for step in _under(line, f, rates, after):
            after = (step.key,)
            yield step
        strung = tuple(line.key(phase) for phase in ("strands", "wires", "tension", "ends"))
        step = _set_gate(line, f, rates) if isinstance(f, Gate) else _set_switch(f, rates)
        if not isinstance(f, RoadCrossing):
            parts = tuple((x.label, x.quantity, x.unit) for x in _own_needs(line, f) if x.part not in _IN_TRENCH)
            yield replace(step, after=(*after, *strung), parts=parts, run=line.run.id, at=point_at(line.run, f.at_m))


def _own_needs(line: LineWork, fixture: Fixture) -> list[PartNeed]:
    needs = (*gate_needs(line.view, [fixture]), *cable_needs(line.view, [fixture]))
    return [need for need in needs if need.quantity > 0]


def _under(line: LineWork, f: Fixture, rates: Rates, after: tuple[str, ...]) -> Iterator[Step]:
    """The trench of a gate or a way with its cable, and the hold before it is closed."""
    long = cable_m(f)
    parts = tuple((x.label, x.quantity, x.unit) for x in _own_needs(line, f) if x.part in _IN_TRENCH)
    at, units = point_at(line.run, f.at_m), line.view.units
    if long <= 0 or not isinstance(f, (Gate, RoadCrossing)):
        return
    lines = (
        f"Dig a trench of {format_length(f.width_m, units)} and a step beyond, 45 to 60 cm deep by local code. The "
        "water pipe may go in the same one.",
        "Under a way put each core in its own duct. Turn both ends down like a crook and leave some slack.",
        "Lay a steel sleeve from side to side of the way, for cable and for water: wheels crush a duct."
        if isinstance(f, RoadCrossing)
        else "Under heavy wheels use a steel sleeve for cable and for water.",
        "Where earth strands stand, take both the live and the earth core under the way.",
    )
    yield Step(
        f"{f.id}/trench", "gates", f"Trench and cable at {f.name}", format_length(long, units), lines,
        long * rates["trench_m"], after, line.run.id, at, ("Trench spade",), ("Boots, gloves",), parts, most=2,
        machine="digger", drawing=f"duct:{f.id}",
    )  # fmt: skip
    seal = (
        "Caulk and tape the ends against water and frost.",
        "Test core to core and core to soil: nothing may connect.",
    )
    yield Step(
        f"{f.id}/sealed", "gates", f"Duct at {f.name} sealed and tested", "", seal, rates["test"],
        (f"{f.id}/trench",), line.run.id, at, is_hold=True,
    )  # fmt: skip


def _set_gate(line: LineWork, f: Gate, rates: Rates) -> Step:
    wide = format_length(f.width_m, line.view.units)
    title, how_to = f"Gate {f.name}", GATE_HOW[f.style]
    return Step(f"{f.id}/gate", "gates", title, wide, how_to, rates["gate"], least=2, most=2, drawing=f"gate:{f.id}")


def _set_switch(f: Fixture, rates: Rates) -> Step:
    lines = (
        "Screw it to the inside of the post with two screws, the feed on the fixed side, the fence on the blade.",
        "Put the lower strands on a flexible link of their own.",
    )
    return Step(f"{f.id}/switch", "gates", f"Switch {f.name}", "", lines, rates["switch"], drawing="switch")
