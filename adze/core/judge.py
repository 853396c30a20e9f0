"""The verdict on a plan: every stage judged, with place, season, limit and reason."""

import math
from dataclasses import dataclass
from itertools import pairwise

from shapely import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from adze.core import ground
from adze.core.circuit import Incomplete, bottom_group_of, fence_of
from adze.core.earth_test import ACCEPTABLE_KV, GOOD_KV, EarthTest, earth_test
from adze.core.findings import Finding, Stage, Verdict
from adze.core.forecast import Volts, stand_at, volts
from adze.core.ground import Place
from adze.core.parts import bill
from adze.core.plan import Landmark, Plan, animals_of
from adze.core.season import Season, Weather
from adze.core.strand_checks import Status, StrandFinding, check, rank, smallest_mend
from adze.core.strand_rules import Role, design, wanted_kv
from adze.core.tables import animal_kinds, conductors, energizers, soils
from adze.core.touch import Path
from adze.core.touches import Touch, touches
from adze.core.units import format_height, format_length
from adze.core.wording import SEASON_WORDS, animal_word, kv_words, place_words, run_of

_MARGIN = 0.9
RODS_CLEAR_M = 10.0
_CHECK_TITLES = {
    "head": "Head through a gap",
    "pulse": "Through before the pulse",
    "under": "Under",
    "lean": "Leaning over",
    "jump": "Over the top",
    "reach": "Reaching in",
    "touch": "Nose meets live",
    "bridge": "Live and earth at once",
}
_FLAT_WANTED_KV = 3.0  # the school of one figure for all, where no animal is chosen yet


@dataclass(frozen=True)
class Judgement:
    """All verdicts of a plan, its season forecasts, touches and earth test; `blocked` names what is missing."""

    verdicts: dict[Stage, Verdict]
    volts: dict[Season, Volts]
    touches: dict[Season, tuple[tuple[Place, Touch], ...]]
    earth_tests: dict[Season, EarthTest]
    wanted_kv: float
    blocked: str = ""

    @property
    def status(self) -> Status:
        """The worst stage decides."""
        return max((v.status for v in self.verdicts.values()), key=rank)

    @property
    def worst(self) -> Finding | None:
        """The finding that decides: the worst one, volts before the rest."""
        found = [v.worst for v in self.verdicts.values() if v.worst]
        order = [Stage.VOLTS, Stage.EARTH, Stage.STRANDS, Stage.GROUND, Stage.POWER, Stage.STOCK]
        return min(found, key=lambda f: (-rank(f.status), order.index(f.stage))) if found else None


def wanted_of(plan: Plan) -> float:
    """kV wanted at the worst place: the hardest animal's, or one figure for all where none is chosen."""
    return wanted_kv(animals_of(plan)) if plan.stock else _FLAT_WANTED_KV


def judge(plan: Plan) -> Judgement:
    """Judge every stage of a plan."""
    wanted = wanted_of(plan)
    verdicts = {
        Stage.STOCK: _stock(plan),
        Stage.GROUND: _ground(plan),
        Stage.STRANDS: _strands(plan),
    }
    seasons: dict[Season, Volts] = {}
    felt: dict[Season, tuple[tuple[Place, Touch], ...]] = {}
    tests: dict[Season, EarthTest] = {}
    blocked = ""
    try:
        for season in Season:
            weather = Weather(season)
            seasons[season] = volts(plan, weather)
            felt[season] = worst_touches(plan, seasons[season])
        for season in (Season.DRY, Season.WET):
            tests[season] = earth_test(plan, Weather(season))
    except Incomplete as missing:
        blocked = str(missing)
        stage = Stage(missing.stage)
        if stage in verdicts and verdicts[stage].status is not Status.FAILS:
            verdicts[stage] = Verdict(stage, "nothing yet", unknown=blocked)
        seasons, felt, tests = {}, {}, {}
    verdicts[Stage.POWER] = _power(plan, seasons, wanted, blocked)
    verdicts[Stage.EARTH] = _earth(plan, tests, blocked)
    verdicts[Stage.VOLTS] = _volts(plan, seasons, felt, wanted, blocked)
    verdicts[Stage.PARTS] = _parts(plan)
    return Judgement(verdicts, seasons, felt, tests, wanted, blocked)


def _names(plan: Plan) -> str:
    kinds = dict.fromkeys(animal_kinds()[h.kind].plural for h in plan.stock)
    return ", ".join(kinds)


def _stock(plan: Plan) -> Verdict:
    if not plan.stock:
        return Verdict(Stage.STOCK, "none chosen", unknown="Choose the animals first: heights and kV follow from them.")
    cautions = []
    new = [animal_kinds()[h.kind] for h in plan.stock if not h.schooled]
    held = [k.plural for k in new if k.purpose == "hold"]
    if held:
        cautions.append(
            f"The {', '.join(held)} do not know electric fence yet: a week in a small pen first, live strands about "
            "15 cm inside a solid barrier, so that a startled animal backs off instead of bolting through."
        )
    if any(h.woolled for h in plan.stock):
        cautions.append("Fleece over 3 cm insulates: full power until shearing.")
    if any(k.key == "hen" or k.key == "goose" for k in new):
        cautions.append("Feathers insulate: netting holds poultry better than strands.")
    return Verdict(Stage.STOCK, _names(plan), cautions=tuple(cautions))


def _ground(plan: Plan) -> Verdict:
    if not plan.runs:
        return Verdict(Stage.GROUND, "nothing drawn", unknown="Draw the first line from the energizer outward.")
    found: list[Finding] = []
    names = {run.id: run.name for run in plan.runs}
    for crossing in ground.crossings(plan):
        one, other = names[crossing.first], names[crossing.second]
        what = f"{one} crosses itself" if one == other else f"{one} and {other} cross without a join"
        found.append(
            Finding(
                Stage.GROUND,
                "Crossing",
                Status.FAILS,
                f"{what}: the pulse does not pass between them there, but they would touch.",
                where=f"at {crossing.point[0]:.0f} m east, {crossing.point[1]:.0f} m north",
                mend="End one line on the other, or move a point.",
            )
        )
    fed = ground.fed_runs(plan)
    for run in plan.runs:
        if run.id not in fed:
            near, away = ground.nearest_gap(plan, run)
            gap = f"{format_length(away, plan.units)} from {near}" if near else "nowhere near another"
            found.append(
                Finding(
                    Stage.GROUND,
                    "Not connected",
                    Status.FAILS,
                    f"{run.name} hangs on nothing: its ends lie {gap}.",
                    figure=format_length(away, plan.units),
                    limit=format_length(ground.JOIN_M, plan.units),
                    place=Place(run.id, 0.0),
                    where=run.name,
                    mend="Drag one of its ends onto the line that feeds it.",
                )
            )
        for fixture in plan.fixtures:
            if fixture.run == run.id and fixture.at_m > ground.length_m(run) + 0.01:
                found.append(
                    Finding(
                        Stage.GROUND,
                        "Off the end",
                        Status.FAILS,
                        f"{fixture.name} stands at "
                        f"{format_length(fixture.at_m, plan.units)}, past the end of {run.name}.",
                        limit=format_length(ground.length_m(run), plan.units),
                        where=fixture.name,
                        mend="Move it back onto the line.",
                    )
                )
    if plan.energizer_at is None:
        found.append(
            Finding(
                Stage.GROUND,
                "Energizer not placed",
                Status.MARGINAL,
                "A lead-out of 20 m to the first point is assumed.",
                mend="Place the energizer on the ground.",
            )
        )
    length = sum(ground.length_m(run) for run in plan.runs)
    gates = sum(f.kind == "gate" for f in plan.fixtures)
    line = format_length(length, plan.units) + (f", {gates} gate{'s' * (gates != 1)}" if gates else "")
    return Verdict(Stage.GROUND, line, tuple(found), _ground_cautions(plan))


def _shape(mark: Landmark) -> BaseGeometry:
    if len(mark.points) == 1:
        return Point(mark.points[0])
    if mark.kind == "building" and len(mark.points) > 2:
        return Polygon(mark.points)
    return LineString(mark.points)


def _ground_cautions(plan: Plan) -> tuple[str, ...]:
    notes = []
    for mark in plan.landmarks:
        if mark.kind == "path" and len(mark.points) > 1:
            away = min(ground.line_of(run).distance(_shape(mark)) for run in plan.runs)
            if away < 20:
                name = mark.name or "A public path"
                notes.append(
                    f"{name} comes within {format_length(away, plan.units)} of the fence: signs readable from both "
                    "sides at most 100 m apart, a way round or a safe gate. Check your local code."
                )
    return tuple(notes)


def _strands(plan: Plan) -> Verdict:
    fence = fence_of(plan)
    live = [s for s in fence if s.role is Role.LIVE]
    top = format_height(fence[-1].cm, plan.units)
    kinds = "live" if len(live) == len(fence) else f"{len(live)} live"
    line = f"{len(fence)}, {kinds}, to {top}"
    animals = animals_of(plan)
    if not animals:
        return Verdict(Stage.STRANDS, line, unknown="Heights follow from the animals: choose them at Stock first.")
    found = []
    if not live:
        found.append(
            Finding(
                Stage.STRANDS,
                "No live strand",
                Status.FAILS,
                "Nothing carries the pulse.",
                mend="Make one strand live.",
            )
        )
    for f in check(animals, plan.duty, fence):
        mend = "" if f.status is Status.HOLDS else smallest_mend(animals, plan.duty, fence, f).words()
        found.append(
            Finding(
                Stage.STRANDS,
                f"{animal_kinds()[f.animal].label}: {_CHECK_TITLES[f.check].lower()}",
                f.status,
                f.reason,
                figure=_shown(plan, f, f.value),
                limit=_shown(plan, f, f.limit),
                mend=mend,
            )
        )
    pattern = design(animals, plan.duty, plan.scheme)
    if pattern.refusal:
        found.append(Finding(Stage.STRANDS, "No single set", Status.FAILS, pattern.refusal))
    return Verdict(Stage.STRANDS, line, tuple(found), _strand_cautions(plan))


def _shown(plan: Plan, finding: StrandFinding, value: float | None) -> str:
    """A strand check's figure in its unit: seconds for the pulse, a height else."""
    if value is None:
        return ""
    return f"{value:.1f} s" if finding.check == "pulse" else format_height(value, plan.units)


def _strand_cautions(plan: Plan) -> tuple[str, ...]:
    fence, kinds = fence_of(plan), {h.kind for h in plan.stock}
    notes = []
    lowest = min((s.cm for s in fence if s.role is Role.LIVE), default=math.inf)
    if lowest < 10:
        notes.append("A lowest strand under 10 cm lies in any grass: keep a bare strip below it, or use netting.")
    if lowest < 30 and kinds & {"horse", "pony", "donkey"}:
        notes.append("A lowest strand under 30 cm can hook a pawing hoof.")
    if conductors()[plan.conductor].kind == "tape" and any(b.cm - a.cm < 8 for a, b in pairwise(fence)):
        notes.append("Tape this close flaps together: tension it well.")
    if bottom_group_of(plan):
        low = ", ".join(format_height(fence[i].cm, plan.units) for i in bottom_group_of(plan))
        notes.append(f"Put the strands at {low} on their own switch: off while grass is high.")
    notes.append("Barbed wire is never made live, and no live strand within reach beyond it.")
    return tuple(notes)


def _against(value: float, limit: float) -> Status:
    if value >= limit:
        return Status.HOLDS
    return Status.MARGINAL if value >= _MARGIN * limit else Status.FAILS


def _power(plan: Plan, seasons: dict[Season, Volts], wanted: float, blocked: str) -> Verdict:
    if plan.energizer is None:
        return Verdict(Stage.POWER, "none chosen", unknown="Choose an energizer; the sizes others go by stand beside.")
    unit = energizers()[plan.energizer]
    cautions = [
        "One energizer to a fence, never two; other fences' live strands at least 2.5 m away.",
        "Dry, shaded, out of reach of stock, away from the milk-house and its water.",
    ]
    if "mains" in unit.supply:
        cautions.append("Mains parts indoors only, behind a surge protector; mains work by a licensed electrician.")
    if not seasons:
        return Verdict(Stage.POWER, unit.label, cautions=tuple(cautions), unknown=blocked)
    season, start = min(((s, v.start_kv) for s, v in seasons.items()), key=lambda row: row[1])
    status = _against(start, wanted)
    finding = Finding(
        Stage.POWER,
        "kV at the energizer",
        status,
        f"With all of the fence on it the unit still shows {kv_words(start)} of its open {unit.open_kv:g} kV.",
        figure=f"{kv_words(start)} kV",
        limit=f"{kv_words(wanted)} kV",
        season=season,
        where="at the energizer",
        mend="" if status is Status.HOLDS else "See what would mend it at Volts.",
    )
    return Verdict(Stage.POWER, unit.label, (finding,), tuple(cautions))


def _earth(plan: Plan, tests: dict[Season, EarthTest], blocked: str) -> Verdict:
    if plan.rods.count < 1:
        none = Finding(Stage.EARTH, "No rods", Status.FAILS, "The pulse has no way back.", mend="Add three rods.")
        return Verdict(Stage.EARTH, "no rods", (none,))
    if not tests:
        return Verdict(Stage.EARTH, f"{plan.rods.count} rods", unknown=blocked)
    found = []
    earth_strands = any(s.role is Role.EARTH for s in fence_of(plan))
    for season, test in tests.items():
        status = test.status
        if status is Status.FAILS and earth_strands:
            # The return goes by the earth strands: weak rods are a flaw there, not the end of the touch.
            status = Status.MARGINAL
        found.append(
            Finding(
                Stage.EARTH,
                f"Earth test, {SEASON_WORDS[season]}",
                status,
                f"With the fence shorted to {kv_words(test.fence_kv)} kV the rods would rise to "
                f"{kv_words(test.rods_kv)} kV; a peg 10 m off shows {kv_words(test.peg_kv)}."
                + (" The earth strands carry the return." * earth_strands),
                figure=f"{kv_words(test.rods_kv)} kV",
                limit=f"{GOOD_KV:g} good, {ACCEPTABLE_KV:g} tolerable",
                season=season,
                where="at the rods",
                mend="" if test.status is Status.HOLDS else "More or longer rods, in damper ground.",
            )
        )
    if plan.rods.spacing_m < 0.95 * 1.5 * plan.rods.length_m and plan.rods.count > 1:
        found.append(
            Finding(
                Stage.EARTH,
                "Rods too near each other",
                Status.MARGINAL,
                "Rods closer than 3 m act as one.",
                figure=format_length(plan.rods.spacing_m, plan.units),
                limit=format_length(3, plan.units),
                mend="Space them 3 m or more.",
            )
        )
    found += _rods_beside_buildings(plan)
    ohm = tests[Season.DRY].rods_ohm
    cautions = (
        f"Rods at least {format_length(RODS_CLEAR_M, plan.units)} from any supply, telephone or building earth and "
        "from metal water pipes.",
        "Test in the driest and in the wettest time: the test decides, not the count.",
    )
    return Verdict(Stage.EARTH, f"{plan.rods.count} rods, {ohm:.0f} Ω dry", tuple(found), cautions)


def _rods_beside_buildings(plan: Plan) -> list[Finding]:
    if plan.rods.position is None:
        return []
    found = []
    for mark in plan.landmarks:
        away = _shape(mark).distance(Point(plan.rods.position)) if mark.kind == "building" else math.inf
        if away < RODS_CLEAR_M:
            found.append(
                Finding(
                    Stage.EARTH,
                    "Rods near a building",
                    Status.MARGINAL,
                    f"The rods stand beside {mark.name or 'a building'}: its supply earth and water pipes would carry "
                    "the pulse.",
                    figure=format_length(away, plan.units),
                    limit=format_length(RODS_CLEAR_M, plan.units),
                    where=mark.name,
                    mend="Move the rods away. Check your local code.",
                )
            )
    return found


def worst_touches(plan: Plan, season: Volts) -> tuple[tuple[Place, Touch], ...]:
    """Every animal's touch where the kV is least on each kind of soil."""
    least: dict[str | None, tuple[float, Place]] = {}
    for trace in season.traces:
        soil = run_of(plan, trace.run).soil
        soil = None if soil == plan.soil else soil
        kv = season.kv(trace)
        i = int(kv.argmin())
        if soil not in least or kv[i] < least[soil][0]:
            least[soil] = float(kv[i]), Place(trace.run, float(trace.at_m[i]))
    found = []
    for soil, (_, place) in least.items():
        stand = stand_at(plan, season.weather, place)
        found += [(place, t) for t in touches(plan, stand, season.weather, soil)]
    return tuple(found)


def _volts(
    plan: Plan,
    seasons: dict[Season, Volts],
    felt: dict[Season, tuple[tuple[Place, Touch], ...]],
    wanted: float,
    blocked: str,
) -> Verdict:
    if not seasons:
        return Verdict(Stage.VOLTS, "not known yet", unknown=blocked)
    found = [kv_finding(plan, season, forecast, wanted) for season, forecast in seasons.items()]
    by_animal: dict[str, Finding] = {}
    for season, rows in felt.items():
        for place, one in rows:
            finding = touch_finding(plan, season, place, one)
            known = by_animal.get(one.animal.kind)
            if known is None or finding.severity > known.severity:
                by_animal[one.animal.kind] = finding
    found += by_animal.values()
    deciding = max(found, key=lambda f: f.severity)
    if deciding.status is Status.HOLDS or deciding.animal is None:
        season, forecast = min(seasons.items(), key=lambda row: row[1].worst[1])
        line = f"{kv_words(forecast.worst[1])} kV {season.value}"
    else:
        word = animal_word(deciding.animal)
        line = f"{word} feels {kv_words(deciding.value_kv)} kV {deciding.season.value if deciding.season else ''}"
    cautions = ("Switch off and make sure before mending. People with a pacemaker keep away from the fence.",)
    return Verdict(Stage.VOLTS, line, tuple(found), cautions)


def kv_finding(plan: Plan, season: Season, forecast: Volts, wanted: float) -> Finding:
    """The least kV of a season against what the animals want."""
    place, kv = forecast.worst
    return Finding(
        Stage.VOLTS,
        f"Least kV, {SEASON_WORDS[season]}",
        _against(kv, wanted),
        _kv_reason(plan, forecast),
        figure=f"{kv_words(kv)} kV",
        limit=f"{kv_words(wanted)} kV",
        place=place,
        where=place_words(plan, place),
        season=season,
        value_kv=kv,
        limit_kv=wanted,
    )


def _kv_reason(plan: Plan, forecast: Volts) -> str:
    _, kv = forecast.worst
    unit = energizers()[plan.energizer or ""]
    sag = 1 - kv / max(forecast.start_kv, 1e-9)
    if sag > 0.25:
        return "The line itself takes it: leaks along the way and the strands' own resistance."
    if forecast.start_kv < 0.7 * unit.open_kv:
        return "All of the fence pulls the unit down: growth and rods take the pulse from the start."
    return "The pulse arrives nearly whole."


def touch_finding(plan: Plan, season: Season, place: Place, one: Touch) -> Finding:
    """What one animal feels against what holds or turns it."""
    soil = run_of(plan, place.run).soil or plan.soil
    way = (
        "between live and earth strand"
        if one.path is Path.EARTH_STRAND
        else f"through hooves on {soils()[soil].label.lower()}"
    )
    share = one.body_kv / max(one.strand_kv, 1e-9)
    reason = f"Of {kv_words(one.strand_kv)} kV on the strand {kv_words(one.body_kv)} reach the body {way}."
    if one.status is not Status.HOLDS and share < 0.35 and one.path is Path.SOIL:
        reason += " The ground and the hooves are the trouble, not the unit."
    name = animal_word(one.animal.kind)
    return Finding(
        Stage.VOLTS,
        f"What the {name} feels",
        one.status,
        reason,
        figure=f"{kv_words(one.body_kv)} kV",
        limit=f"{kv_words(one.wanted_kv)} kV {one.wanted.value}",
        place=place,
        where=place_words(plan, place),
        season=season,
        value_kv=one.body_kv,
        limit_kv=one.wanted_kv,
        animal=one.animal.kind,
    )


def _parts(plan: Plan) -> Verdict:
    if not plan.runs:
        return Verdict(Stage.PARTS, "nothing to count", unknown="The list follows from the line: draw it at Ground.")
    return Verdict(Stage.PARTS, f"{bill(plan).total:,.0f} in all")
