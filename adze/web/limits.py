"""Bodies larger than the limit are turned away before they are read whole."""

import json

from starlette.types import ASGIApp, Message, Receive, Scope, Send


class _TooLarge(Exception):
    pass


class BodyLimit:
    """ASGI middleware: answers 413 once more than `largest_bytes` come in; `larger` says more by a path's end."""

    def __init__(self, app: ASGIApp, largest_bytes: int, larger: dict[str, int] | None = None) -> None:
        self._app = app
        self._largest = largest_bytes
        self._larger = larger or {}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Count what comes in."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        largest = next((n for end, n in self._larger.items() if scope["path"].endswith(end)), self._largest)
        declared = dict(scope["headers"]).get(b"content-length", b"0")
        if declared.isdigit() and int(declared) > largest:
            await self._refuse(send, largest)
            return
        seen, begun = 0, False

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > largest:
                raise _TooLarge
            return message

        async def noted(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self._app(scope, counted, noted)
        except _TooLarge:
            if not begun:
                await self._refuse(send, largest)

    async def _refuse(self, send: Send, largest: int) -> None:
        megabytes = largest / 1_000_000
        body = json.dumps({"message": f"That is larger than {megabytes:.0f} MB; simplify it or split it."}).encode()
        headers = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode())]
        await send({"type": "http.response.start", "status": 413, "headers": [*headers, (b"connection", b"close")]})
        await send({"type": "http.response.body", "body": body})
