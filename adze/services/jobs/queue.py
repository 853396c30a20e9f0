"""The queue of jobs in PostgreSQL: what is deferred by whoever finds that it is wanted.

One that is queued already is not queued again. `adze.services.worker` takes them.
"""

from collections.abc import Iterable

from procrastinate import App, SyncPsycopgConnector
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException

from adze.store.errors import StoreAway

JUDGE = "judge_plan"
SEARCH = "search"
MAIL = "send_mail"
PUSH = "send_push"
QUICK, LONG = "quick", "long"  # a queue each: what is quick never waits for what is long


class Jobs:
    """The queue as the application uses it: its own small pool, opened with the application."""

    def __init__(self, url: str) -> None:
        self._app = App(connector=SyncPsycopgConnector(conninfo=url, min_size=0, max_size=2))

    def open(self) -> None:
        """Open the pool."""
        self._app.open()

    def close(self) -> None:
        """Close the pool."""
        self._app.close()

    def judge(self, plans: Iterable[int]) -> None:
        """Have plans judged. One that waits already is left alone."""
        for plan_id in plans:
            try:
                self._defer(JUDGE, QUICK, f"judge:{plan_id}", plan_id=plan_id)
            except StoreAway:
                return  # without a database nothing is queued: whoever looks again asks again

    def search(self, search_id: int) -> None:
        """Have a search computed. Raises StoreAway."""
        self._defer(SEARCH, LONG, f"search:{search_id}", search_id=search_id)

    def mail(self, mail_id: int) -> None:
        """Have a mail sent. Raises StoreAway."""
        self._defer(MAIL, QUICK, f"mail:{mail_id}", mail_id=mail_id)

    def push(self, note_id: int) -> None:
        """Have a browser told. Raises StoreAway."""
        self._defer(PUSH, QUICK, f"push:{note_id}", note_id=note_id)

    def _defer(self, task: str, queue: str, lock: str, **values: int) -> None:
        try:
            self._app.configure_task(task, queue=queue, queueing_lock=lock).defer(**values)
        except AlreadyEnqueued:
            return
        except ConnectorException as error:
            raise StoreAway from error
