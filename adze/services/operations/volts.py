"""Operations on what leaks: growth on stretches, mishaps tried, calibration, remedies."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, FiniteFloat

from adze.core.advice.plan_changes import apply_remedy, read_remedy
from adze.core.ground.edit import fresh_id
from adze.core.ground.lines import length_m, run_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.earth import Calibration
from adze.core.plan.ground import MishapKey
from adze.core.plan.scalars import LengthM
from adze.core.tables.ground import mishap_kinds
from adze.services.answers.design import title_of
from adze.services.operations.base import Done, Operation

AROUND_M = 50.0  # growth to both sides of where one stands, until its ends are typed


class GrowthStretch(BaseModel):
    """A part of a run."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    run: str
    from_m: FiniteFloat
    to_m: FiniteFloat


class AddGrowth(Operation):
    """Growth along the line where one stands, between ends as typed."""

    do: Literal["add_growth"]
    run: str
    at_m: FiniteFloat
    grass: str
    from_m: LengthM | None = None
    to_m: LengthM | None = None

    def apply(self, plan: Plan) -> Done:
        """The plan with the growth on a stretch."""
        size = length_m(run_of(plan, self.run))
        low = round(max(0.0, self.at_m - AROUND_M), 1) if self.from_m is None else self.from_m
        high = round(min(size, self.at_m + AROUND_M), 1) if self.to_m is None else self.to_m
        row = {"run": self.run, "from_m": low, "to_m": high, "grass": self.grass}
        return Done(_with_growth(plan, [row]), "Growth on a stretch")


class Grow(Operation):
    """Growth drawn on stretches; it takes the place of what it covers."""

    do: Literal["grow"]
    grass: str
    stretches: Annotated[tuple[GrowthStretch, ...], Field(max_length=60)]

    def apply(self, plan: Plan) -> Done:
        """The plan with the growth."""

        def covered(run: str, low: float, high: float) -> bool:
            return any(s.run == run and s.from_m <= low and s.to_m >= high for s in self.stretches)

        kept = [g for g in plan.growths if not covered(g.run, g.from_m, g.to_m)]
        bare = changed(plan, {"growths": kept})
        rows: list[dict[str, object]] = [s.model_dump() | {"grass": self.grass} for s in self.stretches]
        return Done(_with_growth(bare, rows), "Growth on a stretch")


def _with_growth(plan: Plan, rows: list[dict[str, object]]) -> Plan:
    taken = {g.id for g in plan.growths}
    made = []
    for row in rows:
        key = fresh_id(taken, "growth")
        taken.add(key)
        made.append({"id": key, **row})
    return changed(plan, {"growths": [*plan.growths, *made]})


class TakeGrowthOff(Operation):
    """A stretch of growth less."""

    do: Literal["take_growth_off"]
    growth: str

    def apply(self, plan: Plan) -> Done:
        """The plan without it."""
        return Done(changed(plan, {"growths": [g for g in plan.growths if g.id != self.growth]}), "Took growth off")


class TryMishap(Operation):
    """Something gone wrong, tried."""

    do: Literal["try_mishap"]
    kind: MishapKey
    run: str
    at_m: FiniteFloat
    strand: int | None = None

    def apply(self, plan: Plan) -> Done:
        """The plan with it."""
        key = fresh_id((w.id for w in plan.what_ifs), "if")
        row = {"id": key, "kind": self.kind, "run": self.run, "at_m": round(self.at_m, 2), "strand": self.strand}
        made = changed(plan, {"what_ifs": [*plan.what_ifs, row]})
        return Done(made, f"What if: {mishap_kinds()[self.kind].label}")


class MendMishaps(Operation):
    """What was tried mended: one of it, or all."""

    do: Literal["mend_mishaps"]
    mishap: str = ""

    def apply(self, plan: Plan) -> Done:
        """The plan without it."""
        left = [w for w in plan.what_ifs if self.mishap and w.id != self.mishap]
        return Done(changed(plan, {"what_ifs": left}), "Undid the trial faults")


class Calibrate(Operation):
    """Soil and growth as the readings teach; nothing named: by the tables."""

    do: Literal["calibrate"]
    calibration: Calibration | None = None

    def apply(self, plan: Plan) -> Done:
        """The plan so adjusted."""
        words = "Adjusted to the readings" if self.calibration else "Soil and growth by the tables"
        return Done(changed(plan, {"calibration": (self.calibration or Calibration()).model_dump()}), words)


class DoRemedy(Operation):
    """A computed remedy, or a mend of the ground, by its key."""

    do: Literal["do_remedy"]
    key: Annotated[str, Field(max_length=6000)]

    def apply(self, plan: Plan) -> Done:
        """The plan with it done."""
        made = apply_remedy(plan, self.key)
        step, *more = read_remedy(self.key)
        if isinstance(step, tuple) and not more:
            return Done(made, f"Mend: {step[0].words}")
        if len(more) > 1:
            return Done(made, f"Mend: {len(more) + 1} changes")
        return Done(made, f"Mend: {title_of(plan, self.key) or 'a change of the plan'}")
