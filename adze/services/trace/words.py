"""A search in words: places, the next step and its reason, what its outcomes mean, how it stands, what was done."""

from dataclasses import dataclass

from adze.core.basics.units import format_length
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place as FencePlace
from adze.core.ground.places import place_words
from adze.core.log.look_for import look_for
from adze.core.plan.document import Plan
from adze.core.tables.causes import causes
from adze.core.trace.explanation import (
    A_SIDE,
    AmpsSplit,
    ClosingRange,
    Kinds,
    LikelyStretch,
    Meaning,
    Outcome,
    closing_range,
    kinds_told,
    meaning,
    split,
    stretches,
)
from adze.core.trace.mended import AllGrown
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import fence_place
from adze.core.trace.search import SURPRISE, FaultSearch
from adze.services.trace import sentences
from adze.services.trace.switches import switch_name

_AT_M = 8.0  # a place this near a gate or switch is called by its name
_NEAR_ZERO, _NEARLY, _LEAST_TOLD = 0.02, 0.99, 0.01
_LEAST_A, _WHOLE_A = 0.25, 2.5  # below half of a tester's error; from here on whole amps
_MOST, _MOST_CAUSES = 0.5, 5  # where over half is of one kind, its causes come first
LEAD_CAUSES = ("cable", "diverter", "insulator")  # on the way from the unit to the fence


def spot_words(plan: Plan, place: FencePlace | None) -> str:
    """A place as people say it: the gate or switch there, else the line and how far along it."""
    if place is None:
        return sentences.AT_UNIT
    near = [f for f in plan.fixtures if f.run == place.run and abs(f.at_m - place.at_m) <= _AT_M]
    if near:
        best = min(near, key=lambda f: abs(f.at_m - place.at_m))
        return f"{best.name} ({place_words(plan, place)})"
    return place_words(plan, place)


def leg_words(plan: Plan, search: FaultSearch, step: NextStep) -> str:
    """Which way the amps are read at a place where several lines meet; empty inside a line."""
    if step.do != "read" or not search.farm.meter.shows_amps or len(search.grid.legs[step.place]) < 2:
        return ""
    spot = search.grid.at(step.place, step.leg)
    place = fence_place(plan, search.grid, step.place, step.leg)
    if place is None or step.leg not in {p.id for p in search.grid.spans}:
        return sentences.LEAD_OUT
    begins = spot.at_m == 0.0
    side = "on the side away from its start" if begins else "on the side of its start"
    return f"{run_of(plan, place.run).name}, {side}"


@dataclass(frozen=True)
class StepWords:
    """The next step: what and where, how far, its reason, what each outcome would mean, what to look for there."""

    title: str
    how_far: str
    leg: str
    reason: str
    means: tuple[tuple[str, str], ...]
    look_for: tuple[tuple[str, str], ...] = ()


def step_words(plan: Plan, search: FaultSearch, step: NextStep) -> StepWords:
    """The next step in words."""
    if step.do == "stop":
        return _stop_words(plan, search)
    if step.do == "sweep":
        first = ", ".join(dict.fromkeys(_span_words(plan, search, span) for span in step.spans[:4]))
        return StepWords(
            sentences.SWEEP,
            sentences.SWEEP_ORDER.format(lines=first),
            "",
            sentences.SWEEP_REASON,
            (),
        )
    if step.do in ("read_rods", "look_rods"):
        title, reason = _rods_words(search, step)
        return StepWords(title, _far(plan, search, search.grid.start, step), "", reason, ())
    if step.do == "look_growth":
        grown = search.growth
        reason = sentences.GROWTH_REASON.format(likely=how_likely(grown.share), times=growth_times(grown))
        return StepWords(sentences.LOOK_GROWTH, _far(plan, search, step.place, step), "", reason, ())
    if step.do == "switch":
        return _switch_words(plan, search, step)
    place = fence_place(plan, search.grid, step.place, step.leg)
    where, far = spot_words(plan, place), _far(plan, search, step.place, step)
    if step.do == "look":
        cells = search.candidates.cells
        chance = float(cells[step.place])
        reason = sentences.LOOK_REASON.format(share=f"{chance:.0%}", listen=sentences.LISTEN)
        return StepWords(sentences.LOOK_AT.format(where=where), far, "", reason, (), look_words(plan, search, place))
    if search.reads_mend:
        reason = sentences.READ_AGAIN_REASON
        return StepWords(sentences.READ_AGAIN.format(where=where), far, leg_words(plan, search, step), reason, ())
    if search.opened:
        names = ", ".join(switch_name(plan, switch) for switch in sorted(search.opened))
        reason = sentences.OPENED_REASON.format(names=names)
        return StepWords(sentences.READ_FED_SIDE.format(where=where), far, "", reason, ())
    told = None if search.is_closing else meaning(search, step)
    parted = split(search, step) if told is None and not search.is_closing else None
    means = _means(told) if told else _split_means(plan, search, parted) if parted else ()
    if search.is_closing:
        means = _closing_means(plan, search, closing_range(search, step))
    leg = leg_words(plan, search, step)
    what = sentences.KV_AND_AMPS if search.farm.meter.shows_amps else "kV"
    return StepWords(sentences.READ_AT.format(what=what, where=where), far, leg, _reason(search, told, parted), means)


def _rods_words(search: FaultSearch, step: NextStep) -> tuple[str, str]:
    """Their kV, or a look at them: what is done there, and why."""
    if step.do == "read_rods":
        return sentences.READ_RODS, sentences.RODS_FIRST if search.asks_rods else sentences.RODS_LIKELY
    share = float(search.candidates.cells[search.suspects.rods_cell])
    return sentences.LOOK_RODS, sentences.RODS_REASON.format(likely=how_likely(share), look=sentences.RODS_LOOK)


def growth_times(told: AllGrown) -> str:
    """How much growth there would be."""
    return sentences.GROWTH_TIMES.format(times=f"{told.times:.1f}")


def look_words(plan: Plan, search: FaultSearch, place: FencePlace | None) -> tuple[tuple[str, str], ...]:
    """What to look for at a place and how each shows; first what is of the kind that most of the belief is in."""
    told, table = kinds_told(search), causes()
    keys = look_for(plan, place) if place else LEAD_CAUSES
    shares = (("cut", told.cut), ("LE", told.earth_strand), ("LS", told.hard_short))
    first = next((kind for kind, share in shares if share > _MOST), "")
    rows = sorted((table[key] for key in keys), key=lambda cause: cause.kind != first)
    return tuple((cause.label, cause.shows) for cause in rows[:_MOST_CAUSES])


def _switch_words(plan: Plan, search: FaultSearch, step: NextStep) -> StepWords:
    """A switch to be opened, or to be shut again."""
    name, far = switch_name(plan, step.switch), _far(plan, search, step.place, step)
    if not step.opens:
        reason = sentences.SHUT_REASON
        return StepWords(sentences.SHUT_SWITCH.format(name=name), far, "", reason, ())
    reason = sentences.OPEN_REASON
    return StepWords(f"Open {name}", far, "", reason, ())


def _span_words(plan: Plan, search: FaultSearch, span: str) -> str:
    number = search.grid.span_number[span]
    first = int(search.grid.first_piece[number])
    place = fence_place(plan, search.grid, int(search.grid.a[first]), span)
    return sentences.LEAD_OUT if place is None else run_of(plan, place.run).name


def _far(plan: Plan, search: FaultSearch, place: int, step: NextStep) -> str:
    walk = float(search.grid.walk_m[search.here, place])
    minutes = max(1, round(step.minutes))
    here = sentences.HERE if walk < 1 else sentences.FROM_YOU.format(length=format_length(walk, plan.units))
    return sentences.HOW_FAR.format(where=here, minutes=minutes, s="s" if minutes > 1 else "")


def _split_means(plan: Plan, search: FaultSearch, parted: AmpsSplit) -> tuple[tuple[str, str], ...]:
    """What fewer and more amps mean; nothing where both mean the same stretches, and the amps part sizes alone."""
    halves = (("under", parted.under_at, parted.under), ("over", parted.over_at, 1 - parted.under))
    rows = [
        (word, " or ".join(_stretch_words(plan, search, row) for row in at) or sentences.NO_ONE_LINE, share)
        for word, at, share in halves
    ]
    if rows[0][1] == rows[1][1]:
        return ()
    return tuple((amps_words(word, parted.amps), f"mostly {names} ({share:.0%})") for word, names, share in rows)


def _closing_means(plan: Plan, search: FaultSearch, told: ClosingRange | None) -> tuple[tuple[str, str], ...]:
    """What a closing reading shows if nothing more is left, and what less or more would mean."""
    if told is None:
        return ()
    rows = [(_range_words(Outcome(told.low, told.high, "", 0.0), told.unit, False, False), sentences.CLOSING_CLEAR)]
    for word, chance, at in (("under", told.under, told.under_at), ("over", told.over, told.over_at)):
        if chance < A_SIDE * (told.under + told.over):
            continue
        edge = told.low if word == "under" else told.high
        shown = amps_words(word, edge) if told.unit == "A" else f"{word} {edge:.1f} kV"
        names = " or ".join(_stretch_words(plan, search, row) for row in at) or sentences.NO_ONE_LINE
        rows.append((shown, sentences.CLOSING_LEFT.format(where=names)))
    return tuple(rows)


def left_words(search: FaultSearch) -> str:
    """The chance that something which matters is left."""
    left = search.candidates.p_material
    return f"about {left:.0%}" if left >= _LEAST_TOLD else "under 1%"


def _reason(search: FaultSearch, told: Meaning | None, parted: AmpsSplit | None) -> str:
    if search.is_closing:
        left = left_words(search)
        return sentences.CLOSING_REASON.format(left=left)
    if search.is_unread:
        return sentences.FIRST_REASON
    if told is None and parted is not None:
        halves = sorted((round(100 * parted.under), round(100 * (1 - parted.under))), reverse=True)
        return sentences.AMPS_REASON.format(more=halves[0], less=halves[1])
    if told is None:
        return sentences.SIZES_REASON
    parts = sorted((round(100 * told.past), round(100 * told.before)), reverse=True)
    return sentences.SIDES_REASON.format(more=parts[0], less=parts[1])


def _means(told: Meaning) -> tuple[tuple[str, str], ...]:
    rows = []
    last = len(told.outcomes) - 1
    for k, row in enumerate(told.outcomes):
        rows.append((_range_words(row, told.unit, k == 0, k == last), _meant(row)))
    return tuple(rows)


def amps_words(word: str, amps: float) -> str:
    """Under or over so many amps; what is below 0 flows back. By next to none only the way counts."""
    if abs(amps) < _LEAST_A:
        return sentences.AMPS_BACK if word == "under" else sentences.AMPS_OUTWARD
    figure = _amps_figure(amps)
    if amps >= 0:
        return (
            sentences.UNDER_OUTWARD.format(amps=figure)
            if word == "under"
            else sentences.OVER_OUTWARD.format(amps=figure)
        )
    return sentences.OVER_BACK.format(amps=figure) if word == "under" else sentences.UNDER_BACK.format(amps=figure)


def _amps_figure(amps: float) -> str:
    return f"{abs(amps):.0f}" if abs(amps) >= _WHOLE_A else f"{abs(amps):.1f}"


def _range_words(row: Outcome, unit: str, is_first: bool, is_last: bool) -> str:
    if is_first and is_last:
        return "any"
    if unit == "kV":
        if is_first:
            return sentences.UNDER_KV.format(high_kv=f"{row.high:.1f}")
        return (
            sentences.OVER_KV.format(low_kv=f"{row.low:.1f}")
            if is_last
            else sentences.KV_RANGE.format(low_kv=f"{row.low:.1f}", high_kv=f"{row.high:.1f}")
        )
    if is_first:
        return amps_words("under", row.high)
    if is_last:
        return amps_words("over", row.low)
    ends = (f"{_amps_figure(x)} A{' back' if x < 0 else ''}" for x in (row.low, row.high))
    return " to ".join(ends)


def _meant(row: Outcome) -> str:
    return f"{sentences.SIDE[row.means]} ({row.chance:.0%})"


def _stop_words(plan: Plan, search: FaultSearch) -> StepWords:
    clear = 1 - search.candidates.p_material
    least = least_sure(plan, search)
    where = sentences.LEAST_SURE.format(where=least) if least and clear < 0.99 else ""
    if not search.finds:
        return StepWords(
            sentences.STOP_FOR_NOW,
            "",
            "",
            sentences.STOP_FOR_NOW_REASON,
            (),
        )
    reason = sentences.LIKELY_CLEAR.format(share=about_words(clear), where=where)
    reason += "".join(sentences.STAY[what] for what in dict.fromkeys(search.stays))
    return StepWords(sentences.STOP, "", "", reason, ())


def least_sure(plan: Plan, search: FaultSearch) -> str:
    """The stretch that carries most of what may be left."""
    found = stretches(search, half=True)
    if not found:
        return ""
    return _stretch_words(plan, search, found[0])


def _stretch_words(plan: Plan, search: FaultSearch, row: LikelyStretch) -> str:
    """A stretch as people say it: the line, from where to where."""
    first = int(search.grid.first_piece[search.grid.span_number[row.span]])
    place = fence_place(plan, search.grid, int(search.grid.a[first]), row.span)
    if place is None:
        return sentences.LEAD_OUT
    low, high = (format_length(place.at_m + x, plan.units) for x in (row.from_m, row.to_m))
    return f"{run_of(plan, place.run).name}, {low} to {high}"


def how_likely(share: float) -> str:
    """A chance in words with its number."""
    if share < _NEAR_ZERO:
        return sentences.RULED_OUT
    word = (
        "unlikely" if share < 0.2 else "possible" if share < 0.5 else "likely" if share < 0.9 else sentences.NEARLY_SURE
    )
    return f"{word}, {about_words(share)}"


def about_words(share: float) -> str:
    """A chance as a number; nothing is ever quite sure."""
    return "over 99%" if share > _NEARLY else f"about {share:.0%}"


def stands(search: FaultSearch) -> tuple[tuple[str, str], ...]:
    """How it stands: each kind of trouble that is not ruled out, and what is."""
    kinds: Kinds = kinds_told(search)
    rows = [
        (sentences.KIND_HARD_SHORT, kinds.hard_short),
        (sentences.KIND_LEAK, kinds.leak),
        (sentences.KIND_EARTH_STRAND, kinds.earth_strand),
        (sentences.KIND_CUT, kinds.cut),
        (sentences.KIND_RODS, kinds.rods),
        (sentences.KIND_SEVERAL, kinds.several),
        (sentences.KIND_NOTHING, kinds.nothing),
    ]
    if not search.finds:
        rows = rows[:-1]
    growth = search.growth
    if growth.share > 0:
        rows = [(words, (1 - growth.share) * share) for words, share in rows]
        times = f", {growth_times(growth)}" if growth.share >= _NEAR_ZERO else ""
        rows.append((sentences.KIND_GROWTH.format(times=times), growth.share))
    return tuple((words, how_likely(share)) for words, share in sorted(rows, key=lambda row: -row[1]))


def surprise_words(search: FaultSearch) -> str:
    """What is said of a reading that nothing explains; empty where one does."""
    if search.surprise < SURPRISE:
        return ""
    return sentences.NOTHING_EXPLAINS
