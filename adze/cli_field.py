"""Commands for the fence in the field: a search for faults, a made-up year of a monitor."""

import sys
from typing import TYPE_CHECKING, Annotated

import typer

from adze.console import CaseFile, PlanFile, print_json, read_text, refuse

if TYPE_CHECKING:
    from adze.core.ground.places import Place
    from adze.core.plan.document import Plan

app = typer.Typer()


@app.command()
def trace(
    file: CaseFile,
    pipe: Annotated[bool, typer.Option("--pipe", help="Ask by standard output, read answers from input.")] = False,
    case: Annotated[str, typer.Option("--case", help="Which case of the file, by its id; else the only one.")] = "",
    quick: Annotated[bool, typer.Option("--quick", help="End the closing round as soon as it pays.")] = False,
) -> None:
    """Search a farm for faults: over a pipe, or against the world that the case carries."""
    from adze.core.practice.play import PipeError, over_pipe, play
    from adze.core.practice.simulated_farm import simulated_farm
    from adze.core.pulse.network import NetworkError
    from adze.core.trace.search import begin
    from adze.formats.cases.trace_case import read_trace_cases
    from adze.formats.errors import FormatError

    try:
        found = [row for row in read_trace_cases(read_text(file)) if case in ("", row.id)]
        if len(found) != 1:
            refuse(f"{file}: holds {len(found)} such cases; name one by --case")
        search = begin(found[0].farm(), is_thorough=not quick)
        if pipe:
            play(search, over_pipe(sys.stdin, sys.stdout))
            return
        farm = simulated_farm(found[0].farm(), *found[0].hidden(), seed=1)
        _, end = play(search, farm.answer)
    except (FormatError, NetworkError, PipeError) as error:
        refuse(str(error))
    mended = len(found[0].hidden()[0]) - len(farm.left)
    print_json(
        {
            "case": found[0].id,
            "restored": farm.is_restored,
            "mended": mended,
            "left": len(farm.left),
            "minutes": round(farm.minutes, 1),
            "metres": round(farm.metres),
            "clear": round(end.clear, 3),
        }
    )


def _sensor_at(plan: "Plan", line: str, at_m: float) -> "Place":
    """Where a made-up device reads: at the beginning of the fence, or on a line by its name or id."""
    from adze.core.ground.lines import length_m
    from adze.core.ground.places import Place

    if not line:
        return Place(plan.runs[0].id, 0.0)
    run = next((run for run in plan.runs if line in (run.id, run.name)), None)
    if run is None:
        refuse(f"--line {line}: is not on the plan; one of {', '.join(run.name for run in plan.runs[:12])}")
    if not 0 <= at_m <= length_m(run):
        refuse(f"--at {at_m:g}: {run.name} is {length_m(run):.0f} m long")
    return Place(run.id, at_m)


@app.command()
def simulate(
    file: PlanFile,
    days: Annotated[int, typer.Option(help="How many days, up to now.")] = 365,
    seed: Annotated[int, typer.Option(help="Another number, another year.")] = 1,
    line: Annotated[str, typer.Option(help="A sensor on this line in the place of a monitor at the unit.")] = "",
    at_m: Annotated[float, typer.Option("--at", help="Metres along that line.")] = 0.0,
    to: Annotated[str, typer.Option(help="An application to send to, such as http://127.0.0.1:8000.")] = "",
    token: Annotated[str, typer.Option(help="The token of a device there.")] = "",
) -> None:
    """Print a made-up year of a monitor at a plan's unit or a sensor on a line as CSV, or send it as a device does."""
    from datetime import UTC, datetime

    from adze.core.plan.stages import Incomplete
    from adze.formats.errors import FormatError
    from adze.formats.plan.plan_file import read_plan
    from adze.standins.monitor import send, year

    if not 1 <= days <= 400:
        refuse(f"--days {days}: give 1 to 400")
    if bool(to) != bool(token):
        refuse("--to and --token go together: the address of the application, and the token of a device there")
    try:
        plan = read_plan(read_text(file))
        rows, hidden, cuts = year(plan, _sensor_at(plan, line, at_m), days, seed, datetime.now(UTC))
    except IndexError:
        refuse(f"{file}: no fence is drawn yet")
    except (FormatError, Incomplete) as error:
        refuse(str(error))
    if not to:
        typer.echo("at,kv")
        for row in rows:
            typer.echo(f"{row.at.isoformat()},{row.kv:.2f}")
        return
    try:
        told = send(rows, to, token)
    except OSError as error:
        refuse(f"{to}: does not take it ({error})")
    print_json(told | {"faults": len(hidden), "cuts": len(cuts)})
