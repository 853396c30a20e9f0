"""Bodies larger than the limit are turned away before they are read whole."""

import json

from starlette.types import ASGIApp, Message, Receive, Scope, Send


class _TooLarge(Exception):
    pass


class BodyLimit:
    """ASGI middleware: answers 413 once more than `largest_bytes` come in."""

    def __init__(self, app: ASGIApp, largest_bytes: int) -> None:
        self._app = app
        self._largest = largest_bytes

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Count what comes in."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        declared = dict(scope["headers"]).get(b"content-length", b"0")
        if declared.isdigit() and int(declared) > self._largest:
            await self._refuse(send)
            return
        seen, begun = 0, False

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > self._largest:
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
                await self._refuse(send)

    async def _refuse(self, send: Send) -> None:
        megabytes = self._largest / 1_000_000
        body = json.dumps({"message": f"That is larger than {megabytes:g} MB; simplify it or split it."}).encode()
        headers = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode())]
        await send({"type": "http.response.start", "status": 413, "headers": [*headers, (b"connection", b"close")]})
        await send({"type": "http.response.body", "body": body})
