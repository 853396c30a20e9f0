"""Trace cases: a farm to search, as JSON (SI units), and in those with a world what is hidden on it."""

from typing import Any, Literal

from pydantic import Field, FiniteFloat, ValidationError

from adze.core.practice.simulated_farm import HiddenFault, Truth
from adze.core.pulse.network import Network, NetworkError
from adze.core.trace.farm import Doubt, HandSwitch, Hazard, Looking, Meter, Minutes, TracedFarm, Track, hand_switch
from adze.formats.cases.case_network import NetworkCase
from adze.formats.cases.case_parts import BaseCase, CasePart, Text
from adze.formats.errors import FormatError, first_fault
from adze.formats.json_text import read_json


class _Part(CasePart):
    is_apart = True


class _Walk(_Part):
    m_per_min: FiniteFloat = Field(60.0, gt=0)
    tracks: list[tuple[Text, Text, FiniteFloat]] = []


class _Hazard(_Part):
    trees: FiniteFloat = Field(0.0, ge=0)
    gate: bool = False
    switch: bool = False
    fault_before: bool = False


class _Minutes(_Part):
    reading: FiniteFloat = Field(1.0, ge=0)
    look: FiniteFloat = Field(1.0, ge=0)
    switch: FiniteFloat = Field(1.0, ge=0)
    rods: FiniteFloat = Field(1.0, ge=0)


class _Look(_Part):
    radius_m: FiniteFloat = 15.0
    finds: FiniteFloat = Field(0.95, ge=0, lt=1)
    passing_finds: FiniteFloat = Field(0.5, ge=0, lt=1)


class _Meter(_Part):
    kv_rel: FiniteFloat = Field(0.03, ge=0)
    kv_abs: FiniteFloat = Field(0.1, gt=0)
    amps_rel: FiniteFloat = Field(0.1, ge=0)
    amps_abs: FiniteFloat = Field(0.5, gt=0)


class _Doubt(_Part):
    unit: FiniteFloat = Field(0.04, gt=0)
    rods: FiniteFloat = Field(0.3, gt=0)
    grass: FiniteFloat = Field(0.35, gt=0)


class _Fault(_Part):
    kind: Literal["LS", "LE", "cut", "grass"]
    span: Text
    x: FiniteFloat | None = None
    r: FiniteFloat | None = Field(None, alias="R")
    x0: FiniteFloat = 0.0
    x1: FiniteFloat = 0.0
    g: FiniteFloat = Field(0.0, alias="G")


class _Truth(_Part):
    v0: FiniteFloat = Field(1.0, alias="V0")
    rods: FiniteFloat = Field(1.0, alias="Re")
    grass: FiniteFloat = 1.0
    span: dict[str, FiniteFloat] = {}


class _World(_Part):
    faults: list[_Fault]
    truth: _Truth = _Truth()
    restored_when: str = ""


class TraceCase(BaseCase):
    """A farm to search."""

    is_apart = True
    kind: Literal["trace"] = "trace"
    network: dict[str, Any]
    start: Text
    xy: dict[str, tuple[FiniteFloat, FiniteFloat]] = {}
    walk: _Walk = _Walk()
    switches: list[Text] = []
    hazards: dict[str, _Hazard] = {}
    minutes: _Minutes = _Minutes()
    look: _Look = _Look()
    meter: _Meter = _Meter()
    doubt: _Doubt = _Doubt()
    world: _World | None = None

    def farm(self) -> TracedFarm:
        """The farm in our own words. Raises FormatError."""
        hazards = {
            name: Hazard(row.trees, row.gate, row.switch, row.fault_before) for name, row in self.hazards.items()
        }
        meter = Meter(self.meter.kv_rel, self.meter.kv_abs, self.meter.amps_rel, self.meter.amps_abs)
        return TracedFarm(
            self._network(),
            self.start,
            tuple(Track(*track) for track in self.walk.tracks),
            hazards,
            self.walk.m_per_min,
            Minutes(**self.minutes.model_dump()),
            meter,
            Doubt(**self.doubt.model_dump()),
            Looking(self.look.finds, self.look.passing_finds),
            switches=self._switches(),
        )

    def _switches(self) -> tuple[HandSwitch, ...]:
        """The links that can be opened by hand. Raises FormatError for one that is none."""
        network = self._network()
        unknown = [name for name in self.switches if name not in {link.id for link in network.links}]
        if unknown:
            raise FormatError(f"case {self.id}: switches: {unknown[0]} is no link of the network")
        found = (hand_switch(network, link) for link in network.links if link.id in self.switches)
        return tuple(switch for switch in found if switch is not None)

    def _network(self) -> Network:
        try:
            case = NetworkCase.model_validate({"id": self.id, "kind": "network", **self.network})
        except ValidationError as error:
            raise FormatError(f"case {self.id}: network.{first_fault(error)}") from error
        try:
            return case.network()
        except NetworkError as error:
            raise FormatError(f"case {self.id}: network: {error}") from error

    def hidden(self) -> tuple[list[HiddenFault], Truth]:
        """What is hidden, of a case with its world. Raises FormatError without one."""
        if self.world is None:
            raise FormatError(f"case {self.id}: world: is missing; only a case with one can answer by itself")
        faults = [
            HiddenFault(row.kind, row.span, row.x0, row.g, row.x1)
            if row.kind == "grass"
            else HiddenFault(row.kind, row.span, row.x or 0.0, row.r or 1.0)
            for row in self.world.faults
        ]
        truth = self.world.truth
        return faults, Truth(truth.v0, truth.rods, truth.grass, dict(truth.span))


def read_trace_cases(text: str) -> list[TraceCase]:
    """The trace cases of a file: one case or {"cases": [...]}. FormatError names the case and the key."""
    content = read_json(text, "case file")
    if not isinstance(content, dict):
        raise FormatError('case file: give one trace case, or an object {"cases": [...]}')
    rows = content.get("cases", [content])
    if not isinstance(rows, list) or not rows:
        raise FormatError("case file: cases: must be a list of trace cases")
    found = []
    for number, row in enumerate(rows):
        try:
            found.append(TraceCase.model_validate(row))
        except ValidationError as error:
            name = row.get("id", number) if isinstance(row, dict) else number
            raise FormatError(f"case {name}: {first_fault(error)}") from error
    return found
