"""Limits on a request: how large its body is, how long it may keep us waiting, how long its answer is computed."""

import asyncio
import json
import time

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from adze.core.basics.deadline import within

_LEAST_BYTES_S = 125.0


async def _say(send: Send, status: int, message: str) -> None:
    body = json.dumps({"message": message}).encode()
    headers = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode())]
    await send({"type": "http.response.start", "status": status, "headers": [*headers, (b"connection", b"close")]})
    await send({"type": "http.response.body", "body": body})


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
        await _say(send, 413, f"That is larger than {largest / 1_000_000:.0f} MB; simplify it or split it.")


class _TooSlow(Exception):
    """Raised where the body is read; whatever is made of it there, the answer is 408."""


class TimeLimit:
    """ASGI middleware: a body that stands still or trickles is given up with 408; computing stops where it looks.

    A body may take twice `body_s` in all and a second more for every kilobit that has come: a slow line in a valley
    is ten times as fast.
    """

    def __init__(self, app: ASGIApp, body_s: float, answer_s: float) -> None:
        self._app, self._body_s, self._answer_s = app, body_s, answer_s

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass on, with both limits."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        whole = begun = late = False
        until_s = time.monotonic() + 2 * self._body_s

        async def prompt() -> Message:
            nonlocal whole, late, until_s
            if whole:  # what comes after the body is only that the browser left: no limit
                return await receive()
            try:
                message = await asyncio.wait_for(receive(), self._body_s)
            except TimeoutError as error:
                late = True
                raise _TooSlow from error
            until_s += len(message.get("body", b"")) / _LEAST_BYTES_S
            whole = not message.get("more_body", False)
            if not whole and time.monotonic() > until_s:
                late = True
                raise _TooSlow
            return message

        async def noted(message: Message) -> None:
            nonlocal begun
            if not late or begun:
                begun = True
                await send(message)

        try:
            with within(self._answer_s):
                await self._app(scope, prompt, noted)
        except _TooSlow:
            pass
        if late and not begun:
            await _say(send, 408, "The rest of it did not come. Try again.")
