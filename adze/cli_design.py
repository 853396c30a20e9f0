"""Commands that change a plan by themselves: a whole fence from a brief, and everything mended that can be."""

import json
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from adze.console import PlanFile, print_json, read_text, refuse, write_text

if TYPE_CHECKING:
    from adze.core.design.designer import Proposal
    from adze.core.design.fixes import FindingAnswer

app = typer.Typer()
_NAMES = ("cheapest", "reserve", "least-work")
Output = Annotated[Path | None, typer.Option("-o", "--output", help="The plan file to write.")]


@app.command()
def design(
    file: Annotated[Path, typer.Argument(help="A brief: its form is printed by adze schema brief.")],
    output: Output = None,
    proposal: Annotated[str, typer.Option("--proposal", help="cheapest, reserve or least-work.")] = "cheapest",
    to: Annotated[str, typer.Option("--to", help="text or json.")] = "text",
) -> None:
    """Design a fence from a brief; exit code 1 where nothing on the list holds."""
    from adze.core.design.designer import design as designed
    from adze.formats.errors import FormatError
    from adze.formats.plan.brief_file import read_brief
    from adze.formats.plan.plan_file import dump_plan

    if proposal not in _NAMES:
        refuse(f"--proposal {proposal}: is not known; take {', '.join(_NAMES)}")
    if to not in ("text", "json"):
        refuse(f"--to {to}: is not known; take text or json")
    try:
        found = designed(read_brief(read_text(file)))
    except (FormatError, ValueError) as error:
        refuse(f"{file.name}: {error}")
    # Two proposals that are the same stand once, under the first of their names.
    taken = next((row for row in found if row.name == proposal), found[0])
    if output is not None:
        write_text(output, json.dumps(dump_plan(taken.plan), indent=1) + "\n")
    if to == "json":
        print_json({"taken": taken.name, "proposals": [_proposal_json(row) for row in found]})
    else:
        for row in found:
            _tell(row)
        if output is not None:
            typer.echo(f"adze: {taken.name} written to {output}")
    raise typer.Exit(0 if taken.holds else 1)


@app.command()
def mend(file: PlanFile, output: Output = None) -> None:
    """Do every fix that a plan file carries; exit code 1 when something still fails."""
    from adze.core.design.mend import mend_everything
    from adze.formats.errors import FormatError
    from adze.formats.plan.plan_file import dump_plan, read_plan

    try:
        found = mend_everything(read_plan(read_text(file)))
    except FormatError as error:
        refuse(f"{file.name}: {error}")
    for finding, fix in found.done:
        effect = f", {fix.effect}" if fix.effect else ""
        typer.echo(f"{finding.title}: {fix.title}{effect}, {fix.money:+,.2f}, {fix.hours:g} h")
    if not found.done:
        typer.echo("Nothing was changed.")
    for row in found.left:
        typer.echo(_left(row))
    if output is not None:
        write_text(output, json.dumps(dump_plan(found.plan), indent=1) + "\n")
        typer.echo(f"adze: written to {output}")
    raise typer.Exit(1 if found.fails else 0)


def _left(row: "FindingAnswer") -> str:
    status = "still fails" if row.finding.status.value == "fails" else f"is {row.finding.status.value}"
    return f"{row.finding.title} {status}: {row.why_none}"


def _tell(row: "Proposal") -> None:
    typer.echo(f"{row.name}: {row.cost:,.2f}, {row.hours:.0f} h, {row.margin:.1f} times what is wanted. {row.differs}")
    typer.echo(f"  {row.parts}; {row.made}")
    typer.echo(f"  {row.weakest}")
    for line in row.assumed:
        typer.echo(f"  Assumed: {line}")
    for left in row.left:
        typer.echo(f"  {_left(left)}")


def _proposal_json(row: "Proposal") -> dict[str, Any]:
    verdicts = row.judgement.verdicts
    return {
        "name": row.name,
        "holds": row.holds,
        "cost": round(row.cost, 2),
        "hours": round(row.hours, 1),
        "margin": round(row.margin, 3),
        "parts": row.parts,
        "made": row.made,
        "weakest": row.weakest,
        "differs": row.differs,
        "assumed": list(row.assumed),
        "stages": {stage.value: verdict.status.value for stage, verdict in verdicts.items()},
        "left": [_left(left) for left in row.left],
    }
