"""Where builders differ on what a fence is made of: what each school does, and what follows from it on this fence."""

from dataclasses import dataclass

from adze.core.basics.units import format_height, format_tape
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.materials import HIT_WORDS, farthest_m, insulators_for
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate
from adze.core.tables.construction import post_kinds
from adze.core.tasks.figures import give_cm

_SEEN_MM = 20.0  # a tape this wide is seen from afar


@dataclass(frozen=True)
class FenceSchool:
    """A question, how people answer it, and what is taken here with the figures that say why."""

    question: str
    ways: str
    here: str


def fence_schools(view: Plan) -> tuple[FenceSchool, ...]:
    """The questions that this fence raises."""
    made = conductors_of(view)
    kinds = {conductor.kind for conductor in made}
    found = [_spacing(view)]
    hits = [f"{i.label}: {HIT_WORDS[i.hit]}" for _, i in insulators_for(view) if i]
    if hits and post_kinds()[view.post].insulators:
        ways = "Clips that release the strand; pins that break; screw-on ones that never let go."
        found.append(FenceSchool("Which insulator", ways, "; ".join(hits) + "."))
        found.append(_colour())
    if kinds & {"tape", "rope", "polywire"}:
        ways = "No knots, because fine wires break; or knots in rope and braid only, with clamps behind them."
        here = "Fold tape through its plate and join it by buckles. Knot rope and polywire at their ends only."
        found.append(FenceSchool("Knots", ways, here))
        found.append(_seen(view))
    gates = [f for f in view.fixtures if isinstance(f, Gate)]
    if gates:
        ways = (
            "Two ropes, cheap, for trained stock; a handle for each strand; a post that lifts out; a hung, braced "
            "steel gate."
        )
        styles = dict.fromkeys(gate.style.replace("_", " ") for gate in gates)
        strands = sum(strand.role == "live" for strand in fence_of(view))
        here = (
            f"{', '.join(styles)} here; with handles you need one for each of {strands} live strands. Parts shows "
            "the prices under Otherwise."
        )
        found.append(FenceSchool("Which gate", ways, here))
    if "wire" in kinds or "coated" in kinds:
        ways = "Galvanised clamps and staples, or stainless ones."
        here = "Use galvanised on galvanised wire: both age alike. Use stainless near the sea, never brass."
        found.append(FenceSchool("Small hardware", ways, here))
    ways = "Stiff single-core cable, or flexible many-stranded cable."
    here = (
        "Use flexible cable where it bends into clamps and round gates; stiff cable lies well in a trench. Both "
        "need 20 kV and two jackets."
    )
    found.append(FenceSchool("Cable", ways, here))
    return tuple(found)


def _spacing(view: Plan) -> FenceSchool:
    ways = "Plastic 3 to 4 m; tape 4 to 5 m; wire on stiff posts 6 to 8 m; rope, braid and coated wire 6 to 9 m."
    most, tight = farthest_m(view), max((made.tension_kn for made in conductors_of(view)), default=0.0)
    stands, reach = (format_tape(metres, view.units) for metres in (view.post_spacing_m, most))
    here = f"{stands} here; {reach} at most for these strands"
    if tight:
        give = format_height(round(give_cm(view.post_spacing_m, tight), 1), view.units)
        here += f". Pressed by hand midway, a strand gives {give}"
    here += ". Set them closer on rises and in dips, where height decides."
    return FenceSchool("How far apart posts stand", ways, here)


def _seen(view: Plan) -> FenceSchool:
    wide = max(made.width_mm for made in conductors_of(view))
    ways = "Tape is seen best; rope is strong and suits gates; polywire is the cheapest."
    seen = (
        "is seen at a gallop"
        if wide >= _SEEN_MM
        else "is seen only from close by: a tape as the top strand helps horses"
    )
    return FenceSchool("Tape, rope or line", ways, f"The widest strand here is {wide:g} mm: it {seen}.")


def _colour() -> FenceSchool:
    ways = "Bright ones are easy to find in the grass; black or white ones are said to last longer in the sun."
    here = "Choose black where it must last for years: soot keeps the sun out. Nobody has proved it."
    return FenceSchool("Colour of insulators", ways, here)
