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
    stock = ("The stock is elsewhere, behind a fence that was read today.",)
    yield Step("down:stock", "services", "Stock moved away", "", stock, 15, is_hold=True)
    off = (
        "Switch the unit off and take its fence lead off. Read 0 kV on the fence, with a tester that you tried first.",
    )
    yield Step("down:off", "services", "Off, and read", "", off, 10, ("down:stock",), is_hold=True)
    views, last = views_by_run(plan), []
    for run in reversed(plan.runs):
        view, metres = views[run.id], length_m(run)
        rows, long = len(fence_of(view)), format_length(metres, plan.units)
        hard = any(made.kind in ("wire", "coated", "barbed") for made in conductors_of(view))
        slack = ("Let the strainers off before you cut anything: a strained wire whips.",) if hard else ()
        lines = (
            *slack,
            "Wind up on a reel or a jenny without twisting, the lowest strand first, and tape the ends to the reel.",
            "Take insulators and gate sets off as you go.",
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
            "Draw them straight up; put bent and broken ones apart.",
            "Fill the holes and tread them: stock and tyres find them.",
        )
        key = f"down:{run.id}/posts"
        title, minutes = f"Draw the posts of {run.name}", posts * rates["pull_post"]
        yield Step(key, "posts", title, f"{posts}", lines, minutes, (wind,), run.id, run.points[0], most=4)
        last.append(key)
    earth = (
        "Draw or mark rods that will not be used again: leave none for the mower.",
        "Take the earth stake too.",
    )
    yield Step("down:earth", "earth", "Rods and leads", "", earth, max(10, plan.rods.count * 6), ("down:off",))
    signs = ("Take the signs off: one that warns of nothing teaches people not to read them.",)
    yield Step("down:signs", "signs", "Signs off", "", signs, 10, ("down:off",))
    unit = ("Take it to its next line, or store it dry in the shed with its battery charged.",)
    yield Step("down:unit", "lead", "Energizer to its next place", "", unit, 20, ("down:off",))
    done = (
        "Count every part into the shed (Parts, The shed) and throw worn ones away.",
        "Leave nothing conductive behind.",
    )
    before = (*last, "down:earth", "down:signs", "down:unit")
    yield Step("down:shed", "close", "Counted into the shed", "", done, 20, before, is_hold=True)
