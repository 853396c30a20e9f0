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
        ways = "Clips that let the strand pop off; pins that break; screw-on ones that never let go."
        found.append(FenceSchool("Which insulator", ways, "; ".join(hits) + "."))
        found.append(_colour())
    if kinds & {"tape", "rope", "polywire"}:
        ways = "No knots, fine wires break; knots in rope and braid only, with clamps behind."
        here = "Tape is folded through its plate and joined by buckles; rope and polywire are knotted at ends alone."
        found.append(FenceSchool("Knots", ways, here))
        found.append(_seen(view))
    gates = [f for f in view.fixtures if isinstance(f, Gate)]
    if gates:
        ways = "Two ropes, cheap, for trained stock; a handle a strand; a post lifted out; steel, hung and braced."
        styles = dict.fromkeys(gate.style.replace("_", " ") for gate in gates)
        strands = sum(strand.role == "live" for strand in fence_of(view))
        here = (
            f"{', '.join(styles)} here; handles are one for each of {strands} live strands. Prices: Parts, Otherwise."
        )
        found.append(FenceSchool("Which gate", ways, here))
    if "wire" in kinds or "coated" in kinds:
        ways = "Galvanised clamps and staples; stainless ones."
        here = "Galvanised on galvanised wire: both age alike. Stainless near the sea, never brass."
        found.append(FenceSchool("Small hardware", ways, here))
    ways = "Stiff single-core cable; flexible many-stranded cable."
    here = "Flexible where it bends into clamps and round gates; both 20 kV, two jackets. Stiff lies well in a trench."
    found.append(FenceSchool("Cable", ways, here))
    return tuple(found)


def _spacing(view: Plan) -> FenceSchool:
    ways = "Plastic 3 to 4 m; tape 4 to 5 m; wire on stiff posts 6 to 8 m; rope, braid and coated wire 6 to 9 m."
    most, tight = farthest_m(view), max((made.tension_kn for made in conductors_of(view)), default=0.0)
    stands, reach = (format_tape(metres, view.units) for metres in (view.post_spacing_m, most))
    here = f"{stands} here, {reach} at most for what is strung"
    if tight:
        give = format_height(round(give_cm(view.post_spacing_m, tight), 1), view.units)
        here += f": midway it gives {give} under a hand's press"
    return FenceSchool("How far apart posts stand", ways, here + ". Less on rises and in dips, where height decides.")


def _seen(view: Plan) -> FenceSchool:
    wide = max(made.width_mm for made in conductors_of(view))
    ways = "Tape to be seen; rope for strength and gates; line is cheaper than either."
    seen = "is seen at a gallop" if wide >= _SEEN_MM else "is seen close by only: a tape as the top strand helps horses"
    return FenceSchool("Tape, rope or line", ways, f"The widest strand here is {wide:g} mm: it {seen}.")


def _colour() -> FenceSchool:
    ways = "Bright ones are found in the grass; black or white ones are said to last longer in the sun."
    return FenceSchool("Colour of insulators", ways, "Black where years count: soot keeps the sun out. Unproven.")
