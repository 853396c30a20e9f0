"""Work that nobody waits for, queued in PostgreSQL: inside the application by default, or by `adze worker`.

A job is deferred by whoever finds that it is wanted; one that is queued already is not queued again. Workers take
jobs one at a time, try a failed one twice more, and stop between jobs.
"""

import asyncio
import logging
from collections.abc import Iterable

from procrastinate import App, BaseConnector, JobContext, PsycopgConnector, SyncPsycopgConnector
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException

from adze.services.verdicts import judge_stored
from adze.store.accounts import remove_old_visitors
from adze.store.connection import Transaction
from adze.store.farms import forget_removed

_LOG = logging.getLogger("adze")
_RETRIES = 2
_AGAIN_S = 5.0
_JUDGE = "judge_plan"


def judge_plan(context: JobContext, plan_id: int) -> None:
    """Judge what stands of a plan and keep the verdict."""
    judge_stored(context.additional_context["transaction"], plan_id)


def forget(context: JobContext, timestamp: int) -> None:  # noqa: ARG001
    """Forget what visitors left and what was taken off a day ago."""
    with context.additional_context["transaction"]() as connection:
        remove_old_visitors(connection)
        forget_removed(connection)


def _app(connector: BaseConnector) -> App:
    app = App(connector=connector)
    app.task(name=_JUDGE, pass_context=True, retry=_RETRIES)(judge_plan)
    app.periodic(cron="17 * * * *")(app.task(name="forget", pass_context=True)(forget))
    return app


class Jobs:
    """The queue as the application uses it: its own small pool, opened with the application."""

    def __init__(self, url: str) -> None:
        self._app = _app(SyncPsycopgConnector(conninfo=url, min_size=0, max_size=2))

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
                self._app.configure_task(_JUDGE, queueing_lock=f"judge:{plan_id}").defer(plan_id=plan_id)
            except AlreadyEnqueued:
                continue
            except ConnectorException:
                return  # without a database nothing is queued: whoever looks again asks again


async def work(url: str, transaction: Transaction) -> None:
    """Take jobs until cancelled; the one in hand is finished first. While the database is away it is asked again."""
    while True:
        try:
            app = _app(PsycopgConnector(conninfo=url, min_size=1, max_size=3))
            async with app.open_async():
                await app.run_worker_async(
                    concurrency=1,
                    install_signal_handlers=False,
                    delete_jobs="successful",
                    additional_context={"transaction": transaction},
                )
        except Exception as error:
            _LOG.warning("the worker stopped and begins again: %s", error)
        await asyncio.sleep(_AGAIN_S)
