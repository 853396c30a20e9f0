"""The command line: serving, the database, cases, plans, designs, files."""

import contextlib
import json
import os
import sys
import time
from pathlib import Path
from typing import Annotated

import typer

from adze import cli_design, cli_field
from adze.console import CaseFile, PlanFile, print_json, read_bytes, read_text, refuse, write_bytes, write_text

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False)
app.add_typer(cli_field.app)
app.add_typer(cli_design.app)
_DATABASE = "adze"
_LONGEST_ALONE_S = 15.0  # that a worker outlives the application whose own it is


@app.command()
def solve(file: CaseFile) -> None:
    """Solve a case file and print the asked quantities as JSON."""
    from adze.formats.cases.case_file import read_cases
    from adze.formats.errors import FormatError
    from adze.services.answers.cases import answer_case

    try:
        rows = []
        for case in read_cases(read_text(file)):
            start = time.perf_counter()
            values = answer_case(case)
            rows.append({"id": case.id, "values": values, "solve_ms": round((time.perf_counter() - start) * 1e3, 3)})
    except FormatError as error:
        refuse(str(error))
    print_json({"cases": rows})


@app.command()
def parts(
    file: PlanFile,
    to: Annotated[str, typer.Option(help="json, csv or xlsx")] = "json",
    out: Annotated[Path | None, typer.Option("-o", help="A file; else it is printed.")] = None,
) -> None:
    """Print the parts list of a plan file, or write it."""
    from adze.core.build.parts import bill
    from adze.formats.errors import FormatError
    from adze.formats.parts.parts_list import parts_csv, parts_json
    from adze.formats.parts.parts_workbook import parts_workbook
    from adze.formats.plan.plan_file import read_plan

    if to not in ("json", "csv", "xlsx"):
        refuse(f"--to {to}: is not known; take json, csv or xlsx")
    if to == "xlsx" and out is None:
        refuse("--to xlsx: is no text to print; give a file by -o")
    try:
        plan = read_plan(read_text(file))
    except FormatError as error:
        refuse(str(error))
    if to == "xlsx" and out is not None:
        write_bytes(out, parts_workbook(plan))
        return
    text = parts_json(plan) if to == "json" else parts_csv(bill(plan))
    if out is None:
        typer.echo(text.rstrip("\n"))
    else:
        write_text(out, text)


@app.command()
def build(
    file: PlanFile,
    people: Annotated[int, typer.Option(help="How many people.")] = 2,
    day: Annotated[str, typer.Option(help="The first day, such as 2027-05-12.")] = "",
    hours: Annotated[float, typer.Option(help="Hours of a day.")] = 8.0,
    to: Annotated[str, typer.Option(help="json or ics")] = "json",
    out: Annotated[Path | None, typer.Option("-o", help="A file; else it is printed.")] = None,
) -> None:
    """Print the job plan of a plan file: steps with who and when, or its days as a calendar."""
    from datetime import date

    from adze.core.plan.stages import Incomplete
    from adze.core.tasks.schedule import CrewError
    from adze.formats.errors import FormatError
    from adze.formats.plan.plan_file import read_plan
    from adze.formats.work.work_plan import work_plan_ics, work_plan_json

    if to not in ("json", "ics"):
        refuse(f"--to {to}: is not known; take json or ics")
    try:
        on = date.fromisoformat(day) if day else date.today()
    except ValueError:
        refuse(f"--day {day}: is not a date such as 2027-05-12")
    try:
        plan = read_plan(read_text(file))
        make = work_plan_json if to == "json" else work_plan_ics
        text = make(plan, people, on, hours)
    except (FormatError, CrewError, Incomplete) as error:
        refuse(str(error))
    if out is None:
        typer.echo(text.rstrip("\n"))
    else:
        write_text(out, text)


@app.command()
def check(file: PlanFile) -> None:
    """Print the verdict of a plan file as JSON; exit code 1 when the plan fails."""
    from adze.formats.errors import FormatError
    from adze.formats.plan.plan_file import read_plan
    from adze.services.answers.design import verdict_json

    try:
        verdict = verdict_json(read_plan(read_text(file)))
    except FormatError as error:
        refuse(f"{file.name}: {error}")
    print_json(verdict)
    raise typer.Exit(1 if verdict["status"] == "fails" else 0)


@app.command()
def schema(of: Annotated[str, typer.Argument(help="plan, brief or search-event")] = "plan") -> None:
    """Print the JSON Schema of plan files, of briefs, or of what is done in a search."""
    from adze.formats.plan.brief_file import brief_schema
    from adze.formats.plan.plan_file import plan_schema
    from adze.services.trace.events import event_schema

    schemas = {"plan": plan_schema, "brief": brief_schema, "search-event": event_schema}
    if of not in schemas:
        refuse(f"schema {of}: is not known; take {' or '.join(schemas)}")
    print_json(schemas[of]())


@app.command("import")
def import_ground(
    file: Annotated[Path, typer.Argument(help="GeoJSON, GPX, KML or CSV of corners.")],
    output: Annotated[Path, typer.Option("-o", "--output", help="The plan file to write.")],
    thin: Annotated[float, typer.Option("--thin", help="Take points off that lie within so many metres.")] = 0.0,
    swap: Annotated[bool, typer.Option("--swap", help="Change latitude and longitude over.")] = False,
) -> None:
    """Make a plan file from a file of lines; every point is kept unless --thin is given."""
    from adze.formats.errors import FormatError
    from adze.formats.ground.imported import Swapped
    from adze.formats.plan.plan_file import dump_plan
    from adze.services.transfer.ground_import import plan_from_file

    if not 0 <= thin <= 1000:
        refuse(f"--thin {thin:g}: must be 0 to 1000 metres")
    try:
        plan, notes = plan_from_file(read_bytes(file), file.stem, thin_m=thin, swap=swap)
    except FormatError as error:
        refuse(f"{file.name}: {error}" + ("; give --swap" if isinstance(error, Swapped) else ""))
    write_text(output, json.dumps(dump_plan(plan), indent=1) + "\n")
    for note in notes:
        typer.echo(f"adze: {note}")
    points = sum(len(run.points) for run in plan.runs)
    typer.echo(
        f"adze: {len(plan.runs)} lines with {points} points, {len(plan.fixtures)} fixtures, "
        f"{len(plan.landmarks)} landmarks written to {output}"
    )


@app.command()
def export(
    file: PlanFile,
    to: Annotated[str, typer.Option("--to", help="geojson, gpx, kml or csv.")],
    output: Annotated[Path, typer.Option("-o", "--output", help="The file to write.")],
) -> None:
    """Write a plan file's ground as GeoJSON, GPX, KML or CSV."""
    from adze.formats.errors import FormatError
    from adze.formats.ground.ground_files import write_ground
    from adze.formats.plan.plan_file import read_plan

    try:
        content = write_ground(read_plan(read_text(file)), to)
    except FormatError as error:
        refuse(f"{file.name}: {error}")
    write_text(output, content)


def _database_url() -> str:
    from adze.settings import get_settings

    return str(get_settings().database_url)


@app.command("prepare-database")
def prepare_database() -> None:
    """Make and migrate the database; prints the address that the application uses.

    On a server's own database (…/postgres) it makes the database adze and, where ADZE_ROLE_PASSWORD is given, a role
    that owns it and is no superuser.
    """
    from adze.store.connection import ensure_database, migrate
    from adze.store.roles import ensure_role

    url, password = _database_url(), os.environ.get("ADZE_ROLE_PASSWORD", "")
    if url.endswith("/postgres"):
        url = ensure_database(url, _DATABASE)
        url = ensure_role(url, password) if password else url
    applied = migrate(url)
    if applied:
        typer.echo(f"adze: {applied} change{'s' * (applied > 1)} of the database made", err=True)
    typer.echo(url)


@app.command()
def serve() -> None:
    """Serve the application."""
    import uvicorn

    from adze.settings import get_settings
    from adze.web.app import create_app
    from adze.web.header_timeout import PromptProtocol
    from adze.web.request_log import set_up_log

    settings = get_settings()
    set_up_log(settings.log)
    typer.echo(f"adze: open http://{settings.host}:{settings.port} (Ctrl+C stops it)")
    uvicorn.run(
        create_app(settings),
        http=PromptProtocol,
        log_config=None,
        host=settings.host,
        port=settings.port,
        log_level="warning",
        access_log=False,
        forwarded_allow_ips=settings.trusted_proxies,
        timeout_graceful_shutdown=10,
        timeout_keep_alive=20,
    )


@app.command()
def worker(
    with_parent: Annotated[
        bool, typer.Option("--with-parent", help="End when standard input closes, as the application's own does.")
    ] = False,
) -> None:
    """Take jobs from the queue, on this or another machine, until it is stopped."""
    import asyncio
    import signal
    import threading

    from adze.services.jobs.mails import sender
    from adze.services.jobs.pushes import deliverer
    from adze.services.worker import Duties, work
    from adze.settings import get_settings
    from adze.store.connection import Store

    async def until_stopped() -> None:
        task = asyncio.ensure_future(work(duties))
        loop = asyncio.get_running_loop()
        for number in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(number, task.cancel)

        def parent_gone() -> None:
            if os.read(0, 64):
                return
            loop.remove_reader(sys.stdin)  # at its end it is ready for ever
            task.cancel()
            # A job that waits for a database that is gone too must not keep the process.
            last = threading.Timer(_LONGEST_ALONE_S, os._exit, (1,))
            last.daemon = True
            last.start()

        if with_parent:
            loop.add_reader(sys.stdin, parent_gone)
        with contextlib.suppress(asyncio.CancelledError):
            await task

    settings = get_settings()
    store = Store(_database_url(), size=3)
    duties = Duties(
        _database_url(),
        store.begin_transaction,
        sender(settings.smtp_url, settings.mail_from),
        deliverer(settings.mail_from),
        settings.backup_folder,
        settings.weather_url,
    )
    try:
        typer.echo("adze: taking jobs (Ctrl+C stops it)")
        asyncio.run(until_stopped())
    finally:
        store.close()


@app.command()
def mails(most: Annotated[int, typer.Option("--most", help="How many, newest first.")] = 10) -> None:
    """Print the mails that no mail server has taken: how links reach people while none is set."""
    from adze.store.connection import Store
    from adze.store.messages.mails import list_mails

    store = Store(_database_url(), size=1)
    try:
        with store.begin_transaction() as connection:
            for mail in list_mails(connection, most=most):
                typer.echo(f"{mail.made_at:%Y-%m-%d %H:%M} to {mail.to_mail}: {mail.subject}\n{mail.body}")
    finally:
        store.close()


@app.command()
def backup(file: Annotated[Path, typer.Argument(help="Where to write the backup.")]) -> None:
    """Write the whole database to a file, pictures included."""
    from adze.store.backup import BackupError
    from adze.store.backup import backup as write_backup

    try:
        manifest = write_backup(_database_url(), file)
    except BackupError as error:
        refuse(str(error))
    rows = sum(count for count, _ in manifest["tables"].values())
    typer.echo(f"adze: {rows:,} rows of {len(manifest['tables'])} tables in {file}")


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="A file of adze backup.")]) -> None:
    """Read a backup into an empty database, verified row by row; then bring it to this version."""
    from adze.store.backup import BackupError
    from adze.store.backup import restore as read_backup
    from adze.store.connection import known_migrations, migrate

    try:
        manifest = read_backup(_database_url(), file, known_migrations())
    except BackupError as error:
        refuse(str(error))
    rows = sum(count for count, _ in manifest["tables"].values())
    applied = migrate(_database_url())
    typer.echo(f"adze: {rows:,} rows restored and verified, {applied} changes of the database made since")


if __name__ == "__main__":
    app()
