"""The command line: serve, prepare-database, solve, check, schema."""

import json
import sys
import time
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False)
_LARGEST_FILE = 20_000_000
_DATABASE = "adze"

CaseFile = Annotated[Path, typer.Argument(help="A case file: one case, or an object with cases.")]
PlanFile = Annotated[Path, typer.Argument(help="A plan file.")]


def _refuse(message: str) -> NoReturn:
    typer.echo(" ".join(message.split()), err=True)
    raise typer.Exit(2)


def _read(path: Path) -> str:
    try:
        if path.stat().st_size > _LARGEST_FILE:
            _refuse(f"{path}: larger than {_LARGEST_FILE // 1_000_000} MB")
        return path.read_text(encoding="utf-8")
    except OSError as error:
        _refuse(f"{path}: cannot be read ({error.strerror})")
    except UnicodeDecodeError:
        _refuse(f"{path}: is not text in UTF-8")


def _print(content: Any) -> None:
    # NaN is not JSON: better no answer than one that other programs refuse.
    json.dump(content, sys.stdout, indent=1, allow_nan=False)
    sys.stdout.write("\n")


@app.command()
def solve(file: CaseFile) -> None:
    """Solve a case file and print the asked quantities as JSON."""
    from adze.formats.case_file import read_cases
    from adze.formats.errors import FormatError
    from adze.services.cases import answer_case

    try:
        rows = []
        for case in read_cases(_read(file)):
            start = time.perf_counter()
            values = answer_case(case)
            rows.append({"id": case.id, "values": values, "solve_ms": round((time.perf_counter() - start) * 1e3, 3)})
    except FormatError as error:
        _refuse(str(error))
    _print({"cases": rows})


@app.command()
def check(file: PlanFile) -> None:
    """Print the verdict of a plan file as JSON; exit code 1 when the plan fails."""
    from adze.formats.errors import FormatError
    from adze.formats.plan_file import read_plan
    from adze.services.forecasts import verdict_json

    try:
        verdict = verdict_json(read_plan(_read(file)))
    except FormatError as error:
        _refuse(f"{file.name}: {error}")
    _print(verdict)
    raise typer.Exit(1 if verdict["status"] == "fails" else 0)


@app.command()
def schema() -> None:
    """Print the JSON Schema of plan files."""
    from adze.formats.plan_file import plan_schema

    _print(plan_schema())


@app.command("prepare-database")
def prepare_database() -> None:
    """Make and migrate the database and load the demo farms once."""
    from adze.demo.load import load_demo
    from adze.settings import get_settings
    from adze.store.connection import Store, ensure_database, migrate

    url = str(get_settings().database_url)
    if url.endswith("/postgres"):
        url = ensure_database(url, _DATABASE)
    applied = migrate(url)
    if applied:
        typer.echo(f"adze: {applied} change{'s' * (applied > 1)} of the database made")
    store = Store(url, size=1)
    try:
        if load_demo(store):
            typer.echo("adze: demo farms loaded")
    finally:
        store.close()


@app.command()
def serve() -> None:
    """Serve the application."""
    import uvicorn

    from adze.settings import get_settings
    from adze.web.app import create_app

    settings = get_settings()
    url = str(settings.database_url)
    if url.endswith("/postgres"):
        settings = settings.model_copy(update={"database_url": url.removesuffix("postgres") + _DATABASE})
    application = create_app(settings)
    typer.echo(f"adze: open http://{settings.host}:{settings.port} (Ctrl+C stops it)")
    uvicorn.run(application, host=settings.host, port=settings.port, log_level="warning", access_log=False)


if __name__ == "__main__":
    app()
