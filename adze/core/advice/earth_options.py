"""What the next rod buys against everything else that could be done for the earth, each computed on the plan."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.advice.candidates import add_rods_words
from adze.core.advice.designs import Build, built_so
from adze.core.advice.earth_here import EarthHere, with_rods
from adze.core.basics.status import Status
from adze.core.build.parts import bill
from adze.core.build.rod_sites import proposed
from adze.core.build.rods import rods_ohm
from adze.core.forecast.compare_units import Tried
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.ground import RodSite
from adze.core.plan.season import Season, Weather

_LONG_M = 2.4
_BORE_CM = 8.0
_CHANGES_NOTHING = 0.99  # of the test's kV
_NOTICEABLE = 1.01  # times what falls shortest
_ROD_HOURS, _BORE_HOURS, _TRENCH_M_PER_HOUR = 0.4, 0.7, 8.0


@dataclass(frozen=True)
class EarthOption:
    """One change of the earth in the driest week: ohms, test, least kV, what falls shortest; what it costs; own hours.

    `usual_kv` is the test of the usual week.
    """

    key: str
    title: str
    ohm: float
    test_kv: float
    usual_kv: float
    status: Status
    fence: Tried
    money: float
    hours: float
    note: str = ""

    @property
    def is_enough(self) -> bool:
        """Whether kV, touch and test hold with it."""
        return self.status is Status.HOLDS and self.fence.margin >= 1


def _changes(plan: Plan) -> Iterator[tuple[str, str, dict[str, object], float, str]]:
    """Key, title, what it sets of the rods, own hours, and a word."""
    rods = plan.rods
    for more in (1, 2, 4):
        if rods.count + more <= MOST_RODS:
            words = f"{add_rods_words(rods.count, more)}, same row"
            yield f"more-{more}", words, {"count": rods.count + more}, more * _ROD_HOURS, ""
    longer = _LONG_M if rods.length_m < _LONG_M - 0.05 else round(rods.length_m + 0.6, 2)
    if longer <= 6:
        yield (
            "longer",
            f"Use rods of {longer:g} m instead of {rods.length_m:g} m",
            {"length_m": longer},
            (rods.count * _ROD_HOURS * 1.3),
            "longer rods reach moist soil where there is some",
        )
    if rods.count > 1 and not rods.places and rods.spacing_m < 2 * rods.length_m + 0.5:
        wide = round(2 * rods.length_m + 1, 1)
        yield "wider", f"Set the same rods {wide:g} m apart", {"spacing_m": wide}, rods.count * _ROD_HOURS, ""
    if rods.bore_cm is None:
        yield (
            "clay",
            f"Set each in an {_BORE_CM:g} cm bore filled with conductive clay",
            {"bore_cm": _BORE_CM},
            (rods.count * _BORE_HOURS),
            "the clay must keep its moisture",
        )
    if not rods.bare_wire and rods.count > 1:
        trench = (rods.count - 1) * rods.spacing_m
        yield "bare", "Lay bare wire in a trench between them", {"bare_wire": True}, trench / _TRENCH_M_PER_HOUR, ""
    if rods.plate_m is None:
        yield (
            "plate",
            "Add a plate of 1 m beside them, 60 cm deep",
            {"plate_m": 1.0},
            2.0,
            "a lot of digging for few ohms",
        )
    sites = proposed(plan)
    if sites and (best := sites[0]).reasons and best.at != rods.position:
        words = f"Move them to damper, quieter ground, {best.lead_m:.0f} m from the energizer"
        update = {"position": best.at, "bearing_deg": best.bearing_deg, "places": [], "layout": "row"}
        yield "move", words, update, rods.count * _ROD_HOURS, "; ".join(best.reasons)


def options(plan: Plan, here: EarthHere) -> tuple[EarthOption, ...]:
    """Every option that changes something: as it stands first, then those that are enough, cheapest first.

    Of those that are not, the ones that come nearest to the earth test's limit stand first.
    """
    base = bill(plan).total
    now = _option(here, plan, ("as-is", "As it stands", 0.0, 0.0, ""))
    # Rods along the line are of the same make: with them an option changes what is solved.
    far_rods = any(isinstance(f, RodSite) for f in plan.fixtures)
    rows = []
    for key, title, update, hours, note in _changes(plan):
        try:
            changed = with_rods(plan, **update)
        except ValueError:
            continue
        money = max(0.0, bill(changed).total - base)
        own = EarthHere(changed) if far_rods else here
        rows.append(_option(own, changed, (key, title, money, hours, note)))
    if here.returns:
        far = built_so(plan, Build(far_rods=True))
        words = ("far", "Add 3 rods on the earth strand at the far end", bill(far).total - base, 3 * _ROD_HOURS, "")
        rows.append(_option(EarthHere(far), far, words))
    least = now.fence.margin * _NOTICEABLE
    better = [row for row in rows if row.test_kv < _CHANGES_NOTHING * now.test_kv or row.fence.margin > least]
    return (now, *sorted(better, key=_order))


def _order(row: EarthOption) -> tuple[object, ...]:
    return (False, row.money, row.hours) if row.is_enough else (True, row.test_kv, row.money)


def _option(here: EarthHere, plan: Plan, words: tuple[str, str, float, float, str]) -> EarthOption:
    key, title, money, hours, note = words
    ohm = rods_ohm(plan, Weather(Season.DRY))
    return EarthOption(key, title, ohm, *here.tested(plan), here.with_ohm(ohm), money, hours, note)


def taken(plan: Plan, key: str) -> Plan:
    """The plan with an option done. Raises ValueError for a key that is no option of it, or ValidationError."""
    if key == "far":
        return built_so(plan, Build(far_rods=True))
    for own, _, update, _, _ in _changes(plan):
        if own == key:
            return with_rods(plan, **update)
    raise ValueError("That change is no longer possible on this plan.")
