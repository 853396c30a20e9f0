"""The headers that guard every answer, errors too, as ASGI around the whole application."""

from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from adze.web.assets import kept_for

_ALWAYS = {
    "Content-Security-Policy": (
        "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; img-src 'self' data: blob:; style-src 'self'; "
        "frame-ancestors 'none'; "
        "form-action 'self'; base-uri 'none'; object-src 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), payment=(), usb=(), geolocation=(self)",
}
_OVER_TLS = {"Strict-Transport-Security": "max-age=31536000"}


class SecurityHeaders:
    """Adds the headers to whatever is answered; what is private is kept nowhere."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass on, with the headers."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in (_ALWAYS | (_OVER_TLS if scope["scheme"] == "https" else {})).items():
                    headers.setdefault(name, value)
                headers.setdefault("Cache-Control", kept_for(scope["path"]) or "no-store")
            await send(message)

        await self._app(scope, receive, guarded)
