"""What may mend a finding, by what it is about: changes to try, not yet judged."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.advice.candidates import add_rods_words, candidates_of
from adze.core.advice.earth_here import EarthHere
from adze.core.advice.plan_changes import Change, ChangeKind, apply_remedy, key_of
from adze.core.animals.strand_rules import Scheme
from adze.core.ground.zones import zones
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.energizers import EnergizerModel
from adze.core.verdict.actions import ActionKind, place_action, setting
from adze.core.verdict.findings import Finding
from adze.core.verdict.wired.layout import TRACE_MINUTES, TRACE_TITLE

_LONG_M = 2.4
_FEW_RODS = 15  # more than anybody drives: other ways are looked for
_BORE_CM = 8
_SWITCHES_APART_M = (1000.0, 800.0, 650.0, 500.0, 400.0, 300.0, 200.0)
_ROD_HOURS, _BORE_HOURS, _SMALL_HOURS, _TRAIN_HOURS = 0.4, 0.7, 0.3, 4.0


# What people have to do again and again, or do with the animals: never done by itself on a plan.
_KEEPERS = ("train", "schooled", "grass", "shorn", "bottom")


@dataclass(frozen=True)
class Try:
    """One change that may mend a finding: its key, what it does in words, own hours; `group`: of the same kind."""

    key: str
    title: str
    hours: float = _SMALL_HOURS
    note: str = ""
    group: int = -1

    @property
    def is_keepers(self) -> bool:
        """Whether it is the keeper's doing, not the fence's: training, cutting, shearing."""
        return any(part.partition(":")[0].partition("@")[0] in _KEEPERS for part in self.key.split("+"))


def tries(plan: Plan, finding: Finding) -> Iterator[Try]:
    """What may mend a finding, by what it is about: its own action first."""
    if finding.action is not None:
        hours = _TRAIN_HOURS if finding.action.kind is ActionKind.TRAIN else _SMALL_HOURS
        yield Try(finding.action_key, finding.action.words, hours)
    if finding.title == TRACE_TITLE:
        yield from _more_switches(plan)
    elif finding.stage is Stage.VOLTS or (finding.stage is Stage.POWER and finding.limit_kv):
        if finding.season is not None:
            yield from _for_volts(plan, finding)
    elif finding.stage is Stage.EARTH and finding.season is not None:
        yield from _for_test(plan, finding.season)
    elif finding.title.startswith("Too little for"):
        yield from _energizers(_of_its_kind(plan, larger=True)[:4])
    elif finding.stage is Stage.STRANDS and (finding.action is None or finding.action.kind is ActionKind.HEIGHTS):
        yield from _for_strands(finding)


def _more_switches(plan: Plan) -> Iterator[Try]:
    """The fewest switches, spread evenly over what is too long to walk, with which no part takes too long any more."""
    found = zones(plan)
    long = [z for z in found.zones if z.live and z.minutes > TRACE_MINUTES] if found else []
    for apart_m in _SWITCHES_APART_M:
        keys = [
            place_action(
                ActionKind.SWITCH, s.run, s.from_m + (k + 1) * s.length_m / (round(s.length_m / apart_m) + 1)
            ).key
            for zone in long
            for s in zone.stretches
            for k in range(round(s.length_m / apart_m))
        ]
        after = zones(apply_remedy(plan, "+".join(keys))) if keys else None
        if after and all(zone.minutes <= TRACE_MINUTES for zone in after.zones if zone.live):
            yield Try("+".join(keys), f"Place {len(keys)} switch{'es' * (len(keys) > 1)}", len(keys) * _SMALL_HOURS)
            return


def _for_volts(plan: Plan, finding: Finding) -> Iterator[Try]:
    """The changes of Volts."""
    for number, group in enumerate(candidates_of(plan, finding)):
        for one in group:
            yield Try(key_of(one.changes), one.title, one.hours, one.note, number)


def _for_test(plan: Plan, season: Season) -> Iterator[Try]:
    """So many rods that the test passes, where people drive as many; else longer ones, clay, smaller units."""
    rods = plan.rods
    try:
        fewest = EarthHere(plan).fewest(season)
    except Incomplete:
        return
    if fewest is not None and rods.count < fewest <= _FEW_RODS:
        more = fewest - rods.count
        yield Try(_rods(count=fewest), add_rods_words(rods.count, more), more * _ROD_HOURS)
    for count in dict.fromkeys((rods.count, min(_FEW_RODS, max(rods.count, 2 * rods.count)))):
        extra = f", {count} in all" if count > rods.count else ""
        if rods.length_m < _LONG_M and not rods.slant_deg and plan.subsoil is None:
            yield Try(_rods(count=count, length_m=_LONG_M), f"Use rods of {_LONG_M:g} m{extra}", count * _ROD_HOURS)
        if rods.bore_cm is None:
            yield Try(
                _rods(count=count, bore_cm=_BORE_CM),
                f"Set the rods in bores of conductive clay{extra}",
                count * _BORE_HOURS,
            )
    yield Try("rod-site", "Move the rods to damper ground", rods.count * _ROD_HOURS)
    unit = unit_of(plan)
    smaller = [
        u for u in catalogue(plan).values() if unit and u.supply == unit.supply and u.released_j < unit.released_j
    ]
    for one in smaller[-2:]:
        yield Try(Change(ChangeKind.ENERGIZER, one.key).key, f"Use the {one.label}")
    yield Try(Change(ChangeKind.EARTH_STRANDS, "between").key, "Add earth strands between the live ones", 4.0)
    if season is Season.USUAL and fewest is not None and _FEW_RODS < fewest <= MOST_RODS:
        yield Try(
            _rods(count=fewest), add_rods_words(rods.count, fewest - rods.count), (fewest - rods.count) * _ROD_HOURS
        )


def _rods(**values: float) -> str:
    return setting("rods", **{name: f"{value:g}" for name, value in values.items()}).key


def _of_its_kind(plan: Plan, *, larger: bool) -> list[EnergizerModel]:
    """Energizers of the plan's supply that are larger, or smaller, from the least up."""
    unit = unit_of(plan)
    rows = [u for u in catalogue(plan).values() if unit and u.supply == unit.supply]
    return [
        u for u in rows if unit and ((u.released_j > unit.released_j) if larger else (u.released_j < unit.released_j))
    ]


def _energizers(units: list[EnergizerModel]) -> Iterator[Try]:
    for one in units:
        yield Try(Change(ChangeKind.ENERGIZER, one.key).key, f"Use the {one.label}")


def _for_strands(finding: Finding) -> Iterator[Try]:
    """The strands by the rules, all live or in turn."""
    for words, scheme in (("all live", Scheme.LIVE), ("live and earth in turn", Scheme.ALTERNATE)):
        change = Change(ChangeKind.SCHEME, scheme.value, finding.fence)
        yield Try(change.key, f"Use the computed strands, {words}", 4.0)
