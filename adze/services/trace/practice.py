"""Practice: the own farm with hidden faults, a tester that answers as the model does, minutes that count."""

import math
import random
from dataclasses import asdict, dataclass
from typing import Any

from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.practice.halving import halve_all
from adze.core.practice.play import play
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm, walk_all
from adze.core.pulse.network import Terminal, WireLine
from adze.core.trace.farm import TracedFarm
from adze.core.trace.grid import Spot, grid
from adze.core.trace.plan_farm import farm_of, of_spot
from adze.core.trace.search import begin
from adze.services.trace.events import Found, KeptEvent, Looked, Read, RodsRead, SearchEvent, Swept, SwitchWorked
from adze.store.trace.searches import TraceSearch

MOST_FAULTS = 3
_KINDS = (("LS", 6), ("LE", 2), ("cut", 2), ("grass", 1))
CAUSES = {"LS": "insulator", "LE": "tangle", "cut": "cut", "grass": "grass"}
_TRIES = 200
_MOST_SEED = 2**31


def hide(plan: Plan, season: Season, count: int, seed: int) -> dict[str, Any]:
    """Faults drawn from the farm's own hazards, each of which matters, and a truth beside the forecast."""
    farm, rng = farm_of(plan, season), random.Random(seed)
    truth = Truth(math.exp(rng.gauss(0, 0.03)), math.exp(rng.gauss(0, 0.25)), math.exp(rng.gauss(0, 0.25)))
    found: list[HiddenFault] = []
    for _ in range(_TRIES):
        if len(found) == count:
            break
        fault = _drawn(farm, rng)
        if fault is not None and not simulated_farm(farm, [fault], truth, 0).is_restored:
            found.append(fault)
    return {"seed": seed, "faults": [asdict(fault) for fault in found], "truth": asdict(truth)}


def _drawn(farm: TracedFarm, rng: random.Random) -> HiddenFault | None:
    spans = [span for span in farm.network.spans if span.id in farm.hazards and not span.is_open]
    weights = [span.length_m * (1 + farm.hazards[span.id].trees) for span in spans]
    span = rng.choices(spans, weights)[0]
    kind = rng.choices([name for name, _ in _KINDS], [often for _, often in _KINDS])[0]
    wires = span.line.wires if isinstance(span.line, WireLine) else ()
    if kind == "LE" and not any(wire.terminal is Terminal.EARTH for wire in wires):
        return None
    at_m = rng.uniform(0.02, 0.98) * span.length_m
    if kind == "grass":
        at_m = min(at_m, max(0.0, span.length_m - 150))
        return HiddenFault(kind, span.id, at_m, 10 ** rng.uniform(-5.2, -4.4), min(at_m + 150, span.length_m))
    return HiddenFault(kind, span.id, at_m, 10 ** rng.uniform(1.3, 3.0) * (20 if kind == "cut" else 1))


def simulated_farm_of(plan: Plan, row: TraceSearch, events: tuple[KeptEvent, ...]) -> SimulatedFarm:
    """The farm of practice as it stands after what was done."""
    hidden = row.hidden or {}
    faults = [HiddenFault(**fault) for fault in hidden["faults"]]
    there = simulated_farm(
        farm_of(plan, Season(row.season)), faults, Truth(**hidden["truth"]), hidden["seed"] + len(events)
    )
    gone = {event.did.hidden for event in events if isinstance(event.did, Found)}
    there.left = [fault for number, fault in enumerate(faults) if number not in gone]
    for event in events:
        if isinstance(event.did, SwitchWorked):
            (there.opened.add if event.did.opens else there.opened.discard)(event.did.switch)
    told = [event.did.world for event in events if event.did.world]
    if told:
        there.here = Spot(*told[-1]["here"])
        there.minutes, there.metres = told[-1]["minutes"], told[-1]["metres"]
    return there


def unit_kv(plan: Plan, hidden: dict[str, Any]) -> float | None:
    """What the unit alone shows in practice."""
    unit = unit_of(plan)
    return None if unit is None else round(unit.open_kv * float(hidden["truth"]["unit"]), 1)


@dataclass(frozen=True)
class PracticeStep:
    """A step of practice: what, where (a line and m along it; empty where it has no place), its leg, a switch."""

    what: str
    where: dict[str, Any]
    leg: str
    worked: SwitchWorked | None


def answered(plan: Plan, row: TraceSearch, there: SimulatedFarm, step: PracticeStep, spot: Spot | None) -> SearchEvent:
    """Do one step in practice; what became of it. A fault that is come upon is found and mended."""
    asked: dict[str, Any] = {"do": "read_rods" if step.what == "rods" else step.what}
    if step.worked:
        asked |= {"id": step.worked.switch, "open": step.worked.opens}
    if spot is not None:
        asked["at"] = [spot.span, spot.at_m]
    if step.what == "read":
        asked["leg"] = step.leg or (spot.span if spot else "")
    if step.what == "sweep":
        asked["spans"] = [span.id for span in there.farm.network.spans if span.id in there.farm.hazards]
    faults = list(there.left)
    told = there.answer(asked)
    world = {"here": [there.here.span, there.here.at_m], "minutes": there.minutes, "metres": there.metres}
    seen = told.get("seen")
    if seen:
        fault = next(fault for fault in faults if fault not in there.left)
        place = of_spot(plan, Spot(*seen["at"]), grid(there.farm), -1)
        where = {"run": place.run, "at_m": round(place.at_m, 1)} if place else {"run": "", "at_m": 0.0}
        number = (row.hidden or {})["faults"].index(asdict(fault))
        return Found(**where, cause=CAUSES[fault.kind], kind=fault.kind, note="", hidden=number, world=world)
    match step.what:
        case "read":
            amps = told["amps"] if row.shows_amps else None
            return Read(**step.where, leg=step.leg, kv=told["kv"], amps=amps, world=world)
        case "rods":
            return RodsRead(kv=told["rods_kv"], world=world)
        case "look":
            return Looked(**step.where, world=world)
        case "switch" if step.worked:
            return step.worked.model_copy(update={"world": world})
    return Swept(world=world)


def score(plan: Plan, row: TraceSearch, events: tuple[KeptEvent, ...]) -> dict[str, Any]:
    """How it went: minutes and whether the fence is restored, beside walking, halving and every advice."""
    there = simulated_farm_of(plan, row, events)
    hidden = row.hidden or {}
    faults = [HiddenFault(**fault) for fault in hidden["faults"]]
    farm, truth = farm_of(plan, Season(row.season), shows_amps=row.shows_amps), Truth(**hidden["truth"])
    by_advice = simulated_farm(farm, faults, truth, hidden["seed"])
    play(begin(farm), by_advice.answer)
    by_walking = walk_all(simulated_farm(farm, faults, truth, hidden["seed"]))
    by_halving = halve_all(simulated_farm(farm, faults, truth, hidden["seed"]))
    return {
        "practice": True,
        "lesson": hidden.get("lesson", ""),
        "faults": len(faults),
        "left": len(there.left),
        "restored": there.is_restored,
        "minutes": round(there.minutes),
        "metres": round(there.metres),
        "readings": sum(event.what == "read" for event in events),
        "advice_minutes": round(by_advice.minutes),
        "advice_restored": by_advice.is_restored,
        "halving_minutes": round(by_halving.minutes),
        "walking_minutes": round(by_walking.minutes),
        "walking_restored": by_walking.is_restored,
    }
