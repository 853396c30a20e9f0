"""Templates, their filters, and the answer as a page."""

from functools import lru_cache
from pathlib import Path
from typing import Any

from fastapi import APIRouter, FastAPI, Request
from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemBytecodeCache, FileSystemLoader, StrictUndefined, pass_context
from jinja2.runtime import Context
from starlette.routing import BaseRoute

from adze import __version__
from adze.services.answers.words import FILTERS, WORDS
from adze.web.assets import asset, modules


@pass_context
def _url(context: Context, name: str, **path: Any) -> str:
    request: Request = context["request"]
    return _path(request.app, request.scope.get("root_path", ""), name, tuple(path.items()))


@lru_cache(4096)
def _path(app: FastAPI, root: str, name: str, path: tuple[tuple[str, Any], ...]) -> str:
    """The path of a route: looked up once for one name and one plan, as a page names hundreds."""
    route = _routes(app).get(name, app)
    return root + str(route.url_path_for(name, **dict(path)))


@lru_cache(4)
def _routes(app: FastAPI) -> dict[str, BaseRoute]:
    """The routes by name: the application would try each of them for every name."""
    routers: tuple[APIRouter, ...] = app.state.routers
    return {getattr(route, "name", ""): route for router in routers for route in router.routes}


@pass_context
def _money(context: Context, amount: float, places: int = 2) -> str:
    currency = getattr(context["request"].state, "currency", "")
    return f"{currency} {amount:,.{places}f}" if currency else f"{amount:,.{places}f}"


@pass_context
def _whole_money(context: Context, amount: float) -> str:
    return _money(context, amount, 0)


def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent / "templates"),
        autoescape=True,
        undefined=StrictUndefined,
        bytecode_cache=FileSystemBytecodeCache(),  # a process need not compile what another one has
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.globals |= {"url": _url, "asset": asset, "modules": modules, "version": __version__, **WORDS}
    environment.filters |= {**FILTERS, "money": _money, "whole_money": _whole_money}
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
