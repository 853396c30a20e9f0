"""The whole job of a plan: the steps of its lines, of what belongs to all, its hold points and its closing tests."""

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from adze.core.basics.units import format_length
from adze.core.build.construction import switched_on
from adze.core.build.ends import owned_ends
from adze.core.build.joints import earth_lead_m, joints_of
from adze.core.build.parts import needs_of
from adze.core.build.rods import DIVERTER_RODS
from adze.core.build.supply_parts import diverters
from adze.core.energizer.lightning import DIVERTER_EARTH_WORDS, spark_gap_mm
from adze.core.ground.feed import Feed, feed, lead_out_shape
from adze.core.ground.lines import length_m, point_at, run_of
from adze.core.ground.places import place_words
from adze.core.ground.survey import JOIN_M, joins
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import RodSite
from adze.core.plan.stages import Incomplete, Stage
from adze.core.plan.stock import wanted_of
from adze.core.tables.rates import rates as usual_rates
from adze.core.tasks.line_steps import LineWork, Rates, line_steps
from adze.core.tasks.nest import is_nest_job, nest_steps
from adze.core.tasks.steps import Step
from adze.core.tasks.take_down import taking_down

# Which phase of a line takes a part: by its key where that says it, else by its group.
_BY_PART = {
    "end_post": "ends", "brace_kit": "ends", "stiff_post": "ends", "breast_block": "ends", "composite_end": "ends",
    "concrete_bag": "ends", "prop_stake": "ends", "end_insulator": "strands", "tape_end": "strands",
    "rope_end": "strands", "poly_end": "strands", "tube": "joints", "strainer": "tension", "spring": "tension",
    "tape_tensioner": "tension", "lead_out": "lead", "diverter": "lead", "apron_mesh": "earth",
}  # fmt: skip
_BY_GROUP = {
    "Posts": "posts", "Insulators": "insulators", "Conductor": "strands", "Joints": "joints",
    "Gates and crossings": "gates", "Power": "lead", "Earth": "earth", "Signs": "signs",
}  # fmt: skip
_HAND = ("Gloves",)
ROTARY_SHARE = 0.5  # of the time by hand; an assumption

_REPAIRS = {
    "off": "Small jobs later: switch off at the nearest switch and check with the tester.",
    "live": "Small jobs later, live: insulated handles, dry boots, one hand, never alone.",
}


@dataclass(frozen=True)
class Job:
    """The steps of a plan's work, in an order in which they can be done."""

    steps: tuple[Step, ...]
    is_nest: bool = False

    @property
    def holds(self) -> tuple[Step, ...]:
        """Points that stop what follows."""
        return tuple(step for step in self.steps if step.is_hold)

    @property
    def minutes(self) -> float:
        """All work, minutes for one."""
        return sum(step.minutes for step in self.steps)


def own_rates(typed: Mapping[str, float]) -> Rates:
    """The usual rates with the farm's own in their place."""
    return {key: row.minutes for key, row in usual_rates().items()} | dict(typed)


def job_of(plan: Plan, typed: Mapping[str, float] | None = None, to_fix: str = "") -> Job:
    """The job of a plan at the farm's rates; `to_fix` says what keeps animals out. Raises Incomplete without a line."""
    if not plan.runs:
        raise Incomplete(Stage.GROUND, "Draw the fence first; the steps follow from it.")
    rates = own_rates(typed or {})
    if plan.work.taking_down:
        return Job(tuple(taking_down(plan, rates)))
    if is_nest_job(plan):
        return Job(tuple(_taking_parts(nest_steps(plan, rates))), is_nest=True)
    steps = _taking_parts(_steps(plan, rates))
    return Job(tuple(_kept_out(step, to_fix) if to_fix and step.key == "stock" else step for step in steps))


def _kept_out(step: Step, to_fix: str) -> Step:
    return replace(
        step,
        title="Animals stay out",
        how=(to_fix, "Fix it on the plan and on the ground first."),
    )


def _steps(plan: Plan, rates: Rates) -> Iterator[Step]:
    views, ends, parts = views_by_run(switched_on(plan)), owned_ends(plan), _parts_by_phase(plan)
    joints = tuple(joints_of(plan))
    found: list[Step] = []
    for run in plan.runs:
        own = tuple(j for j in joints if j.run == run.id)
        found += line_steps(LineWork(views[run.id], run, ends[run.id], parts.get(run.id, {}), own), rates)
    marks = tuple(step.key for step in found if step.phase == "mark")
    yield from (step for step in found if step.phase == "mark")
    yield _services(plan, rates, marks)
    known = {step.key for step in found} | {"services"}
    for step in found:
        if step.phase != "mark":
            yield replace(step, after=tuple(key for key in step.after if key in known))
    whole = parts.get("", {})
    rest = list(_for_all(plan, rates, whole))
    yield from rest
    yield from closing(plan, rates, tuple(step.key for step in (*found, *rest)))


def _services(plan: Plan, rates: Rates, after: tuple[str, ...]) -> Step:
    kinds = {mark.kind for mark in plan.landmarks}
    known = [words for kind, words in (("buried", "buried cable"), ("pipe", "water pipe")) if kind in kinds]
    drawn = f"On the plan: {', '.join(known)}." if known else "None is drawn on the plan; that is no proof."
    lines: tuple[str, ...] = (
        "Call the services' line. Have cables, gas and water located and marked before anybody drives or digs.",
        drawn,
        "Dig by hand within half a metre of a mark.",
    )
    minutes = rates["services"]
    return Step("services", "services", "Buried services located", "", lines, minutes, after, is_hold=True)


def _for_all(plan: Plan, rates: Rates, parts: Mapping[str, tuple[tuple[str, float, str], ...]]) -> Iterator[Step]:
    """Lead-out, rods, diverter, unit, signs."""
    start = feed(plan)
    if start is not None:
        yield _lead_out(plan, start, rates, parts)
    if plan.rods.count:
        yield _rods(plan, rates, parts)
    if start is not None:
        yield from _diverters(plan, rates)
        lines: tuple[str, ...] = (
            "Hang it upright and dry, out of the sun and of children's reach. Keep it off while you connect it.",
            *_sheltered(plan),
            "Connect the earth first, then battery or socket, then the fence.",
        )
        yield Step("unit", "lead", "Energizer hung, not switched on", "", lines, rates["energizer"], ("lead",))
    signs = sum(need[1] for need in parts.get("signs", ()))
    if signs:
        lines = ("Put one on every side, gate and public path, readable from outside, at eye height.",)
        yield Step(
            "signs", "signs", "Warning signs", f"{signs:g}", lines, signs * rates["sign"], ("services",),
            parts=parts.get("signs", ()), most=2,
        )  # fmt: skip


def _sheltered(plan: Plan) -> Iterator[str]:
    """What keeps rain, snow and thieves from a unit that stands outdoors."""
    unit = unit_of(plan)
    if unit is None or unit.supply == "mains":
        return
    if unit.supply == "battery":
        yield (
            "Set it in its box above the snow with the vents free and the battery beside it. Look under the lid in "
            "hard frost."
        )
    else:
        yield "Turn its panel to the sun at noon, clear of shade, and brush snow off."
    yield "Chain and lock box or unit to a post where people can see it from a road or path."


def _diverters(plan: Plan, rates: Rates) -> Iterator[Step]:
    """The lightning diverters that are drawn, each with what its earth side goes to."""
    drawn = diverters(plan)
    if drawn:
        lines = (
            "Mount it between unit and fence, where it can be seen.",
            *(f"{one.name}: connect its earth side to {DIVERTER_EARTH_WORDS[one.earth]}." for one in drawn),
            "Set its gap with a gauge, with the power off, before the first pulse.",
        )
        after = ("lead", *(("rods",) if plan.rods.count else ()))
        minutes = len(drawn) * rates["diverter"]
        yield Step("diverter", "lead", "Lightning diverter", f"{len(drawn)}", lines, minutes, after, drawing="diverter")


def _lead_out(plan: Plan, start: Feed, rates: Rates, parts: Mapping[str, tuple[tuple[str, float, str], ...]]) -> Step:
    shape = lead_out_shape(plan)
    spot = point_at(run_of(plan, start.place.run), start.place.at_m)
    fed = sum(math.dist(run.points[0], spot) < JOIN_M for run in plan.runs)
    bus = [f"One lead feeds the {fed} lines that begin there; clamp it to each in turn."] if fed > 1 else []
    long = shape.length if shape is not None else start.lead_m
    buried = plan.lead_out.way == "buried"
    lines = (
        f"Run it in one piece from the unit to {place_words(plan, start.place)}. Use 20 kV cable, never house cable.",
        "Lay it in the ground 45 cm deep in duct." if buried else "Run it on its own posts or insulators.",
        *bus,
        "Keep it off old metal and the supply's wires. Staple it with some slack and let nothing pull on its "
        "terminals.",
        "Bare 9 cm at the fence and double it back. Cut both jackets without nicking the wire.",
    )
    minutes = long * rates["trench_m"] if buried else long / 100 * rates["lead_100m"]
    return Step(
        "lead", "lead", "Lead-out", format_length(long, plan.units), lines, round(minutes, 1), ("services",),
        at=plan.energizer_at, parts=parts.get("lead", ()), most=2, wear=_HAND, drawing="switch",
    )  # fmt: skip


def _rods(plan: Plan, rates: Rates, parts: Mapping[str, tuple[tuple[str, float, str], ...]]) -> Step:
    rods = plan.rods
    how, machine, tools = _rod_way(plan)
    elsewhere = [
        (f"Drive {site.rods} more at {site.name} in the same way.")
        for site in plan.fixtures
        if isinstance(site, RodSite)
    ]
    elsewhere += [
        (f"Drive {DIVERTER_RODS} more for {one.name} in the same way.") for one in diverters(plan) if one.earth == "own"
    ]
    lines = (
        f"{rods.count} rods of {format_length(rods.length_m, plan.units)}, "
        f"{format_length(rods.spacing_m, plan.units)} apart: {how}",
        *elsewhere,
        "Run the lead in one piece through all clamps. Bare 9 cm at each and double it back.",
        *_earth_leads(plan),
        "Mark them, so that a mower and people next year find them.",
    )
    driven = sum(quantity for label, quantity, _ in parts.get("earth", ()) if label.startswith("Earth rod"))
    minutes = driven * rates["rod"] * (ROTARY_SHARE if machine == "hammer" else 1)
    return Step(
        "rods", "earth", "Rods and their lead", f"{driven:g}", lines, minutes, ("services",),
        at=rods.position, parts=parts.get("earth", ()), most=2, drawing="rods", machine=machine,
        wear=("Eyes and ears",), tools=tools,
    )  # fmt: skip


def _rod_way(plan: Plan) -> tuple[str, str, tuple[str, ...]]:
    """How the rods go into the ground: in words, by which machine, with which tools."""
    rods = plan.rods
    if rods.bore_cm is not None:
        deep = format_length(min(rods.bore_m, rods.length_m), plan.units)
        how = (
            f"bore {rods.bore_cm:g} cm wide and {deep} deep by auger, put the rod in its middle, pack wet clay "
            "round it and clamp it."
        )
        return how, "auger", ("Earth auger", "Bucket for the clay")
    if plan.work.rods == "rotary":
        return "use a rotary hammer with a rod cup, then clamp.", "hammer", ("Rotary hammer", "Generator for far rods")
    return "use the driver, then the hammer, then clamp.", "driver", ("Rod driver", "Hammer")


def _earth_leads(plan: Plan) -> Iterator[str]:
    if plan.rods.lead == "strand":
        yield "Run the lead to them on the posts, on clips of its own, 15 cm from live strands: no trench is needed."
    if earth_lead_m(plan) is not None:
        yield "Run a lead of its own from the earth terminal to the earth strands or mesh, beside the lead-out."


def closing(plan: Plan, rates: Rates, everything: tuple[str, ...]) -> Iterator[Step]:
    """Everyone out, on, tests, diverter, wanted kV, tidy, as built, stock in."""
    out = ("Count everybody outside, with tools and children.", "Hook the gates and close the switches.")
    yield Step("out", "out", "Everyone out", "", out, 5, everything, is_hold=True)
    on = (
        "Switch off, connect, then switch on. Nobody stands inside.",
        "See or hear the pulse: a light, a click, a tester's flash.",
        "Read a lamp tester in the shade: the sun hides its lamps.",
    )
    yield Step("on", "on", "Energizer switched on", "", on, 5, ("out",), reads="unit")
    tests = list(_tests(plan, rates))
    yield from tests
    done = tuple(step.key for step in tests)
    unit = unit_of(plan)
    gap = f" to {spark_gap_mm(unit.open_kv):.0f} mm" if unit else " by the unit's open kV"
    lines: tuple[str, ...] = (
        f"Set the gap with a feeler gauge{gap}, with the power off.",
        "Switch on and listen. If it clicks at every pulse, switch off and open it by a tenth of a millimetre.",
    )
    if diverters(plan):
        yield Step("gap", "tests", "Diverter's gap set", "", lines, 10, done)
        done = ("gap",)
    wanted = wanted_of(plan)
    lines = (
        f"Read {wanted:.1f} kV or more everywhere: at each far end and in the driest spot, with the animals' feet "
        "in mind.",
        "Below that no animal goes in; note what is low and look for it first.",
    )
    yield Step("wanted", "tests", f"{wanted:.1f} kV reached everywhere", "", lines, 5, done, is_hold=True)
    hundreds = sum(length_m(run) for run in plan.runs) / 100
    lines = (
        "Tidy the wire ends and pick up scraps and staples: leave none in the grass.",
        "Count every tool in.",
        _REPAIRS[plan.work.repairs],
    )
    yield Step("tidy", "close", "Tidy up", "", lines, max(10, hundreds * rates["tidy_100m"]), ("wanted",), most=4)
    lines = ("Note on the plan today what stands differently, where the rods are and where cables are marked.",)
    yield Step("as_built", "close", "As built, noted", "", lines, 15, ("wanted",))
    lines = ("Watch them through their first hour.",)
    yield Step("stock", "close", "Stock may go in", "", lines, 5, ("tidy", "as_built"))


def _tests(plan: Plan, rates: Rates) -> Iterator[Step]:
    """The unit alone, the lead-out, each line's end and strands, rods, battery, water."""
    each = rates["test"]
    lines: tuple[str, ...] = (
        "Take the fence lead off, then read at the terminals: a good fence on a dead unit misleads everybody.",
    )
    yield Step("test:unit", "tests", "Read: unit alone", "", lines, each, ("on",), reads="unit", at=plan.energizer_at)
    lines = ("Connect the lead-out with the fence off at the switch: a nick or a wet post shows here.",)
    yield Step("test:lead", "tests", "Read: lead-out alone", "", lines, each, ("test:unit",), reads="lead")
    branches = {join.run for join in joins(plan) if join.run != join.onto.run}
    for run in plan.runs:
        lines = (
            "Read each strand by itself at the far end.",
            "A strand that reads 3 kV less than the top one is not joined there, or it leaks.",
        )
        what = "branch" if run.id in branches else "line"
        yield Step(
            f"test:{run.id}", "tests", f"Read: end of {run.name}", what, lines, each, ("test:lead",), run=run.id,
            at=run.points[-1], reads="end", most=1,
        )  # fmt: skip
    if plan.rods.count:
        lines = (
            "Short the fence with stakes 100 m out until it reads 2 kV or less, then read the rods: under 0.3 kV is "
            "good.",
            "Zero on the rods of an unloaded fence proves nothing.",
        )
        yield Step(
            "test:rods", "tests", "Earth test", "", lines, 4 * each, ("test:lead",), reads="rods", most=2, least=2
        )
    if any(mark.kind in ("trough", "water_point", "milk_house") for mark in plan.landmarks):
        lines = ("Read between trough and soil where the animals stand to drink.",)
        yield Step("test:stray", "tests", "Stray volts at the water", "", lines, each, ("test:lead",), reads="stray")


def _parts_by_phase(plan: Plan) -> dict[str, dict[str, tuple[tuple[str, float, str], ...]]]:
    """Parts of each run (empty: the whole plan) by the phase that takes them; gates take their own one by one."""
    rows: dict[tuple[str, str, str, str], float] = {}
    for need in needs_of(plan):
        phase = _BY_PART.get(need.part) or _BY_GROUP[need.group]
        if phase in ("gates", "joints") and not need.run:
            phase = "lead"
        key = (need.run, phase, need.label, need.unit)
        rows[key] = rows.get(key, 0.0) + need.quantity
    found: dict[str, dict[str, tuple[tuple[str, float, str], ...]]] = {}
    for (run, phase, label, unit), quantity in rows.items():
        if quantity > 0:
            own = found.setdefault(run, {})
            own[phase] = (*own.get(phase, ()), (label, round(quantity, 1), unit))
    return found


def _taken(label: str, quantity: float, unit: str) -> str:
    """A part as one asks for it in a shop: by the piece without a unit, the rest by its measure."""
    return f"{quantity:g} × {label}" if unit in ("piece", "set") else f"{quantity:g} {unit} of {label}"


def _taking_parts(steps: Iterable[Step]) -> Iterator[Step]:
    """Steps whose how-to names the parts that they take."""
    for step in steps:
        if not step.parts:
            yield step
            continue
        named = "; ".join(_taken(label, quantity, unit) for label, quantity, unit in step.parts)
        yield replace(step, how=(*step.how, f"Takes: {named}."))
