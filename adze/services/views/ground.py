"""What Ground shows: lines, zones and feed, blocks and moves."""

from dataclasses import asdict
from typing import Any

from adze.core.advice.beginnings import beginnings
from adze.core.ground.blocks import blocks, gates_of, strips, tank_sources
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m
from adze.core.ground.zones import zones
from adze.core.plan.document import Plan
from adze.core.plan.ground import stands_open
from adze.core.tables.animals import animal_kinds
from adze.core.tables.ground import fixture_kinds, landmark_kinds
from adze.formats.ground.ground_files import GROUND_FORMATS
from adze.services.answers.ground import area_words, letter, underlay_json
from adze.services.views.base import Pane, ViewRequest

USE_WORDS = {
    "fence": "Perimeter, branch",
    "cross": "Cross-fence",
    "spine": "Spine",
    "temporary": "Temporary line",
    "lane": "Side of a lane",
}


def ground_view(asked: ViewRequest) -> dict[str, Any]:
    """Everything that the panel names beside the verdict, and what one of its lists names."""
    plan, pane = asked.plan, asked.pane
    always = {
        "pane": pane.value,
        "landmark_kinds": landmark_kinds(),
        "underlay": underlay_json(plan),
        "ground_formats": tuple(GROUND_FORMATS.values()),
        "beginnings": () if plan.runs else tuple(beginnings().values()),
    }
    return always | pane_view(plan, pane)


def pane_view(plan: Plan, pane: Pane) -> dict[str, Any]:
    """Everything that one of the panel's lists names."""
    found = {Pane.LINES: _lines, Pane.FEED: _feed, Pane.BLOCKS: _blocks}.get(pane)
    return {"plan": plan, "units": plan.units} | (found(plan) if found else {})


def _lines(plan: Plan) -> dict[str, Any]:
    lengths = {run.id: length_m(run) for run in plan.runs}
    by_use: dict[str, float] = {}
    for run in plan.runs:
        by_use[run.use] = by_use.get(run.use, 0.0) + lengths[run.id]
    return {
        "lengths": lengths,
        "total_m": sum(lengths.values()),
        "by_use": by_use,
        "use_words": USE_WORDS,
        "names": {run.id: run.name for run in plan.runs},
        "lead": feed(plan),
        "open_ids": {f.id for f in plan.fixtures if stands_open(f)},
        "fixture_kinds": fixture_kinds(),
        "landmark_kinds": landmark_kinds(),
    }


def _feed(plan: Plan) -> dict[str, Any]:
    seen = zones(plan)
    names = {run.id: run.name for run in plan.runs}
    found: dict[str, Any] = {"lead": feed(plan), "names": names, "fixture_names": {f.id: f.name for f in plan.fixtures}}
    if seen is None:
        return found | {"hanging": (), "switches": [], "zones": []}
    among = [", ".join(dict.fromkeys(names[s.run] for s in z.stretches)) for z in seen.zones]
    return found | {
        "hanging": seen.hanging,
        "switches": [(s, seen.kills_m(s.id)) for s in seen.switches],
        "zones": [(letter(i), z, words) for i, (z, words) in enumerate(zip(seen.zones, among, strict=True))],
    }


def _blocks(plan: Plan) -> dict[str, Any]:
    found = blocks(plan)
    return {
        "blocks": found,
        "gates": [gates_of(plan, block.shape) for block in found],
        "tank": next(iter(tank_sources(plan)), None),
        "herds": {block.id: block.herds for block in plan.blocks},
        "kinds": animal_kinds(),
        "area_words": area_words,
        "moves": [(m, strips(plan, m)) for m in plan.moves],
    }


def signs_and_looks() -> dict[str, Any]:
    """Kinds of fixtures and landmarks as they are drawn: labels, the fixtures' signs, the look of lines and areas."""
    return {
        "fixture_kinds": {key: asdict(kind) for key, kind in fixture_kinds().items()},
        "landmark_kinds": {
            key: {"label": kind.label, "group": kind.group, "shape": kind.shape, "look": kind.look_parts}
            for key, kind in landmark_kinds().items()
        },
    }
