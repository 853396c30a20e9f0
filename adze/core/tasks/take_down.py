"""Taking a fence down or moving it: off, wound up, drawn, counted into the shed."""

from collections.abc import Iterator, Mapping

from adze.core.basics.units import format_length
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.count import count_line
from adze.core.ground.lines import length_m
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.tasks.steps import Step


def taking_down(plan: Plan, rates: Mapping[str, float]) -> Iterator[Step]:
    """The steps, line by line from the far end; the unit is off and stock is away before the first."""
    stock = ("Stock is elsewhere, behind a fence that was read today.",)
    yield Step("down:stock", "services", "Stock moved away", "", stock, 15, is_hold=True)
    off = ("Off at the unit, its fence lead taken off; 0 kV read on the fence with a tester that was tried first.",)
    yield Step("down:off", "services", "Off, and read", "", off, 10, ("down:stock",), is_hold=True)
    views, last = views_by_run(plan), []
    for run in reversed(plan.runs):
        view, metres = views[run.id], length_m(run)
        rows, long = len(fence_of(view)), format_length(metres, plan.units)
        hard = any(made.kind in ("wire", "coated", "barbed") for made in conductors_of(view))
        slack = ("Strainers let off before anything is cut: a strained wire whips.",) if hard else ()
        lines = (
            *slack,
            "Wound on a reel or a jenny without twisting, lowest strand first; ends taped to the reel.",
            "Insulators and gate sets off as one goes.",
        )
        minutes = metres / 100 * rows * rates["wind_100m"]
        wind = f"down:{run.id}/wind"
        yield Step(
            wind, "strands", f"Wind up {run.name}", f"{rows} of {long}", lines, minutes, ("down:off",), run.id,
            run.points[-1], wear=("Gloves and goggles",), least=2 if hard else 1, most=2,
        )  # fmt: skip
        own = [f for f in view.fixtures if f.run == run.id]
        posts = count_line(view, run, own, view.post_spacing_m).line_posts
        lines = (
            "Drawn straight up; bent and broken ones apart.",
            "Holes filled and trodden: stock and tyres find them.",
        )
        key = f"down:{run.id}/posts"
        title, minutes = f"Draw the posts of {run.name}", posts * rates["pull_post"]
        yield Step(key, "posts", title, f"{posts}", lines, minutes, (wind,), run.id, run.points[0], most=4)
        last.append(key)
    earth = (
        "Rods that will not be used again are drawn or marked; none is left for the mower.",
        "The earth stake too.",
    )
    yield Step("down:earth", "earth", "Rods and leads", "", earth, max(10, plan.rods.count * 6), ("down:off",))
    signs = ("Signs off: one that warns of nothing teaches people not to read them.",)
    yield Step("down:signs", "signs", "Signs off", "", signs, 10, ("down:off",))
    unit = ("To its next line, or dry in the shed with its battery charged.",)
    yield Step("down:unit", "lead", "Energizer to its next place", "", unit, 20, ("down:off",))
    done = ("Every part counted into the shed (Parts, The shed); worn ones thrown away.", "Nothing conductive is left.")
    before = (*last, "down:earth", "down:signs", "down:unit")
    yield Step("down:shed", "close", "Counted into the shed", "", done, 20, before, is_hold=True)
