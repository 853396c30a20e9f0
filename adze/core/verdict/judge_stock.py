"""The verdict on the animals: who must be met, whether a fence answers the loss, what they know of it."""

from collections.abc import Iterator
from datetime import date, timedelta

from adze.core.animals.strand_rules import WOOLLY_CM, Purpose, wanted_kv
from adze.core.basics.status import Status
from adze.core.basics.units import kv_words
from adze.core.build.construction import conductors_of
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.herds import Herd
from adze.core.plan.stages import Stage
from adze.core.plan.stock import (
    STEP_KV,
    TRAINING_DAYS,
    TRAINING_TOUCHES,
    YEAR_DAYS,
    TrainingProgress,
    animals_of_herd,
    days_in_pen,
    fleece_cm,
    is_bold,
    is_schooled,
    kv_steps,
    progress,
    released_by,
    touches_seen,
    untouched,
)
from adze.core.tables.animals import AnimalKind, animal_kinds
from adze.core.tables.services import SERVICE_LIVES
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
_CAUSED_AS = {"both_predators": "ground_predator"}  # of two kinds of predators a fence meets those on the ground
_STRONG_KV = 5.0
_HEAVY_KN = 0.5  # a line strained by more wants braced ends
_MOST_NAMED = 8


def judge_stock(plan: Plan) -> Verdict:
    """Who is held and kept out, and what that asks of the keeper."""
    if not plan.stock:
        return Verdict(Stage.STOCK, "none chosen", unknown="Choose the animals first: heights and kV follow from them.")
    kinds = [animal_kinds()[h.kind] for h in plan.stock]
    line = ", ".join(dict.fromkeys(k.plural for k in kinds))
    found = (
        *_loss(plan, kinds),
        *_training(plan),
        *_fleece(plan),
        *_more_kv(plan),
        *_trouble(plan),
        *_service(plan),
    )
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
            + ("Strands would be wasted money." if plan.loss == "bird" else "Strands stop half of the loss."),
            mend="House the young at night, net over small pens or give cover. A fence keeps out what comes on foot.",
        )
    loss = _CAUSED_AS.get(plan.loss, plan.loss)
    wanted = [kind for kind in animal_kinds().values() if loss in kind.causes.split()]
    if wanted and not any(kind in wanted for kind in kinds):
        names = ", ".join(kind.plural for kind in wanted)
        yield Finding(
            Stage.STOCK,
            title,
            Status.MARGINAL,
            f"None of the animals here ({names}) causes this loss: the heights are not computed for the one that does.",
            mend="Add the animal whose tracks you find.",
        )
    if plan.loss == "straying" and not any(k.purpose == Purpose.HOLD for k in kinds):
        yield Finding(Stage.STOCK, title, Status.MARGINAL, "No animal is held in.", mend="Add the animals that stray.")


def _training(plan: Plan) -> Iterator[Finding]:
    """Days in the pen and touches of every group that is learning."""
    for herd in plan.stock:
        log, kind = herd.training, animal_kinds()[herd.kind]
        if log is None or kind.purpose != Purpose.HOLD:
            continue
        state = progress(herd, plan.on_date)
        known = released_by(herd, plan.on_date) or plan.on_date
        days = f"{days_in_pen(herd, plan.on_date)} of {TRAINING_DAYS} days" if known else f"since {log.came}"
        wanted, seen, short = TRAINING_TOUCHES * herd.count, touches_seen(herd), untouched(herd)
        missing = f" Still to learn: {', '.join(short[:_MOST_NAMED])}." if log.animals and short else ""
        early = state is TrainingProgress.EARLY
        yield Finding(
            Stage.STOCK,
            f"{kind.label}: {state.value}",
            Status.MARGINAL if early else Status.HOLDS,
            f"In the pen {days}; {seen} of {wanted} touches seen ({TRAINING_TOUCHES} for each animal).{missing} "
            + (
                "They stop at a strand now. Less kV is enough, but never none."
                if state is TrainingProgress.DONE
                else "Until they are trained they count as new: use full power, no saver and no half terminal."
            ),
            figure=f"{seen}",
            limit=f"{wanted}",
            mend="Keep them in the pen for the missing days." if early else "",
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
            f"{length:g} cm on that day. Over {WOOLLY_CM} cm, from {thick}, fleece keeps the pulse off. Half power "
            "may do before that day, full power is needed after it.",
            figure=f"{length:g} cm",
            limit=f"{WOOLLY_CM} cm",
        )


def _more_kv(plan: Plan) -> Iterator[Finding]:
    """Who wants more than its kind, and why."""
    for herd in plan.stock:
        steps = kv_steps(herd)
        if not steps:
            continue
        animal = animals_of_herd(herd, plan.on_date)[0]
        knows = " They know the fence but push on, so they count as new ones." * (is_bold(herd) and herd.schooled)
        yield Finding(
            Stage.STOCK,
            f"{animal_kinds()[herd.kind].label}: {', '.join(steps)}",
            Status.HOLDS,
            f"It needs {STEP_KV * len(steps):g} kV more than its kind: an animal that is {' and '.join(steps)} "
            f"takes little notice of a light pulse.{knows}",
            figure=f"{kv_words(wanted_kv((animal,)))} kV",
        )


def _trouble(plan: Plan) -> Iterator[Finding]:
    """What the old fence suffers from, and whether the plan answers it."""
    if not plan.trouble:
        return
    words, answer = _TROUBLES[plan.trouble]
    old = [mark for mark in plan.landmarks if mark.kind == "old_fence"]
    rotten = [mark for mark in old if mark.condition in ("climbable", "keep")]
    offset = any(built.view.behind == "old_fence" for built in standing_fences(plan))
    if rotten:
        answer = "It is not sound enough to carry strands. Build a line of its own before it, or replace it."
    holds = offset and not rotten
    yield Finding(
        Stage.STOCK,
        "Trouble with the old fence",
        Status.HOLDS if holds else Status.MARGINAL,
        f"Stock {words}. Wood and mesh alone wear out under it; a live strand keeps the animals off."
        + ("" if old else " No existing fence is drawn yet.")
        + (" The plan has strands on its brackets." if holds else ""),
        mend="" if holds else answer,
    )


_TROUBLES = {
    "rubbing": (
        "rub on it",
        "Put a live strand on brackets 25 cm in front of it, at two thirds of the shoulder height.",
    ),
    "leaning": (
        "Put a live strand on brackets over its top, and an offset strand at chest height.",
        "A live strand on brackets over its top, and an offset strand where chests meet it.",
    ),
    "fighting": (
        "fight through it",
        "Build two lines at least 2 m apart, or put offset strands on both sides at head height.",
    ),
    "browsing": (
        "Put a live offset strand at nose height, on the stock's side.",
        "A live offset strand at the height of the nose, on the stock's side.",
    ),
}


def _service(plan: Plan) -> Iterator[Finding]:
    """Whether what the fence is made of lasts as long as it is to stand."""
    if not plan.service:
        return
    life = SERVICE_LIVES[plan.service]
    weakest = min(
        (made for built in standing_fences(plan) for made in conductors_of(built.view)), key=lambda c: c.life_years
    )
    light = any(built.view.post == "plastic" for built in standing_fences(plan)) and plan.service == "years"
    heavy = plan.service == "strip" and weakest.tension_kn > _HEAVY_KN
    if weakest.life_years < life.least_years or light:
        what = f"{weakest.label} lasts some {weakest.life_years:g} years" if not light else "Light posts lean and break"
        status, mend = Status.MARGINAL, f"Use the usual parts for it: {life.words}."
    else:
        what = f"{weakest.label} lasts some {weakest.life_years:g} years in the open"
        status, mend = Status.HOLDS, ""
        if heavy:
            what += "; its heavy strained ends are too much work for a line that moves"
    yield Finding(
        Stage.STOCK,
        "How long it is to stand",
        status,
        f"It must last {life.label}. {what}.",
        figure=f"{weakest.life_years:g} years",
        limit=f"{life.least_years:g} years",
        mend=mend,
    )


def _cautions(plan: Plan, kinds: list[AnimalKind]) -> tuple[str, ...]:
    cautions = []
    new = [animal_kinds()[h.kind] for h in plan.stock if _is_new(h, plan.on_date)]
    if new:
        cautions.append(
            f"The {', '.join(k.plural for k in new)} do not know electric fence yet. Keep them in a small pen for a "
            "week first, with live strands about 15 cm inside a solid barrier. A startled animal then backs off "
            "instead of bolting through."
        )
    if any(fleece_cm(animal_kinds()[h.kind], h, plan.on_date) > WOOLLY_CM for h in plan.stock):
        cautions.append("Fleece over 3 cm insulates: full power until shearing.")
    if any(k.touch_class == "bird" for k in kinds):
        cautions.append("Feathers insulate: netting holds poultry better than strands.")
    if any(k.wild and k.kv_new >= _STRONG_KV for k in kinds):
        cautions.append(
            "One hard shock at the first touch keeps a wild animal away: switch the fence on before the crop or the "
            "young attract it. For protected animals and nests ask the authorities and an experienced person first."
        )
    if any(k.purpose == Purpose.HOLD for k in kinds):
        cautions.append(
            "The keeper answers for stock that gets out; no fence changes that. Strands hold trained animals. On a "
            "solid fence keep one live strand, or they start rubbing again."
        )
    if any(k.prey for k in kinds) and any(k.purpose == Purpose.OUT for k in kinds):
        cautions.append("A fence protects by day and only delays by night: shut young and small animals in at dusk.")
    if any(k.wild for k in kinds):
        cautions.append(
            "A fence that turns a wild animal back spares it: it need not be trapped, moved or shot, and it learns "
            "to stay away."
        )
    return tuple(cautions)


def _is_new(herd: Herd, on: date | None) -> bool:
    return animal_kinds()[herd.kind].purpose == Purpose.HOLD and not (is_schooled(herd, on) or herd.schooled)
