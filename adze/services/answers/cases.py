"""Answer case files: one answer per asked quantity, in the shape that the file expects."""

import math
from functools import singledispatch
from typing import Any

import numpy as np

from adze.core.animals.strand_checks import StrandFinding, check, smallest_mend
from adze.core.animals.strand_rules import design
from adze.core.animals.touch import Coat, Hooves, Path, contact
from adze.core.basics.status import Status
from adze.core.basics.types import Complex
from adze.core.energizer.fit import FitError, fit_pulse
from adze.core.energizer.unit_pulse import best_load_ohm, energy_on_j, peak_on
from adze.core.pulse import laplace
from adze.core.pulse.network import Terminal
from adze.core.pulse.solver import Solution, solve_pulse
from adze.core.pulse.tester import followed_v
from adze.core.soil import earth, electrodes
from adze.core.tables.animals import animal_kinds, touch_classes
from adze.formats.cases.case_file import Case, CheckCase, EnergizersCase, PatternCase, PlatesCase, RodsCase, TouchCase
from adze.formats.cases.case_network import NetworkCase, Quantity
from adze.formats.errors import FormatError

_USUAL_TESTERS_US = ("2", "5", "10")
_USUAL_LOADS = ("50", "100", "500", "2000", "open", "10nF", "100nF")


def answer_case(case: Case) -> dict[str, Any]:
    """All values of a case. FormatError names the case and what is wrong with it."""
    try:
        return _answer(case)
    except FormatError as error:
        raise FormatError(f"case {case.id}: {error}") from error
    except ValueError as error:
        raise FormatError(f"case {case.id}: {error}") from error


@singledispatch
def _answer(case: Case) -> dict[str, Any]:
    raise TypeError(f"no answer for {type(case).__name__}")


@_answer.register
def _network(case: NetworkCase) -> dict[str, Any]:
    network, quantities = case.network(), case.quantities()
    solution = solve_pulse(network, laplace.FULL)
    return {q.name: solution.stops_s * 1e6 if q.of == "stop" else _peak(solution, q) for q in quantities}


def _peak(solution: Solution, q: Quantity) -> float:
    return float(solution.peak(followed_v(_spectrum(solution, q), solution.window, q.tester_us * 1e-6)))


def _spectrum(solution: Solution, q: Quantity) -> Complex:
    if q.at_m is not None:
        terminals, volts, amps = solution.along(q.place, np.array([q.at_m]))
        rows = dict(zip(terminals, (volts if q.of == "V" else amps)[0], strict=True))
        zero = np.zeros_like(volts[0, 0])
        live, strand = rows.get(Terminal.LIVE, zero), rows.get(Terminal.EARTH, zero)
        asked: Complex = {"L": live, "E": strand, "LE": live - strand}[q.what or "L"]
        return asked
    if q.of == "V":
        start = Terminal.EARTH if q.what == "E" else Terminal.LIVE
        return solution.between(q.place, start, Terminal.EARTH if q.what == "LE" else Terminal.SOIL)
    shunts = {s.id for s in solution.network.shunts}
    ask = solution.shunt_spectrum if q.place in shunts else solution.link_spectrum
    return ask(q.place)


@_answer.register
def _rods(case: RodsCase) -> dict[str, Any]:
    values: dict[str, Any] = {}
    for i, row in enumerate(case.rods):
        length, diameter = row.length_m, row.diameter_m
        if row.kind == "two_layer":
            rho1, depth, rho2 = row.need("rho1", "depth_m", "rho2")
            ohm = electrodes.Field(
                (electrodes.slanted_rod(length, diameter, 0),), electrodes.Layers(rho1, depth, rho2)
            ).ohm
        elif row.kind == "backfilled":
            rho, fill, bore = row.need("rho", "rho_backfill", "bore_m")
            ohm = earth.backfilled_rod_ohm(rho, fill, length, diameter, bore)
        elif row.kind == "angled":
            rho, lean = row.need("rho", "degrees_from_vertical")
            ohm = electrodes.Field((electrodes.slanted_rod(length, diameter, lean),), electrodes.Layers(rho)).ohm
        elif row.kind == "row_plus_bare_joining_wire":
            rho, n, spacing, depth, wire = row.need("rho", "n", "spacing", "wire_depth", "wire_d")
            rods = [electrodes.Buried((k * spacing, 0, 0), (k * spacing, 0, length), diameter) for k in range(int(n))]
            joining = electrodes.Buried((0, 0, depth), ((n - 1) * spacing, 0, depth), wire)
            ohm = electrodes.Field((*rods, joining), electrodes.Layers(rho)).ohm
        elif row.kind == "row":
            rho, n, spacing = row.need("rho", "n", "spacing")
            ohm = earth.RodField.row(int(n), spacing, length, diameter).ohm(rho)
        else:
            ohm = earth.rod_ohm(row.need("rho")[0], length, diameter)
        values[f"rods.{i}"] = ohm
    if case.pegs:
        field = earth.RodField.row(3, 3.0, case.pegs.length_m, case.pegs.diameter_m)
        for i, reading in enumerate(case.pegs.readings):
            values[f"peg.{i}"] = field.peg_fraction(case.pegs.rho, (6.0 + reading.away_m, 0.0))
    for i, hoof in enumerate(case.hooves):
        values[f"hooves.{i}"] = earth.hooves_ohm(hoof.rho_surface, hoof.b, hoof.feet)
    return values


@_answer.register
def _energizers(case: EnergizersCase) -> dict[str, Any]:
    values: dict[str, Any] = {}
    for i in range(len(case.energizers)):
        parts = fit_pulse(case.catalogue(i)).parts
        name = f"energizers.{i}"
        peaks, joules, testers = case.asked(i)
        for load in peaks or _USUAL_LOADS:
            values[f"{name}.{load}"] = peak_on(parts, *_load(load, f"{name}.loads")).volts
        for load in dict.fromkeys(["500", *joules]):
            ohm, farad = _load(load, f"{name}.energy_loads")
            if farad or math.isinf(ohm):
                raise FormatError(f"{name}.energy_loads: joules go into a resistance, {load!r} is none")
            values[f"{name}.E{load}_J"] = energy_on_j(parts, ohm)
        for tester in testers or _USUAL_TESTERS_US:
            response_s = _load(tester, f"{name}.tester_us")[0] * 1e-6
            values[f"{name}.shown_{tester}us"] = peak_on(parts, 500.0, response_s=response_s).volts
        values[f"{name}.tp500_us"] = peak_on(parts, 500.0).at_s * 1e6
        values[f"{name}.Rbest_ohm"] = best_load_ohm(parts)
    return values


def _load(words: str, where: str) -> tuple[float, float]:
    """A load as ohm and F: "500", "open" or "10nF"."""
    try:
        farad = float(words.removesuffix("nF")) * 1e-9 if words.endswith("nF") else 0.0
        ohm = math.inf if farad or words == "open" else float(words)
    except ValueError as error:
        raise FormatError(f"{where}: {words!r} is not a number, 'open' or 'NnF'") from error
    if not ohm > 0:
        raise FormatError(f"{where}: {words!r} must be above 0")
    return ohm, farad


@_answer.register
def _plates(case: PlatesCase) -> dict[str, Any]:
    values = {}
    for i in range(len(case.plates)):
        try:
            values[f"plates.{i}"] = "warn" if fit_pulse(case.catalogue(i)).warnings else "accept"
        except FitError:
            values[f"plates.{i}"] = "refuse"
    return values


def _finding(f: StrandFinding) -> dict[str, Any]:
    return {"animal": f.animal, "check": f.check, "status": f.status.value, "value": f.value, "limit": f.limit}


@_answer.register
def _pattern(case: PatternCase) -> dict[str, Any]:
    animals = case.herd()
    pattern = design(animals, case.duty, case.scheme)
    off = check(animals, case.duty, pattern.bottom_off) if pattern.switch else ()
    return {
        "count": len(pattern.strands),
        "heights": [s.cm for s in pattern.strands],
        "roles": [s.role.value for s in pattern.strands],
        "switch": list(pattern.switch),
        "post_cm": pattern.post_cm,
        "wanted_kv": pattern.wanted_kv,
        "one_pattern_holds": pattern.holds,
        "refusal": pattern.refusal,
        "limits": [
            {"animal": x.animal.kind, "gap_at_nose": x.gap_at_nose_cm, "lowest": x.lowest_cm, "top": x.top_cm}
            for x in pattern.limits
        ],
        "findings": [_finding(f) for f in check(animals, case.duty, pattern.strands) if f.status is not Status.HOLDS],
        "when_switched_off": sorted(
            f"{f.animal}:{f.check}:{f.status.value}" for f in off if f.status is not Status.HOLDS
        ),
    }


@_answer.register
def _check(case: CheckCase) -> dict[str, Any]:
    animals, strands = case.herd(), case.fence()
    findings = check(animals, case.duty, strands, case.guard_cm, case.pulse_s)
    mends = []
    for f in findings:
        if f.status is Status.HOLDS:
            continue
        mend = smallest_mend(animals, case.duty, strands, f, case.guard_cm, case.pulse_s)
        row: dict[str, Any] = {"animal": f.animal, "check": f.check, "mend": mend.kind}
        if mend.kind in ("live", "move"):
            row["strand"] = mend.strand
        if mend.cm is not None:
            row["to_cm" if mend.kind == "move" else "at_cm"] = mend.cm
        mends.append(row)
    return {"findings": [_finding(f) for f in findings], "mends": mends}


@_answer.register
def _touch(case: TouchCase) -> dict[str, Any]:
    kinds, classes = animal_kinds(), touch_classes()
    felt = []
    for i, row in enumerate(case.rows):
        if row.animal not in kinds:
            raise FormatError(f"rows.{i}.animal: {row.animal!r} is not known; one of {', '.join(kinds)}")
        met = contact(
            classes[kinds[row.animal].touch_class],
            row.fleece_cm,
            Path(row.path),
            Hooves(row.hooves),
            Coat(row.coat),
            row.rho_ohm_m,
        )
        felt.append(met.body_kv(row.strand_kv))
    return {"body_kv": felt}
