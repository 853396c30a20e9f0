"""What is watched: a line of log for each request, and figures by the usual names for whoever collects them."""

import logging
import sys
import time

from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from pythonjsonlogger.json import JsonFormatter
from starlette.types import ASGIApp, Message, Receive, Scope, Send

_LOG = logging.getLogger("adze.requests")
_LEVELS = {"plain": logging.WARNING, "json": logging.INFO}

REGISTRY = CollectorRegistry()
_LABELS = ("method", "route")
_seconds = Histogram("http_request_duration_seconds", "Time to the end of an answer.", _LABELS, registry=REGISTRY)
_answers = Counter("http_requests_total", "Answers.", (*_LABELS, "status"), registry=REGISTRY)
_open = Gauge("http_requests_in_progress", "Requests that are being answered.", registry=REGISTRY)


def set_up_log(kind: str) -> None:
    """Log to stderr: `plain` what goes wrong, `json` a line of JSON for that and for every request."""
    handler = logging.StreamHandler(sys.stderr)
    if kind == "json":
        handler.setFormatter(JsonFormatter("%(asctime)s %(levelname)s %(name)s %(message)s"))
    logging.basicConfig(level=_LEVELS[kind], handlers=[handler], force=True)


def figures() -> bytes:
    """The figures in the text format that collectors read."""
    return generate_latest(REGISTRY)


class Watched:
    """ASGI middleware around everything: counts and times every answer by its route, never by its address."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass on, and note."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        begun, status = time.perf_counter(), 500

        async def noted(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        _open.inc()
        try:
            await self._app(scope, receive, noted)
        finally:
            _open.dec()
            taken_s = time.perf_counter() - begun
            route = getattr(scope.get("route"), "path", "") or "none"
            method = scope["method"] if scope.get("route") else "any"
            _seconds.labels(method, route).observe(taken_s)
            _answers.labels(method, route, str(status)).inc()
            more = {"method": method, "route": route, "status": status, "ms": round(taken_s * 1e3, 1)}
            _LOG.info("answered", extra=more)
