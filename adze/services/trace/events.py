"""What is done in a search: one model for each kind of event, read by its `what`, applied in one way.

The store keeps an event as its kind and a JSON body; both together are what these models read. Events that earlier
versions kept lack what came later: those fields have defaults.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from adze.core.ground.places import Place as FencePlace
from adze.core.plan.document import Plan
from adze.core.trace.belief import RODS_PLACE, TraceReading
from adze.core.trace.grid import Spot
from adze.core.trace.mended import KINDS, Find
from adze.core.trace.plan_farm import spot_of
from adze.core.trace.predicted import ReadAt
from adze.core.trace.search import FaultSearch
from adze.store.trace.searches import TraceEvent

RODS_LEG = "rods"  # of a step that says that the rods cannot be read
GROWTH_LEG = "growth"  # of a step that says that growth was looked at and is none
# Kinds of causes that lie at no one place of the fence: what it is, and whether it was mended or stays as it is.
WHOLE_KINDS = {"rods": ("rods", True), "dry": ("rods", False), "mown": ("growth", True), "grown": ("growth", False)}


class _Event(BaseModel):
    """What every event shares. `world` is how the made-up farm of practice stands after it, `hidden` what was found."""

    model_config = ConfigDict(frozen=True, extra="ignore")
    narrows: ClassVar[bool] = True  # whether the search itself changes by it

    world: dict[str, Any] | None = None

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:  # noqa: ARG002
        """Return the search after this event. Raises KeyError for a line or switch that is no longer there."""
        return search


class _AtPlace(_Event):
    """An event at a place of the fence; no run is the lead-out, at the unit."""

    run: str = ""
    at_m: float = 0.0

    @property
    def place(self) -> FencePlace:
        """The place as the plan has it."""
        return FencePlace(self.run, self.at_m)

    def spot(self, search: FaultSearch, plan: Plan) -> Spot:
        """The same as a spot of the search. Raises KeyError."""
        return spot_of(plan, self.place) if self.run else search.grid.spots[search.grid.start]


def _walked(search: FaultSearch, place: int, then_min: float) -> FaultSearch:
    """The search once somebody has walked to a place and spent some minutes there."""
    walk_min = float(search.grid.walk_m[search.here, place]) / search.farm.pace_m_per_min
    return search.walked(place, walk_min + then_min)


class Checked(_Event):
    """Gates, switches, terminal and tester were looked at first."""

    narrows = False
    what: Literal["checked"] = "checked"
    note: str = ""


class UnitRead(_Event):
    """The unit read alone, kV; None: gone on without."""

    narrows = False
    what: Literal["unit"] = "unit"
    kv: float | None = None


class LeadRead(_Event):
    """The end of the lead-out read alone, kV; None: gone on without."""

    narrows = False
    what: Literal["lead"] = "lead"
    kv: float | None = None


class SpurTold(_AtPlace):
    """Fence that is on no plan joins here."""

    narrows = False
    what: Literal["spur"] = "spur"


class RodsRead(_Event):
    """The rods read with the fence on, kV."""

    what: Literal["rods"] = "rods"
    kv: float

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:  # noqa: ARG002
        """Return the search after it."""
        reached = _walked(search, search.grid.start, search.farm.minutes.rods)
        return reached.read(TraceReading(RODS_PLACE, self.kv))


class _ReadOnLeg(_AtPlace):
    """kV at a place, and amps along one of its legs, outward positive; what could not be read is None."""

    leg: str = ""
    kv: float | None = None
    amps: float | None = None
    from_log: bool = False

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:
        """Return the search after it. What the log brings costs no minutes, and nobody stands there now."""
        spot = self.spot(search, plan)
        place = search.grid.place(spot)
        leg = self.leg or spot.span
        if leg not in search.grid.legs[place]:
            leg = search.grid.legs[place][0]
        reached = search if self.from_log else _walked(search, place, search.farm.minutes.reading)
        return reached.read(TraceReading(ReadAt(place, leg), self.kv, self.amps))


class Read(_ReadOnLeg):
    """A reading; `device` names what took it by itself."""

    what: Literal["read"] = "read"
    device: str = ""


class StrandsRead(_ReadOnLeg):
    """Strands read one by one from the ground; `kv` is what the search takes of them, None where that is nothing."""

    what: Literal["strands"] = "strands"
    strand_kv: tuple[float | None, ...] = ()

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:
        """Return the search after it."""
        if self.kv is not None:
            return super().apply(search, plan)
        return _walked(search, search.grid.place(self.spot(search, plan)), search.farm.minutes.reading)


class Looked(_AtPlace):
    """Looked at a place and found nothing."""

    what: Literal["look"] = "look"
    note: str = ""

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:
        """Return the search after it."""
        place = search.grid.place(self.spot(search, plan))
        return _walked(search, place, search.farm.minutes.look).inspected(place)


class Skipped(_AtPlace):
    """A place that cannot be read, rods that cannot, or growth that is none."""

    what: Literal["skip"] = "skip"
    leg: str = ""

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:
        """Return the search after it."""
        if self.leg == RODS_LEG:
            return search.skipped_at(RODS_PLACE)
        if self.leg == GROWTH_LEG:
            return search.growth_denied()
        spot = self.spot(search, plan)
        return search.skipped_at(ReadAt(search.grid.place(spot), self.leg or spot.span))


class Swept(_Event):
    """All of the fence walked, and nothing seen."""

    what: Literal["sweep"] = "sweep"
    minutes: float = 0.0

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:  # noqa: ARG002
        """Return the search after it."""
        return search.swept_all(tuple(span.id for span in search.grid.spans), self.minutes)


class SwitchWorked(_Event):
    """A switch opened or shut, or that stood so `all_along`."""

    what: Literal["switch"] = "switch"
    switch: str
    opens: bool
    all_along: bool = False

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:  # noqa: ARG002
        """Return the search after it, with the walk to the switch."""
        switch = next((own for own in search.farm.switches if own.id == self.switch), None)
        if switch is None:
            raise KeyError(self.switch)
        there = _walked(search, search.suspects.base.fed_place(switch), search.farm.minutes.switch)
        return there.switched(switch.id, opens=self.opens)


class Found(_AtPlace):
    """What was found, and mended or left as it is; in practice which of the hidden faults it was."""

    what: Literal["found"] = "found"
    cause: str
    kind: str
    note: str = ""
    hidden: int | None = None

    @property
    def stays(self) -> bool:
        """Whether it is left as it is: dry ground, growth that is not cut."""
        return not WHOLE_KINDS.get(self.kind, ("", True))[1]

    def apply(self, search: FaultSearch, plan: Plan) -> FaultSearch:
        """Return the search after it."""
        look_min = search.farm.minutes.look
        if self.kind in WHOLE_KINDS:
            return self._whole(search, look_min)
        spot = self.spot(search, plan)
        place = search.grid.place(spot)
        walk_min = float(search.grid.walk_m[search.here, place]) / search.farm.pace_m_per_min
        return search.found(Find(KINDS[self.kind], spot), walk_min + look_min)

    def _whole(self, search: FaultSearch, look_min: float) -> FaultSearch:
        """After something that lies at no one place of the fence."""
        lies, is_mended = WHOLE_KINDS[self.kind]
        if lies == "growth":
            return search.growth_found(look_min, is_mended=is_mended)
        walk_min = float(search.grid.walk_m[search.here, search.grid.start]) / search.farm.pace_m_per_min
        return search.rods_found(walk_min + look_min, is_mended=is_mended)


SearchEvent = Annotated[
    Checked
    | UnitRead
    | LeadRead
    | SpurTold
    | RodsRead
    | Read
    | StrandsRead
    | Looked
    | Skipped
    | Swept
    | SwitchWorked
    | Found,
    Field(discriminator="what"),
]
_ANY: TypeAdapter[SearchEvent] = TypeAdapter(SearchEvent)


def event_schema() -> dict[str, Any]:
    """Return the JSON Schema of an event as the store and a phone keep it."""
    return {"title": "SearchEvent", **_ANY.json_schema()}


@dataclass(frozen=True)
class KeptEvent:
    """An event with its number, its token on a phone, when it was done and by whom."""

    id: int
    idempotency_key: str | None
    at: datetime
    by_name: str
    did: SearchEvent

    @property
    def token(self) -> str:
        """What a phone knows it by: its own token, or e and its number."""
        return self.idempotency_key or f"e{self.id}"

    @property
    def what(self) -> str:
        """Its kind."""
        return self.did.what


def read_events(rows: Iterable[TraceEvent]) -> tuple[KeptEvent, ...]:
    """The events of a search as the store has them. Raises ValidationError for one that cannot be read."""
    return tuple(
        KeptEvent(
            row.id, row.idempotency_key, row.at, row.by_name, _ANY.validate_python({**row.body, "what": row.what})
        )
        for row in rows
    )


def body_of(event: SearchEvent) -> dict[str, Any]:
    """What the store keeps of an event beside its kind: the fields that were given."""
    return event.model_dump(mode="json", exclude={"what"}, exclude_unset=True)
