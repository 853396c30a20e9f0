"""What stands otherwise than drawn: noted figure by figure, and what it does to the fence."""

from dataclasses import dataclass

from pydantic import ValidationError

from adze.core.basics.cache import cached
from adze.core.basics.faults import FieldFault
from adze.core.basics.status import Status, rank
from adze.core.basics.units import kv_words
from adze.core.forecast.volts import Volts
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.core.tables.animals import animal_word
from adze.core.tasks.as_built import BuiltFigure, as_built, built_figures
from adze.core.verdict.compare import Option, option
from adze.core.verdict.judge import Judgement
from adze.formats.errors import first_fault
from adze.services.answers.forecasts import judgement_of
from adze.services.build.work import BadWork
from adze.services.plans.plans import OpenPlan
from adze.store.build import work
from adze.store.build.work import NotedFigure
from adze.store.connection import BeginTransaction

_LONGEST = 200


@dataclass(frozen=True)
class BuiltRow:
    """A figure with what was noted of it; None: it stands as drawn."""

    figure: BuiltFigure
    noted: NotedFigure | None


@dataclass(frozen=True)
class BuiltView:
    """The figures of a plan, whether what stands differs, and what that does: least kV to soil, drawn and there.

    `felt` is the weakest touch then and as drawn; `worse` holds titles of what was judged better as drawn, each with
    its figure; `fault` says what no longer fits.
    """

    rows: tuple[BuiltRow, ...]
    differs: bool
    felt: str = ""
    kv: tuple[tuple[str, str, str], ...] = ()
    worse: tuple[str, ...] = ()
    fault: str = ""

    @property
    def noted(self) -> dict[str, str]:
        """The noted figures by key."""
        return {row.figure.key: row.noted.figure for row in self.rows if row.noted}


def built_view(begin_transaction: BeginTransaction, opened: OpenPlan) -> BuiltView:
    """What was noted of a plan, and the fence judged as it stands."""
    with begin_transaction() as connection:
        noted = {row.key: row for row in work.list_as_built(connection, plan_id=opened.id)}
    plan = opened.plan
    rows = tuple(BuiltRow(figure, noted.get(figure.key)) for figure in built_figures(plan))
    try:
        standing = _standing(plan, tuple((key, row.figure) for key, row in noted.items()))
    except FieldFault as error:
        return BuiltView(rows, differs=False, fault=f"A figure noted earlier no longer fits the plan: {error}")
    except ValidationError as error:
        why = first_fault(error)
        return BuiltView(rows, differs=False, fault=f"The figures noted earlier no longer fit the plan: {why}.")
    if standing == plan:
        return BuiltView(rows, differs=False)
    return BuiltView(rows, True, *_judged(plan, standing))


@cached("plans as built", 16, identity_args=1)
def _standing(plan: Plan, noted: tuple[tuple[str, str], ...]) -> Plan:
    """The plan as it stands: one object for the same figures, so that it is judged once. Raises as `as_built` does."""
    return as_built(plan, dict(noted))


def _judged(plan: Plan, standing: Plan) -> tuple[str, tuple[tuple[str, str, str], ...], tuple[str, ...]]:
    try:
        drawn, stands = judgement_of(plan), judgement_of(standing)
    except Incomplete:
        return "", (), ()
    kv = tuple(
        (season.value, kv_words(_least_to_soil(drawn.volts[season])), kv_words(_least_to_soil(stands.volts[season])))
        for season in Season
        if season in drawn.volts and season in stands.volts
    )
    return _felt(option(plan, drawn), option(standing, stands)), kv, tuple(_worse(drawn, stands))


def _least_to_soil(forecast: Volts) -> float:
    """What a tester held to soil shows at the least where the fence is fed, kV."""
    fed = [trace.live_kv[trace.fed] for trace in forecast.traces if trace.fed.any()]
    return float(min((kv.min() for kv in fed), default=0.0))


def _felt(drawn: Option, stands: Option) -> str:
    """The weakest touch as it stands, beside the weakest as drawn."""
    now, was = stands.touch, drawn.touch
    if now is None or was is None or stands.touch_season is None:
        return ""
    words = f"the {animal_word(now.animal.kind)} feels {kv_words(now.body_kv)} kV in the {stands.touch_season} week"
    return f"{words}, {kv_words(now.wanted_kv)} are wanted; {kv_words(was.body_kv)} as drawn"


def _worse(drawn: Judgement, stands: Judgement) -> list[str]:
    """What is judged worse as it stands than as it was drawn."""
    before = {(stage, f.title): f.status for stage, v in drawn.verdicts.items() for f in v.findings}
    found = []
    for stage, verdict in stands.verdicts.items():
        for one in verdict.findings:
            was = before.get((stage, one.title), Status.HOLDS)
            if rank(one.status) > rank(was) and one.status in (Status.FAILS, Status.MARGINAL):
                found.append(f"{one.title}, {one.figure}".rstrip(", "))
    return list(dict.fromkeys(found))


def note_figure(begin_transaction: BeginTransaction, opened: OpenPlan, key: str, text: str, *, noted_by: int) -> None:
    """Keep a figure as it stands; nothing typed: as drawn. Raises BadWork in words, naming the field and the limit."""
    figure = next((one for one in built_figures(opened.plan) if one.key == key), None)
    if figure is None:
        raise BadWork("The plan was changed meanwhile and no longer has that figure. Check the list as it is now.")
    text = text.strip()
    if len(text) > _LONGEST:
        raise BadWork(f"{figure.label}: at most {_LONGEST} characters.")
    if text:
        try:
            if as_built(opened.plan, {key: text}) == opened.plan:
                text = ""  # it stands as drawn
        except FieldFault as error:
            raise BadWork(str(error)) from None
        except ValidationError as error:
            raise BadWork(f"{figure.label}: {first_fault(error)}.") from None
    with begin_transaction() as connection:
        work.note_as_built(connection, plan_id=opened.id, key=key, figure=text, noted_by=noted_by)
