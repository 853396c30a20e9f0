"""Networks of a case file, and the quantities asked of them."""

import re
from dataclasses import dataclass
from typing import Literal

from pydantic import Field, FiniteFloat

from adze.core.pulse.network import (
    Line,
    Link,
    MatrixLine,
    Network,
    NetworkError,
    Port,
    Shunt,
    Source,
    Span,
    Terminal,
    Wire,
    WireLine,
)
from adze.formats.cases.case_parts import BaseCase, CasePart, Text
from adze.formats.errors import FormatError

_End = tuple[Text, Literal["L", "E"]]
_Rows = list[list[FiniteFloat]]


class _Wire(CasePart):
    h: FiniteFloat
    x: FiniteFloat = 0.0
    a: FiniteFloat
    rdc: FiniteFloat = Field(alias="Rdc")
    mur: FiniteFloat = 1.0
    group: str = ""


class _LineType(CasePart):
    r: _Rows | None = Field(None, alias="R")
    l: _Rows | None = Field(None, alias="L")  # noqa: E741 - the file's own name
    c: _Rows | None = Field(None, alias="C")
    g: _Rows | None = Field(None, alias="G")
    wires: list[_Wire] | None = None
    rho: FiniteFloat | None = None
    mode: Literal["FD", "FI"] = "FD"
    g_ls: FiniteFloat = Field(0.0, alias="G_LS")
    g_le: FiniteFloat = Field(0.0, alias="G_LE")
    g_es: FiniteFloat = Field(0.0, alias="G_ES")


class _Span(CasePart):
    id: Text
    a: Text
    b: Text
    type: Text
    len: FiniteFloat
    open: bool = False
    points: list[FiniteFloat] = []


class _Link(CasePart):
    id: Text
    a: _End
    b: _End
    r: FiniteFloat = Field(alias="R")


class _Shunt(CasePart):
    id: Text
    node: Text
    start: Literal["L", "E"] = Field(alias="from")
    end: Literal["L", "E", "S"] = Field(alias="to")
    r: FiniteFloat = Field(alias="R")
    c: FiniteFloat = Field(0.0, alias="C")


class _Source(CasePart):
    node: Text
    v0: FiniteFloat = Field(alias="V0")
    c: FiniteFloat = Field(alias="C")
    l: FiniteFloat = Field(alias="L")  # noqa: E741 - the file's own name
    r: FiniteFloat = Field(alias="R")
    rp: FiniteFloat = Field(alias="Rp")
    cp: FiniteFloat = Field(alias="Cp")
    rd: FiniteFloat = Field(0.0, alias="Rd")


class NetworkCase(BaseCase):
    """A network and the quantities asked of it."""

    kind: Literal["network"]
    linetypes: dict[str, _LineType]
    spans: list[_Span]
    links: list[_Link] = []
    shunts: list[_Shunt] = []
    source: _Source
    one_way: bool = False
    ask: list[str] = []

    def network(self) -> Network:
        """The network in our own words."""
        lines = {name: _line(name, given) for name, given in self.linetypes.items()}
        for span in self.spans:
            if span.a == span.b:
                raise FormatError(f"span {span.id}: a and b are both {span.a!r}; a span joins two nodes")
            if span.type not in lines:
                raise FormatError(f"span {span.id}: type {span.type!r} is not among the linetypes")
            for x in span.points:
                if not 0 <= x <= span.len:
                    raise FormatError(f"span {span.id}: points holds {x:g}, must lie between 0 and len {span.len:g}")
        s = self.source
        return Network(
            source=Source(s.node, s.v0, s.c, s.l, s.r, s.rp, s.cp, s.rd, self.one_way),
            spans=tuple(Span(x.id, x.a, x.b, lines[x.type], x.len, x.open) for x in self.spans),
            links=tuple(Link(x.id, _port(x.a), _port(x.b), x.r) for x in self.links),
            shunts=tuple(Shunt(x.id, x.node, Terminal(x.start), Terminal(x.end), x.r, x.c) for x in self.shunts),
        )

    def quantities(self) -> list["Quantity"]:
        """What is asked: `ask`, else the keys of `expected`, else all node volts and shunt amps."""
        names = self.ask or list(self.expected) or self._all_quantities()
        return [self._quantity(name) for name in names]

    def _all_quantities(self) -> list[str]:
        nodes = dict.fromkeys(n for span in self.spans for n in (span.a, span.b))
        return [f"V.{n}.L" for n in nodes] + [f"I.{x.id}" for x in self.shunts]

    def _quantity(self, name: str) -> "Quantity":
        if name == "stop_us":
            return Quantity(name, "stop", "", None, None)
        match = _QUANTITY.fullmatch(name)
        if not match:
            raise FormatError(f"quantity {name!r} is not understood; write V.<node>.L, V.<span>@<x>.L or I.<id>")
        of, place, at, what = match["of"], match["place"], match["at"], match["what"]
        spans = {x.id: x for x in self.spans}
        if at is not None:
            if place not in spans:
                raise FormatError(f"quantity {name!r}: there is no span {place!r}")
            if not 0 <= float(at) <= spans[place].len or what is None:
                raise FormatError(f"quantity {name!r}: needs a place within the span and .L or .E after it")
        elif of == "V":
            nodes = {n for x in self.spans for n in (x.a, x.b)} | {x.node for x in self.shunts}
            nodes |= {end[0] for x in self.links for end in (x.a, x.b)} | {self.source.node}
            if place not in nodes or what is None:
                raise FormatError(f"quantity {name!r}: there is no node {place!r}, or .L, .E or .LE is missing")
        elif place not in {x.id for x in self.shunts} | {x.id for x in self.links}:
            raise FormatError(f"quantity {name!r}: there is no shunt or link {place!r}")
        tester_us = float(match["tester"] or 0)
        return Quantity(name, of, place, None if at is None else float(at), what, tester_us)


_QUANTITY = re.compile(
    r"(?P<of>[VI])\.(?P<place>[^@]+?)(?:@(?P<at>\d+(?:\.\d+)?(?:[eE]\d+)?))?(?:\.(?P<what>LE|L|E))?"
    r"(?:@(?P<tester>\d+(?:\.\d+)?)us)?"
)


@dataclass(frozen=True)
class Quantity:
    """One asked peak: V or I, of a node, span place, shunt or link; as a tester of so many us shows it.

    `of` "stop" asks when the discharge stops, us.
    """

    name: str
    of: str
    place: str
    at_m: float | None
    what: str | None
    tester_us: float = 0.0


def _line(name: str, given: _LineType) -> Line:
    try:
        if given.wires is not None:
            if given.rho is None:
                raise FormatError(f"linetypes.{name}.rho: is missing")
            return WireLine(
                wires=tuple(Wire(w.h, w.x, w.a, w.rdc, w.mur, _GROUPS.get(w.group)) for w in given.wires),
                soil_ohm_m=given.rho,
                leak_live_soil_s_per_m=given.g_ls,
                leak_live_earth_s_per_m=given.g_le,
                leak_earth_soil_s_per_m=given.g_es,
                frequency_dependent=given.mode == "FD",
            )
        matrices = []
        for key in "rlcg":
            rows = getattr(given, key)
            if rows is None:
                raise FormatError(f"linetypes.{name}.{key.upper()}: is missing (or give wires and rho)")
            matrices.append(tuple(tuple(row) for row in rows))
        resistance, inductance, capacitance, leak = matrices
        return MatrixLine(resistance, inductance, capacitance, leak)
    except NetworkError as error:
        raise FormatError(f"linetypes.{name}: {error}") from error


_GROUPS = {"LIVE": Terminal.LIVE, "EARTH": Terminal.EARTH}


def _port(end: tuple[str, str]) -> Port:
    return Port(end[0], Terminal(end[1]))
