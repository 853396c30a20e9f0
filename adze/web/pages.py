"""Templates, their filters, and the answer as a page."""

from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from fastapi import Request
from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemLoader, StrictUndefined, pass_context
from jinja2.runtime import Context

from adze import __version__
from adze.core.advice.ground_remedies import DEED_WORDS
from adze.core.basics.units import Units, exact_metres, format_height, format_length, format_tape, kv_words
from adze.core.plan.season import SEASON_WORDS
from adze.core.tables.animals import animal_word
from adze.core.verdict.findings import without_repeats


def _when(moment: datetime) -> str:
    gone = datetime.now(UTC) - moment
    if gone.total_seconds() < 90:
        return "just now"
    if gone.total_seconds() < 5400:
        return f"{gone.total_seconds() / 60:.0f} minutes ago"
    return "today" if gone.days < 1 else f"{gone.days} days ago"


@pass_context
def _url(context: Context, name: str, **path: Any) -> str:
    request: Request = context["request"]
    return str(request.url_for(name, **path).path)


def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent / "templates"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.globals |= {"deed_words": DEED_WORDS, "url": _url, "season_words": SEASON_WORDS, "version": __version__}
    environment.filters |= {
        "kv": kv_words,
        "without_repeats": without_repeats,
        "money": lambda x: f"{x:,.2f}",
        "distance": lambda x, units: format_length(x, Units(units)),
        "height": lambda x, units: format_height(x, Units(units)),
        "animal": animal_word,
        "when": _when,
        "bearing": lambda x: f"{x % 360:03.0f}°",
        "metres": exact_metres,
        "tape": lambda x, units: format_tape(x, Units(units)),
        "hours": lambda x: f"{x * 60:.0f} min" if x < 1 else f"{x:.0f} h",
    }
    return environment


_ENVIRONMENT = _environment()


def wants_json(request: Request) -> bool:
    """Whether the answer goes to a script."""
    return request.url.path.startswith("/api/")


def render(request: Request, template: str, context: dict[str, Any]) -> str:
    """A template as text."""
    who = getattr(request.state, "session", None)
    return _ENVIRONMENT.get_template(template).render({"request": request, "who": who, **context})


def page(request: Request, template: str, context: dict[str, Any], status: int = 200) -> HTMLResponse:
    """A template as an answer."""
    return HTMLResponse(render(request, template, context), status)
