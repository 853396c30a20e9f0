"""Operations on how lines are built: strands, conductors, patterns, constructions of their own."""

from typing import Annotated, Any, Literal

from pydantic import Field

from adze.core.animals.strand_rules import Role, Scheme, limits_of, stood_off
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.ground.edit import Refused, fresh_id
from adze.core.ground.old_fences import alongside
from adze.core.plan.changes import changed, replaced
from adze.core.plan.construction import Construction, PlannedStrand
from adze.core.plan.constructions import built_as, rebuilt
from adze.core.plan.document import Plan
from adze.core.plan.ground import StrandLink, Switch
from adze.core.plan.scalars import HeightCm
from adze.core.plan.stock import animals_of
from adze.core.tables.construction import nettings
from adze.services.operations.base import Done, Operation

STEP_CM, FIRST_CM = 20.0, 60.0  # a strand added on top stands so far over the last; the first one at 80
OVER_TOP_CM, _MOST_OVER_CM, _USUAL_OLD_CM = 10.0, 40.0, 110.0  # a top strand over an old fence; its height unsaid
Index = Annotated[int, Field(ge=0, le=11)]
Rows = list[dict[str, Any]]


class _OfConstruction(Operation):
    """An operation on the plan's own construction, or on another by its id."""

    fence: str = ""

    def _key(self, plan: Plan) -> str | None:
        key = self.fence or None
        if key is not None and built_as(plan, key).id != key:
            raise Refused("That way of building is no longer in the plan.")
        return key

    def _rows(self, plan: Plan) -> Rows:
        """The construction's strands, ready to be changed: the computed ones where it has none of its own."""
        view = built_as(plan, self._key(plan)).view
        own = [s.model_dump() for s in view.strands]
        if own:
            return own
        in_net = len(nettings()[view.netting].heights.split()) if view.netting else 0
        return [{"cm": s.cm, "role": s.role} for s in fence_of(view)[in_net:]]

    def _rebuilt(self, plan: Plan, summary: str, **update: Any) -> Done:
        return Done(rebuilt(plan, self._key(plan), update), summary)


class _OfStrand(_OfConstruction):
    """An operation on one of the strands, numbered from the lowest above any netting."""

    strand: Index

    def _with(self, plan: Plan, summary: str, **values: Any) -> Done:
        rows = self._rows(plan)
        if self.strand >= len(rows):
            raise Refused("That strand is no longer on the fence.")
        rows[self.strand] |= values
        return self._rebuilt(plan, summary, strands=rows)


class MoveStrand(_OfStrand):
    """A strand at another height; `sorts` puts the strands in order again, as when one is dragged past another."""

    do: Literal["move_strand"]
    cm: HeightCm
    sorts: bool = False

    def apply(self, plan: Plan) -> Done:
        """The plan with the strand moved."""
        summary = f"Strand {self.strand + 1} to {self.cm:g} cm"
        if not self.sorts:
            return self._with(plan, summary, cm=self.cm)
        rows = self._rows(plan)
        if self.strand >= len(rows):
            raise Refused("That strand is no longer on the fence.")
        rows[self.strand]["cm"] = self.cm
        return self._rebuilt(plan, summary, strands=sorted(rows, key=lambda row: row["cm"]))


class MakeStrand(_OfStrand):
    """A strand of another conductor; none: the construction's."""

    do: Literal["make_strand"]
    conductor: str | None

    def apply(self, plan: Plan) -> Done:
        """The plan with the strand made of it."""
        return self._with(plan, f"Strand {self.strand + 1}: another conductor", conductor=self.conductor or None)


class ChargeStrand(_OfStrand):
    """What a strand carries."""

    do: Literal["charge_strand"]
    role: Role

    def apply(self, plan: Plan) -> Done:
        """The plan with the strand carrying it."""
        return self._with(plan, f"Strand {self.strand + 1}: {self.role.value}", role=self.role)


class RemoveStrand(_OfStrand):
    """A strand less."""

    do: Literal["remove_strand"]

    def apply(self, plan: Plan) -> Done:
        """The plan without the strand."""
        rows = self._rows(plan)
        done = self._rebuilt(plan, "Took a strand off", strands=rows[: self.strand] + rows[self.strand + 1 :])
        return Done(without_number(done.plan, self._key(plan), self.strand + 1), done.summary)


def without_number(plan: Plan, fence: str | None, gone: int) -> Plan:
    """A plan whose switches, links and mishaps name the strands that they named before one was taken off.

    Raises Refused where a switch or a link is of that strand alone: without a name it would be of all.
    """

    def left(numbers: tuple[int, ...]) -> tuple[int, ...]:
        return tuple(n - (n > gone) for n in numbers if n != gone)

    own = {run.id for run in plan.runs if run.fence == fence}
    if not any(getattr(fixture, "strands", ()) for fixture in plan.fixtures) and not plan.what_ifs:
        return plan
    rows: list[Any] = []
    for fixture in plan.fixtures:
        named = fixture.strands if isinstance(fixture, Switch | StrandLink) and fixture.run in own else ()
        if named and not left(named):
            raise Refused(f"{fixture.name} belongs to that strand. Choose other strands there, or remove it first.")
        rows.append(fixture.model_dump() | ({"strands": left(named)} if named else {}))
    trials: list[Any] = [
        trial.model_dump() | {"strand": trial.strand - (trial.strand > gone)}
        if trial.strand and trial.run in own
        else trial.model_dump()
        for trial in plan.what_ifs
        if trial.strand != gone or trial.run not in own
    ]
    return changed(plan, {"fixtures": rows, "what_ifs": trials})


class AddStrand(_OfConstruction):
    """A live strand more on top."""

    do: Literal["add_strand"]

    def apply(self, plan: Plan) -> Done:
        """The plan with the strand a step over the last."""
        rows = self._rows(plan)
        net = nettings().get(built_as(plan, self._key(plan)).view.netting or "")
        top = rows[-1]["cm"] if rows else net.top_cm if net else FIRST_CM
        return self._rebuilt(plan, "Added a strand", strands=[*rows, {"cm": top + STEP_CM, "role": Role.LIVE}])


class TakeStrands(_OfConstruction):
    """The strands of a pattern or of a computed way."""

    do: Literal["take_strands"]
    strands: Annotated[tuple[PlannedStrand, ...], Field(min_length=1, max_length=12)]
    words: Annotated[str, Field(max_length=120)] = "a pattern"

    def apply(self, plan: Plan) -> Done:
        """The plan with them."""
        return self._rebuilt(
            plan, f"Began from a pattern: {self.words}", strands=[s.model_dump() for s in self.strands]
        )


class StandStrand(_OfStrand):
    """What carries a strand."""

    do: Literal["stand_strand"]
    stands: Literal["", "post", "bracket", "over"]

    def apply(self, plan: Plan) -> Done:
        """The plan with the strand on it."""
        return self._with(plan, f"Strand {self.strand + 1}: what carries it", stands=self.stands)


class SwitchStrand(_OfStrand):
    """Whether a live strand hangs on the bottom switch; the others are said to stand as they stand by the rule."""

    do: Literal["switch_strand"]
    on: bool

    def apply(self, plan: Plan) -> Done:
        """The plan with the strand on the switch, or off it."""
        rows, view = self._rows(plan), built_as(plan, self._key(plan)).view
        if self.strand >= len(rows):
            raise Refused("That strand is no longer on the fence.")
        group = bottom_group_of(view)
        for i, row in enumerate(rows):
            row["switched"] = self.on if i == self.strand else i in group
        words = "on" if self.on else "off"
        return self._rebuilt(plan, f"Strand {self.strand + 1} {words} the bottom switch", strands=rows)


class TakeAddOn(_OfConstruction):
    """Strands added to an old fence: offset alone, or one over its top as well."""

    do: Literal["take_add_on"]
    top: bool

    def apply(self, plan: Plan) -> Done:
        """The plan with them, on brackets."""
        built = built_as(plan, self._key(plan))
        animals = animals_of(built.view)
        if not animals:
            raise Refused("Choose the animals first; the heights follow from them.")
        rows: Rows = [{"cm": s.cm, "role": s.role, "stands": "bracket"} for s in stood_off(animals, built.view.duty)]
        if self.top:
            along = (alongside(plan, run) for run in plan.runs if run.id in built.runs)
            tall = max((row.mark.tall_cm or 0.0 for row in along if row), default=0.0) or _USUAL_OLD_CM
            limit = max(limits_of(animal, built.view.duty).top_cm for animal in animals)
            rows.append({"cm": float(max(tall + OVER_TOP_CM, min(limit, tall + _MOST_OVER_CM))), "stands": "over"})
        words = "Offset and top strands" if self.top else "An offset strand"
        return self._rebuilt(plan, words, strands=rows, behind="old_fence", netting=None)


class TakeScheme(_OfConstruction):
    """All live or in turn, at the computed heights."""

    do: Literal["take_scheme"]
    scheme: Scheme

    def apply(self, plan: Plan) -> Done:
        """The plan with the scheme's computed strands."""
        return self._rebuilt(plan, "Took one of two ways", scheme=self.scheme, strands=())


class TakeComputed(_OfConstruction):
    """The computed heights in place of one's own."""

    do: Literal["take_computed"]

    def apply(self, plan: Plan) -> Done:
        """The plan with strands by the rules."""
        return self._rebuilt(plan, "Took the computed heights", strands=())


class MeetConstruction(_OfConstruction):
    """Whether a herd meets the lines built so; none named: all do."""

    do: Literal["meet_construction"]
    herd: str
    meets: bool

    def apply(self, plan: Plan) -> Done:
        """The plan with the herd at these lines, or away from them."""
        every = [h.id for h in plan.stock]
        own: Construction = next((f for f in plan.fences if f.id == self._key(plan)), plan)
        met = set(own.herds or every)
        met = met | {self.herd} if self.meets else met - {self.herd}
        return self._rebuilt(plan, "Who meets this fence", herds=[key for key in every if key in met])


class AddConstruction(_OfConstruction):
    """A construction of its own, begun as the one shown, for a line if one is named."""

    do: Literal["add_construction"]
    run: str = ""

    def apply(self, plan: Plan) -> Done:
        """The plan with it."""
        key = fresh_id((f.id for f in plan.fences), "fence")
        own: Construction = next((f for f in plan.fences if f.id == self._key(plan)), plan)
        parts = own.model_dump(include=set(Construction.model_fields))
        row = {"id": key, "name": f"Fence {len(plan.fences) + 2}", **parts}
        runs = [replaced(r, fence=key) if r.id == self.run else r for r in plan.runs]
        return Done(
            changed(plan, {"fences": [*plan.fences, row], "runs": runs}), "Another way to build", f"fence:{key}"
        )


class RemoveConstruction(_OfConstruction):
    """A construction taken off; its lines are built as the others."""

    do: Literal["remove_construction"]

    def apply(self, plan: Plan) -> Done:
        """The plan without it."""
        runs = [replaced(r, fence=None) if r.fence == self.fence else r for r in plan.runs]
        fences = [f for f in plan.fences if f.id != self.fence]
        return Done(changed(plan, {"fences": fences, "runs": runs}), "Took a way of building off")


class BuildLines(_OfConstruction):
    """Lines built in a way."""

    do: Literal["build_lines"]
    runs: Annotated[tuple[str, ...], Field(min_length=1, max_length=1000)]

    def apply(self, plan: Plan) -> Done:
        """The plan with these lines built so."""
        key = self._key(plan)
        runs = [replaced(r, fence=key) if r.id in self.runs else r for r in plan.runs]
        return Done(changed(plan, {"runs": runs}), "How lines are built")
