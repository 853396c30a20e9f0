"""HTTP/1.1 as uvicorn speaks it, for clients that do not keep us waiting: a head that does not come is given up."""

import asyncio

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 15.0


class PromptProtocol(H11Protocol):
    """Closes a connection whose request line and headers are not whole after HEAD_S, the first and every later one."""

    _head_timer: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Begin to wait for the first head."""
        super().connection_made(transport)
        self._wait_for_head()

    def data_received(self, data: bytes) -> None:
        """Wait no longer once a head is whole; wait for one that has begun."""
        super().data_received(data)
        if self.conn.their_state is not h11.IDLE:
            self._stop_waiting()
        elif self._head_timer is None:
            self._wait_for_head()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait no longer."""
        self._stop_waiting()
        super().connection_lost(exc)

    def _wait_for_head(self) -> None:
        self._head_timer = self.loop.call_later(HEAD_S, self.timeout_keep_alive_handler)

    def _stop_waiting(self) -> None:
        if self._head_timer:
            self._head_timer.cancel()
            self._head_timer = None
