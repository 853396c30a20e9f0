"""Case files: networks, rods, energizers and strand sets with known answers, as JSON (SI units).

The names of the file become ours here. Every error is one line that names the case and the key.
"""

import json
import re
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, FiniteFloat, TypeAdapter, ValidationError

from adze.core.animals.strand_rules import Animal, Duty, Purpose, Role, Scheme, Strand
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
from adze.core.tables.energizers import Catalogue
from adze.formats.errors import FormatError, first_fault

_Text = Annotated[str, Field(min_length=1)]
_End = tuple[_Text, Literal["L", "E"]]
_Rows = list[list[FiniteFloat]]


class _Model(BaseModel):
    model_config = ConfigDict(populate_by_name=True, frozen=True)


class _Wire(_Model):
    h: FiniteFloat
    x: FiniteFloat = 0.0
    a: FiniteFloat
    rdc: FiniteFloat = Field(alias="Rdc")
    mur: FiniteFloat = 1.0
    group: str = ""


class _LineType(_Model):
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


class _Span(_Model):
    id: _Text
    a: _Text
    b: _Text
    type: _Text
    len: FiniteFloat
    open: bool = False
    points: list[FiniteFloat] = []


class _Link(_Model):
    id: _Text
    a: _End
    b: _End
    r: FiniteFloat = Field(alias="R")


class _Shunt(_Model):
    id: _Text
    node: _Text
    start: Literal["L", "E"] = Field(alias="from")
    end: Literal["L", "E", "S"] = Field(alias="to")
    r: FiniteFloat = Field(alias="R")
    c: FiniteFloat = Field(0.0, alias="C")


class _Source(_Model):
    node: _Text
    v0: FiniteFloat = Field(alias="V0")
    c: FiniteFloat = Field(alias="C")
    l: FiniteFloat = Field(alias="L")  # noqa: E741 - the file's own name
    r: FiniteFloat = Field(alias="R")
    rp: FiniteFloat = Field(alias="Rp")
    cp: FiniteFloat = Field(alias="Cp")


class _Case(_Model):
    id: _Text


class NetworkCase(_Case):
    """A network and the quantities asked of it."""

    kind: Literal["network"]
    linetypes: dict[str, _LineType]
    spans: list[_Span]
    links: list[_Link] = []
    shunts: list[_Shunt] = []
    source: _Source
    expected: dict[str, Any] = {}
    ask: list[str] = []

    def network(self) -> Network:
        """The network in our own words."""
        lines = {name: _line(name, given) for name, given in self.linetypes.items()}
        for span in self.spans:
            if span.type not in lines:
                raise FormatError(f"span {span.id}: type {span.type!r} is not among the linetypes")
            for x in span.points:
                if not 0 <= x <= span.len:
                    raise FormatError(f"span {span.id}: points holds {x:g}, must lie between 0 and len {span.len:g}")
        s = self.source
        return Network(
            source=Source(s.node, s.v0, s.c, s.l, s.r, s.rp, s.cp),
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
        return Quantity(name, of, place, None if at is None else float(at), what)


_QUANTITY = re.compile(r"(?P<of>[VI])\.(?P<place>[^@]+?)(?:@(?P<at>\d+(?:\.\d+)?(?:[eE]\d+)?))?(?:\.(?P<what>LE|L|E))?")


@dataclass(frozen=True)
class Quantity:
    """One asked peak: V or I, of a node, span place, shunt or link."""

    name: str
    of: str
    place: str
    at_m: float | None
    what: str | None


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
        return MatrixLine(*matrices)
    except NetworkError as error:
        raise FormatError(f"linetypes.{name}: {error}") from error


_GROUPS = {"LIVE": Terminal.LIVE, "EARTH": Terminal.EARTH}


def _port(end: tuple[str, str]) -> Port:
    return Port(end[0], Terminal(end[1]))


class _RodRow(_Model):
    kind: Literal["single", "row", "backfilled", "two_layer", "angled", "row_plus_bare_joining_wire"]
    length_m: FiniteFloat = Field(alias="L")
    diameter_m: FiniteFloat = Field(alias="d")
    rho: FiniteFloat | None = None
    n: int | None = None
    spacing: FiniteFloat | None = None
    rho_backfill: FiniteFloat | None = None
    bore_m: FiniteFloat | None = Field(None, alias="D")
    rho1: FiniteFloat | None = None
    depth_m: FiniteFloat | None = Field(None, alias="H")
    rho2: FiniteFloat | None = None
    degrees_from_vertical: FiniteFloat | None = None
    wire_depth: FiniteFloat | None = None
    wire_d: FiniteFloat | None = None

    def need(self, *names: str) -> list[float]:
        """The named figures; FormatError names the first that is missing."""
        for name in names:
            if getattr(self, name) is None:
                raise FormatError(f"rods: a {self.kind} needs {_FILE_NAMES.get(name, name)}")
        return [getattr(self, name) for name in names]


_FILE_NAMES = {"bore_m": "D", "depth_m": "H"}


class _PegReading(_Model):
    away_m: FiniteFloat = Field(alias="m_from_last_rod_in_line")


class _Pegs(_Model):
    rho: FiniteFloat
    length_m: FiniteFloat = Field(alias="L")
    diameter_m: FiniteFloat = Field(alias="d")
    readings: list[_PegReading]


class _Hoof(_Model):
    rho_surface: FiniteFloat
    b: FiniteFloat
    feet: int


class RodsCase(_Case):
    """Earth electrodes, peg readings and hooves."""

    kind: Literal["rods"]
    rods: list[_RodRow] = []
    pegs: _Pegs | None = Field(None, alias="peg_row_of_3_at_3m")
    hooves: list[_Hoof] = []


class _Figures(_Model):
    released_j: FiniteFloat = Field(alias="Eout")
    open_v: FiniteFloat = Field(alias="Voc")
    v500_v: FiniteFloat | None = Field(None, alias="V500")
    stored_j: FiniteFloat | None = Field(None, alias="Es")
    best_load_ohm: FiniteFloat | None = Field(None, alias="Rbest")


class _Unit(_Model):
    catalogue: _Figures
    peak_v: dict[str, Any] = Field({}, alias="peak_V")


class EnergizersCase(_Case):
    """Catalogue figures to fit and loads to put on."""

    kind: Literal["energizers"]
    energizers: list[_Unit]

    def catalogue(self, index: int) -> Catalogue:
        """One unit's figures in our own words."""
        return Catalogue(**self.energizers[index].catalogue.model_dump())


class _Animal(_Model):
    kind: _Text
    nose_cm: FiniteFloat
    shoulder_cm: FiniteFloat
    head_cm: FiniteFloat
    spring_cm: FiniteFloat = 0.0
    digs: bool = False
    climbs: bool = False
    smooth: bool = False
    fleece_cm: FiniteFloat = 0.0
    kv_new: FiniteFloat
    kv_schooled: FiniteFloat
    wild: bool = False
    purpose: Purpose = Purpose.HOLD
    schooled: bool = False

    def animal(self) -> Animal:
        """The animal in our own words."""
        return Animal(**self.model_dump())


class _StrandsCase(_Case):
    duty: Duty
    animals: list[_Animal] = Field(min_length=1)

    def herd(self) -> tuple[Animal, ...]:
        """The animals in our own words."""
        return tuple(a.animal() for a in self.animals)


class PatternCase(_StrandsCase):
    """Heights and roles to compute from animals."""

    kind: Literal["pattern"]
    scheme: Scheme = Scheme.LIVE


class _Strand(_Model):
    cm: FiniteFloat
    role: Role


class CheckCase(_StrandsCase):
    """Given strands to check."""

    kind: Literal["check"]
    strands: list[_Strand]
    guard_cm: FiniteFloat | None = None
    pulse_s: FiniteFloat = 1.2

    def fence(self) -> tuple[Strand, ...]:
        """The strands in our own words, from the lowest."""
        return tuple(Strand(s.cm, s.role) for s in self.strands)


class _TouchRow(_Model):
    animal: _Text
    fleece_cm: FiniteFloat = 0.0
    strand_kv: FiniteFloat
    rho_ohm_m: FiniteFloat
    hooves: Literal["moist", "dry"]
    path: Literal["live_to_soil", "live_to_earth_strand"]
    coat: Literal["dry", "wet"] = "dry"


class TouchCase(_Case):
    """What animals feel."""

    kind: Literal["touch"]
    rows: list[_TouchRow]


Case = NetworkCase | RodsCase | EnergizersCase | PatternCase | CheckCase | TouchCase
_ADAPTER: TypeAdapter[Case] = TypeAdapter(Annotated[Case, Field(discriminator="kind")])


def read_cases(text: str) -> list[Case]:
    """The cases of a file: one case or {"cases": [...]}. FormatError names the case and the key."""
    try:
        content = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as error:
        raise FormatError(f"case file: is not JSON ({error})") from error
    if isinstance(content, dict) and "cases" in content:
        content = content["cases"]
    rows = content if isinstance(content, list) else [content]
    return [_read_case(i, row) for i, row in enumerate(rows)]


def _read_case(index: int, row: object) -> Case:
    if not isinstance(row, dict):
        raise FormatError(f"case {index}: must be an object with id and kind")
    name = row.get("id", index)
    if "kind" not in row and "linetypes" in row:
        row = {**row, "kind": "network"}
    try:
        return _ADAPTER.validate_python(row)
    except ValidationError as error:
        raise FormatError(f"case {name}: {first_fault(error, skip=row.get('kind'))}") from error
