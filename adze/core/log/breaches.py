"""Why an animal may have got through the fence at a place: what was read there and what the plan says against it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from adze.core.animals.strand_rules import Purpose
from adze.core.basics.status import Status, rank
from adze.core.basics.units import counted, format_height, format_length, kv_words
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import equivalent_at, solved
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place
from adze.core.ground.relief import bumps
from adze.core.ground.soil_areas import own_soil
from adze.core.ground.wiring import Piece
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.core.plan.stock import TRAINING_TOUCHES, is_schooled, touches_seen, wanted_of
from adze.core.tables.animals import animal_kinds, animal_word
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_fence import strand_findings
from adze.core.verdict.judge_ground import judge_ground
from adze.core.verdict.judge_volts import touch_finding

READ_WITHIN_DAYS = 7  # a reading older than that says nothing of that day
READ_WITHIN_M = 300.0
NEAR_M = 15.0  # a finding of the ground so near has to do with it


class BreachWay(StrEnum):
    """How it got through, as it was seen or as tracks and hair tell."""

    THROUGH = "through"
    UNDER = "under"
    OVER = "over"
    GATE = "gate"
    UNSEEN = "unseen"


# Which checks of the strands have to do with a way.
_CHECKS = {
    BreachWay.THROUGH: ("head", "pulse", "touch", "bridge"),
    BreachWay.UNDER: ("under", "touch", "bridge"),
    BreachWay.OVER: ("lean", "jump"),
    BreachWay.GATE: (),
    BreachWay.UNSEEN: ("head", "pulse", "under", "lean", "jump", "touch", "bridge"),
}


@dataclass(frozen=True)
class Breach:
    """Something got through: the kind of animal, how, at a place of a line, on a day."""

    kind: str
    way: BreachWay
    place: Place
    on: date


@dataclass(frozen=True)
class ReadThen:
    """A reading of the line where it happened: kV, metres out, on a day; `is_over`: at the tester's end."""

    kv: float
    at_m: float
    on: date
    is_over: bool = False


@dataclass(frozen=True)
class BreachCause:
    """One thing that speaks for it: what, why with its figures, how bad, what mends it; UNKNOWN: not known."""

    title: str
    reason: str
    status: Status
    mend: str


def causes_of(plan: Plan, passage: Breach, reads: Sequence[ReadThen]) -> tuple[BreachCause, ...]:
    """What may explain it: what was read first, then what does not hold, the worst first; what is unknown last.

    Raises KeyError for a line that is not on the plan.
    """
    found = [*_read(plan, passage, reads), *_strands(plan, passage), *_felt(plan, passage)]
    found += [*_dips(plan, passage), *_schooled(plan, passage), *_ground(plan, passage)]
    return tuple(sorted(found, key=lambda cause: (cause.status is Status.UNKNOWN, -rank(cause.status))))


def _read(plan: Plan, passage: Breach, reads: Sequence[ReadThen]) -> Iterator[BreachCause]:
    """The lowest reading of the last day of that week against what is wanted: every strand counts."""
    wanted = wanted_of(fence_at(plan, passage.place.run).view)
    near = [
        read
        for read in reads
        if 0 <= (passage.on - read.on).days <= READ_WITHIN_DAYS and abs(read.at_m - passage.place.at_m) <= READ_WITHIN_M
    ]
    if not near:
        yield BreachCause(
            "No reading of that week",
            f"Nobody read within {format_length(READ_WITHIN_M, plan.units)} of it in the {READ_WITHIN_DAYS} days "
            "before.",
            Status.UNKNOWN,
            "Read it now, before you change anything.",
        )
        return
    last_day = max(read.on for read in near)
    last = min((read for read in near if read.on == last_day), key=lambda read: read.kv)
    if last.kv < wanted and not last.is_over:
        yield BreachCause(
            "Too few kV on it",
            f"{kv_words(last.kv)} kV was read {format_length(last.at_m, plan.units)} out on {last.on:%-d %B}; "
            f"{kv_words(wanted)} kV are needed.",
            Status.FAILS,
            "Trace finds the cause.",
        )


def _of(finding: Finding) -> BreachCause:
    figures = f" {finding.figure} against {finding.limit}." if finding.figure and finding.limit else ""
    mend = finding.mend or f"{finding.stage.label} shows what fixes it."
    return BreachCause(finding.title, finding.reason + figures, finding.status, mend)


def _strands(plan: Plan, passage: Breach) -> Iterator[BreachCause]:
    view = fence_at(plan, passage.place.run).view
    for check, finding in strand_findings(view):
        is_his = check.animal == passage.kind and check.check in _CHECKS[passage.way]
        if is_his and rank(finding.status) > rank(Status.HOLDS):
            yield _of(finding)


def _felt(plan: Plan, passage: Breach) -> Iterator[BreachCause]:
    """What the animal feels at the place in the season in which it feels least; none by a gate that stood open."""
    if passage.way is BreachWay.GATE:
        return
    view, rows = fence_at(plan, passage.place.run).view, []
    for season in Season:
        weather = Weather(season)
        try:
            now = solved(plan, weather)
        except Incomplete:
            return
        piece: Piece = now.circuit.wiring.piece_at(passage.place)
        if piece.a not in now.circuit.wiring.reached:
            yield BreachCause(
                "No pulse reaches it",
                "As the plan stands, this stretch is not fed.",
                Status.FAILS,
                "Shut the open switch; Ground, Feed, shows what is fed from where.",
            )
            return
        soil = own_soil(plan, piece.soil or plan.soil)
        felt = touches(view, equivalent_at(now, passage.place), weather, soil)
        rows += [(season, touch) for touch in felt if touch.animal.kind == passage.kind]
    if rows:
        season, least = min(rows, key=lambda row: row[1].body_kv / row[1].wanted_kv)
        finding = touch_finding(plan, season, passage.place, least)
        if rank(finding.status) > rank(Status.HOLDS):
            yield _of(finding)


def _dips(plan: Plan, passage: Breach) -> Iterator[BreachCause]:
    """A dip beneath the strands, for whoever may have gone under them."""
    if passage.way not in (BreachWay.UNDER, BreachWay.UNSEEN):
        return
    for bump in bumps(plan, run_of(plan, passage.place.run)):
        if bump.is_dip and abs(bump.at_m - passage.place.at_m) <= NEAR_M:
            yield BreachCause(
                "A dip in the ground",
                f"{format_length(bump.at_m, plan.units)} out the ground is "
                f"{format_height(100 * abs(bump.off_m), plan.units)} lower than the line: without a tie-down the "
                "strands stand that much higher there.",
                Status.MARGINAL,
                "Tie the strands down in the dip, or close the gap under them.",
            )


def _schooled(plan: Plan, passage: Breach) -> Iterator[BreachCause]:
    for herd in plan.stock:
        holds = animal_kinds()[herd.kind].purpose == Purpose.HOLD
        if holds and herd.kind == passage.kind and not is_schooled(herd, passage.on):
            seen = touches_seen(herd)
            yield BreachCause(
                "It did not know the fence",
                f"{animal_word(herd.kind).capitalize()}: {counted(seen, 'touch')} seen in training; "
                f"{TRAINING_TOUCHES} for each animal teach it.",
                Status.MARGINAL,
                "Put them into the training pen until each has had its touches.",
            )


def _ground(plan: Plan, passage: Breach) -> Iterator[BreachCause]:
    """What the ground has against it within a few steps: a step to climb on, a branch, a gate."""
    for finding in judge_ground(plan).findings:
        place = finding.place
        if place is None or place.run != passage.place.run or rank(finding.status) <= rank(Status.HOLDS):
            continue
        if abs(place.at_m - passage.place.at_m) <= NEAR_M:
            yield _of(finding)
