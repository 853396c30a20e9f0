"""The verdict on the animals: who must be met, whether a fence answers the loss, what they know of it."""

from collections.abc import Iterator
from datetime import date, timedelta

from adze.core.animals.strand_rules import WOOLLY_CM, Purpose
from adze.core.basics.status import Status
from adze.core.plan.document import Plan
from adze.core.plan.herds import Herd
from adze.core.plan.stages import Stage
from adze.core.plan.stock import (
    TRAINING_DAYS,
    TRAINING_TOUCHES,
    YEAR_DAYS,
    TrainingProgress,
    days_in_pen,
    fleece_cm,
    is_bold,
    is_schooled,
    progress,
    released_by,
)
from adze.core.tables.animals import AnimalKind, animal_kinds
from adze.core.verdict.findings import Finding, Verdict

LOSS_WORDS = {
    "": "nothing is lost yet",
    "straying": "stock stray",
    "ground_predator": "a fox, badger, dog or bear takes them",
    "bird": "a bird of prey or crow takes them",
    "both_predators": "both take them",
    "browsing": "deer, rabbits or hares eat the crop",
    "digging": "boar or badgers root it up",
}
_WANTED_KINDS = {
    "ground_predator": ("fox", "badger", "dog", "bear", "cat"),
    "both_predators": ("fox", "badger", "dog", "bear", "cat"),
    "browsing": ("deer", "rabbit", "hare"),
    "digging": ("boar", "badger"),
}
_STRONG_KV = 5.0


def judge_stock(plan: Plan) -> Verdict:
    """Who is held and kept out, and what that asks of the keeper."""
    if not plan.stock:
        return Verdict(Stage.STOCK, "none chosen", unknown="Choose the animals first: heights and kV follow from them.")
    kinds = [animal_kinds()[h.kind] for h in plan.stock]
    line = ", ".join(dict.fromkeys(k.plural for k in kinds))
    found = (*_loss(plan, kinds), *_training(plan), *_fleece(plan), *_bold(plan))
    return Verdict(Stage.STOCK, line, found, _cautions(plan, kinds))


def _loss(plan: Plan, kinds: list[AnimalKind]) -> Iterator[Finding]:
    """Whether a fence answers the loss at all, and whether the one who causes it is among the animals."""
    title = "Does a fence stop the loss"
    if plan.loss in ("bird", "both_predators"):
        yield Finding(
            Stage.STOCK,
            title,
            Status.FAILS if plan.loss == "bird" else Status.MARGINAL,
            "No fence stops a bird of prey or a crow: it comes from above. "
            + ("Strands would be money lost." if plan.loss == "bird" else "Strands answer half of the loss."),
            mend="House the young at night, net over small pens, or give cover; a fence for what comes on foot.",
        )
    wanted = _WANTED_KINDS.get(plan.loss, ())
    if wanted and not any(k.key in wanted for k in kinds):
        names = ", ".join(animal_kinds()[key].plural for key in wanted)
        yield Finding(
            Stage.STOCK,
            title,
            Status.MARGINAL,
            f"Nobody who causes it is among the animals ({names}): heights are not computed for them.",
            mend="Add the one whose tracks you find.",
        )
    if plan.loss == "straying" and not any(k.purpose == Purpose.HOLD for k in kinds):
        yield Finding(
            Stage.STOCK, title, Status.MARGINAL, "No animal is held in: add those that stray.", mend="Add the stock."
        )


def _training(plan: Plan) -> Iterator[Finding]:
    """Days in the pen and touches of every group that is learning."""
    for herd in plan.stock:
        log, kind = herd.training, animal_kinds()[herd.kind]
        if log is None or kind.purpose != Purpose.HOLD:
            continue
        state = progress(herd, plan.on_date)
        known = released_by(herd, plan.on_date) or plan.on_date
        days = f"{days_in_pen(herd, plan.on_date)} of {TRAINING_DAYS} days" if known else f"since {log.came}"
        wanted = TRAINING_TOUCHES * herd.count
        early = state is TrainingProgress.EARLY
        yield Finding(
            Stage.STOCK,
            f"{kind.label}: {state.value}",
            Status.MARGINAL if early else Status.HOLDS,
            f"In the pen {days}, {log.touches} touches seen of {wanted} ({TRAINING_TOUCHES} for each). "
            + (
                "They stop at a strand now: less kV is enough, but never none."
                if state is TrainingProgress.DONE
                else "Until they are trained they count as new: full power, no saver, no half terminal."
            ),
            figure=f"{log.touches}",
            limit=f"{wanted}",
            mend="Back into the pen for the days that are missing." if early else "",
        )


def _fleece(plan: Plan) -> Iterator[Finding]:
    """How long the fleece is on the day, and when it begins to insulate."""
    for herd in plan.stock:
        kind = animal_kinds()[herd.kind]
        if herd.sheared is None or kind.fleece_cm <= WOOLLY_CM:
            continue
        length = fleece_cm(kind, herd, plan.on_date)
        share = (WOOLLY_CM - kind.shorn_cm) / (kind.fleece_cm - kind.shorn_cm)
        thick = herd.sheared + timedelta(days=round(share * YEAR_DAYS))
        yield Finding(
            Stage.STOCK,
            f"{kind.label}: fleece",
            Status.HOLDS,
            f"{length:g} cm on the day; over {WOOLLY_CM} cm, where it begins to keep the pulse off, from {thick}. "
            "Half power may do before that day, full power after it.",
            figure=f"{length:g} cm",
            limit=f"{WOOLLY_CM} cm",
        )


def _bold(plan: Plan) -> Iterator[Finding]:
    for herd in plan.stock:
        if is_bold(herd) and herd.schooled:
            yield Finding(
                Stage.STOCK,
                f"{animal_kinds()[herd.kind].label}: bold",
                Status.HOLDS,
                "They know the fence and walk on all the same (entire males, in season, hungry, or with a reason): "
                "narrower gaps, a higher top and the kV of new ones.",
            )


def _cautions(plan: Plan, kinds: list[AnimalKind]) -> tuple[str, ...]:
    cautions = []
    new = [animal_kinds()[h.kind] for h in plan.stock if _is_new(h, plan.on_date)]
    if new:
        cautions.append(
            f"The {', '.join(k.plural for k in new)} do not know electric fence yet: a week in a small pen first, "
            "live strands about 15 cm inside a solid barrier, so that a startled animal backs off instead of bolting "
            "through."
        )
    if any(fleece_cm(animal_kinds()[h.kind], h, plan.on_date) > WOOLLY_CM for h in plan.stock):
        cautions.append("Fleece over 3 cm insulates: full power until shearing.")
    if any(k.key in ("hen", "goose") for k in kinds):
        cautions.append("Feathers insulate: netting holds poultry better than strands.")
    if any(k.wild and k.kv_new >= _STRONG_KV for k in kinds):
        cautions.append(
            "One hard jolt at the first nose is what keeps a wild animal away: the fence is hot before the crop or the "
            "young are worth coming for. Protected animals and nests: law and an experienced person first."
        )
    return tuple(cautions)


def _is_new(herd: Herd, on: date | None) -> bool:
    return animal_kinds()[herd.kind].purpose == Purpose.HOLD and not (is_schooled(herd, on) or herd.schooled)
