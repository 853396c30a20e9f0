"""Case files: networks, rods, energizers and strand sets with known answers, as JSON (SI units).

The names of the file become ours here. Every error is one line that names the case and the key.
"""

from collections.abc import Iterable
from difflib import get_close_matches
from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, TypeAdapter, ValidationError

from adze.core.animals.strand_rules import Animal, Duty, Purpose, Role, Scheme, Strand
from adze.core.tables.energizers import Catalogue
from adze.formats.cases.case_network import NetworkCase
from adze.formats.cases.case_parts import ANNOTATION, BaseCase, CasePart, Text, known_keys
from adze.formats.errors import FormatError, fault_path, fault_words, first_fault
from adze.formats.json_text import read_json


class _RodRow(CasePart):
    answers = frozenset({"ohms"})
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


class _PegReading(CasePart):
    answers = frozenset({"fraction_of_true_rod_voltage"})
    away_m: FiniteFloat = Field(alias="m_from_last_rod_in_line")


class _Pegs(CasePart):
    answers = frozenset({"Re"})
    rho: FiniteFloat
    length_m: FiniteFloat = Field(alias="L")
    diameter_m: FiniteFloat = Field(alias="d")
    readings: list[_PegReading]


class _Hoof(CasePart):
    answers = frozenset({"ohms"})
    rho_surface: FiniteFloat
    b: FiniteFloat
    feet: int


class RodsCase(BaseCase):
    """Earth electrodes, peg readings and hooves."""

    kind: Literal["rods"]
    rods: list[_RodRow] = []
    pegs: _Pegs | None = Field(None, alias="peg_row_of_3_at_3m")
    hooves: list[_Hoof] = []


class _Figures(CasePart):
    released_j: FiniteFloat = Field(alias="Eout")
    open_v: FiniteFloat = Field(alias="Voc")
    v500_v: FiniteFloat | None = Field(None, alias="V500")
    stored_j: FiniteFloat | None = Field(None, alias="Es")
    best_load_ohm: FiniteFloat | None = Field(None, alias="Rbest")
    shape: FiniteFloat | None = None
    peak_500_us: FiniteFloat | None = Field(None, alias="tp500_us")


class _Asked(CasePart):
    loads: list[str | FiniteFloat] = []
    energy_loads: list[str | FiniteFloat] = []
    tester_us: list[str | FiniteFloat] = []


class _Unit(_Asked):
    answers = frozenset({"E500_J", "source", "tp500_us", "Rbest_ohm", "Ebest_J"})
    catalogue: _Figures
    peak_v: dict[str, Any] = Field({}, alias="peak_V")
    energy_j: dict[str, Any] = Field({}, alias="energy_J")
    shown_v: dict[str, Any] = Field({}, alias="shown_V_500ohm")


class EnergizersCase(BaseCase, _Asked):
    """Catalogue figures to fit and loads to put on."""

    kind: Literal["energizers"]
    energizers: list[_Unit]

    def asked(self, index: int) -> tuple[list[str], list[str], list[str]]:
        """The loads to put on one unit for its peak, for its joules, and testers by their response in us."""
        unit = self.energizers[index]
        peaks = _texts(unit.peak_v) or _texts(unit.loads) or _texts(self.loads)
        joules = _texts(unit.energy_j) or _texts(unit.energy_loads) or _texts(self.energy_loads)
        testers = _texts(unit.shown_v) or _texts(unit.tester_us) or _texts(self.tester_us)
        return peaks, joules, [tester.removesuffix("us") for tester in testers]

    def catalogue(self, index: int) -> Catalogue:
        """One unit's figures in our own words."""
        return Catalogue(**self.energizers[index].catalogue.model_dump())


def _texts(loads: Iterable[str | float]) -> list[str]:
    return [load if isinstance(load, str) else f"{load:g}" for load in loads]


class _Plate(_Figures):
    answers = frozenset({"must"})


class PlatesCase(BaseCase):
    """Figures on plates, to refuse, to warn of or to accept."""

    kind: Literal["plates"]
    plates: list[_Plate]

    def catalogue(self, index: int) -> Catalogue:
        """One plate's figures in our own words."""
        return Catalogue(**self.plates[index].model_dump())


class _Animal(CasePart):
    kind: Text
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


class _StrandsCase(BaseCase):
    duty: Duty
    animals: list[_Animal] = Field(min_length=1)

    def herd(self) -> tuple[Animal, ...]:
        """The animals in our own words."""
        return tuple(a.animal() for a in self.animals)


class PatternCase(_StrandsCase):
    """Heights and roles to compute from animals."""

    kind: Literal["pattern"]
    scheme: Scheme = Scheme.LIVE


class _Strand(CasePart):
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


class _TouchRow(CasePart):
    answers = frozenset({"body_kv", "schooled"})
    animal: Text
    fleece_cm: FiniteFloat = 0.0
    strand_kv: FiniteFloat
    rho_ohm_m: FiniteFloat
    hooves: Literal["moist", "dry"]
    path: Literal["live_to_soil", "live_to_earth_strand"]
    coat: Literal["dry", "wet"] = "dry"


class TouchCase(BaseCase):
    """What animals feel."""

    kind: Literal["touch"]
    rows: list[_TouchRow]


Case = NetworkCase | RodsCase | EnergizersCase | PlatesCase | PatternCase | CheckCase | TouchCase
_ADAPTER: TypeAdapter[Case] = TypeAdapter(Annotated[Case, Field(discriminator="kind")])


def read_cases(text: str) -> list[Case]:
    """The cases of a file: one case or {"cases": [...]}. FormatError names the case and the key."""
    content = read_json(text, "case file")
    if not isinstance(content, dict):
        kind = "a list" if isinstance(content, list) else "no object"
        raise FormatError(f'case file: is {kind}; give one case, or an object {{"cases": [...]}}')
    if "cases" not in content:
        return [_read_case(0, content)]
    for key in content.keys() - {"cases"}:
        if not ANNOTATION.fullmatch(key):
            raise FormatError(f"case file: {key}: is not known beside cases; only a note or a title is")
    if not isinstance(content["cases"], list):
        raise FormatError("case file: cases: must be a list of cases")
    return [_read_case(i, row) for i, row in enumerate(content["cases"])]


def _read_case(index: int, row: object) -> Case:
    if not isinstance(row, dict):
        raise FormatError(f"case {index}: must be an object with id and kind")
    name = row.get("id", index)
    if "kind" not in row and "linetypes" in row:
        row = {**row, "kind": "network"}
    try:
        return _ADAPTER.validate_python(row)
    except ValidationError as error:
        raise FormatError(f"case {name}: {_fault(error, row.get('kind'))}") from error


def _fault(error: ValidationError, kind: object) -> str:
    """An unknown key before all else: what is missing is often there under a misspelt name."""
    unknown = next((fault for fault in error.errors() if fault["type"] == "extra_forbidden"), None)
    if unknown is None:
        return first_fault(error, skip=kind)
    near = get_close_matches(str(unknown["loc"][-1]), known_keys(), n=1)
    meant = f"; did you mean {near[0]}?" if near else ""
    return f"{fault_path(unknown, kind)}: {fault_words(unknown)}{meant}"
