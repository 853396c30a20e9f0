"""Steps two and three of a design: what the fence is made of, and the ground and animals that it meets."""

from dataclasses import dataclass
from typing import Any

from adze.core.build.materials import farthest_m
from adze.core.design.brief import Brief, wants_netting
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import post_kinds

_SOILS = {
    ("crumbles", "moist"): "sandy_loam", ("crumbles", "dries"): "moist_sand", ("crumbles", "dust"): "dry_sand",
    ("ball", "moist"): "loam", ("ball", "dries"): "loam", ("ball", "dust"): "sandy_loam",
    ("ribbon", "moist"): "wet_clay", ("ribbon", "dries"): "clay_loam", ("ribbon", "dust"): "clay_loam",
    ("stones", "moist"): "moist_sand", ("stones", "dries"): "dry_sand", ("stones", "dust"): "gravel",
}  # fmt: skip
_GRASS = {"bare": "none", "grazed": "light", "tall": "heavy"}


@dataclass(frozen=True)
class Materials:
    """One way to make a fence: its words, conductor, posts, netting; `top` is what the top strand is made of."""

    words: str
    conductor: str
    post: str
    netting: str | None = None
    top: str | None = None


def ways_to_make(brief: Brief) -> tuple[Materials, ...]:
    """What the fence may be made of, the cheapest for its life first."""
    life = brief.life or "decades"
    if any(wants_netting(animal) for animal in brief.animals):
        return (Materials("poultry netting", "poly_steel_9", "plastic", netting="poultry_105"),)
    kinds = [animal_kinds()[animal.kind] for animal in brief.animals]
    if any(kind.touch_class == "horse" for kind in kinds):
        tapes = (Materials("tape", "tape_40", "plastic"), Materials("tape", "tape_40", "fibreglass"))
        return {"weeks": tapes[:1], "seasons": tapes}.get(life) or (
            Materials("steel wire with a tape on top", "steel_25", "timber", top="tape_40"),
            Materials("tape on every row", "tape_40", "timber"),
        )
    if life == "weeks":
        light = Materials("polywire on light posts", "poly_steel_9", "plastic")
        sheep = all(kind.touch_class == "sheep" for kind in kinds)
        return (light, Materials("sheep netting", "poly_steel_9", "plastic", netting="sheep_90")) if sheep else (light,)
    if life == "seasons":
        return (
            Materials("polywire on light posts", "poly_mixed", "plastic"),
            Materials("polywire on fibreglass posts", "poly_mixed", "fibreglass"),
        )
    return (
        Materials("steel wire on steel posts", "steel_25", "steel_t"),
        Materials("steel wire on posts that need no insulators", "steel_25", "fibreglass"),
    )


def on_its_ground(plan: Plan, brief: Brief) -> Plan:
    """The plan with the brief's animals, soil, growth and supply."""
    soil = brief.soil
    update: dict[str, Any] = {
        "stock": [herd.model_dump() for herd in brief.herds],
        "soil": _SOILS[soil.feel or "ball", soil.dryness or "dries"],
        "grass": _GRASS[brief.growth or "grazed"],
        "loss": _loss(brief),
    }
    if soil.rock_m is not None:
        update["subsoil"] = {"soil": "gravel", "depth_m": soil.rock_m}
    if brief.supply and brief.supply.own:
        update |= {"own_energizers": [brief.supply.own.model_dump()], "energizer": brief.supply.own.key}
    return changed(plan, update)


def _loss(brief: Brief) -> str:
    """What the wild animals among them cause, where they all cause the same."""
    kinds = [animal_kinds()[animal.kind] for animal in brief.animals]
    shared = [set(kind.causes.split()) for kind in kinds if kind.wild and kind.causes]
    common = set.intersection(*shared) if shared else set()
    return min(common, default="")


def made_of(plan: Plan, made: Materials) -> Plan:
    """The plan built of these; the strands are left to the rules."""
    return changed(
        plan,
        {
            "conductor": made.conductor,
            "post": made.post,
            "post_spacing_m": _spacing_m(plan, made),
            "netting": made.netting,
            "strands": [],
        },
    )


def _spacing_m(plan: Plan, made: Materials) -> float:
    usual = post_kinds()[made.post].spacing_m
    probe = changed(plan, {"conductor": made.top or made.conductor, "post": made.post, "netting": made.netting})
    return min(usual, farthest_m(probe))
