"""The worker: takes jobs from the queue, tries a failed one again, takes over what a dead worker left.

What is quick and what is long have a queue each, so that no verdict waits for a search. The application starts a
worker as a process of its own beside it (`beside`), so that a long computation takes no turn from its pages;
`adze worker` is the same on further machines.
"""

import asyncio
import logging
import os
import sys
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from smtplib import SMTPException
from threading import Event

from procrastinate import App, JobContext, PsycopgConnector, RetryStrategy

from adze.services.jobs.mails import Send, deliver
from adze.services.jobs.pushes import Deliver, deliver_push
from adze.services.jobs.queue import JUDGE, LONG, MAIL, PUSH, QUICK, SEARCH, Jobs
from adze.services.judging.searches import Interrupted, run_search
from adze.services.judging.verdicts import judge_stored
from adze.services.log.devices import watch_all
from adze.services.log.weather import hear_all
from adze.store.accounts.accounts import remove_old_guests, remove_old_visitors
from adze.store.backup import backup
from adze.store.connection import BeginTransaction
from adze.store.errors import StoreAway
from adze.store.judging.searches import forget_searches
from adze.store.messages.mails import forget_mails
from adze.store.messages.pushes import forget_notes
from adze.store.plans.farms import forget_removed

_LOG = logging.getLogger("adze")
_AGAIN_S = 3.0
_HEARTBEAT_S = 2.0
_DEAD_AFTER_S = 10.0
_LONGEST_STOP_S = 8.0


@dataclass(frozen=True)
class Duties:
    """What a worker works with: the database, the ways mails and notices to browsers go, the folder of the daily
    backup ("" for none), the weather feed ("" for none).
    """

    url: str
    begin_transaction: BeginTransaction
    send: Send
    tell: Deliver
    backup_folder: str = ""
    weather_url: str = ""


def back_up(duties: Duties, at: datetime) -> None:
    """Write the day's backup where a folder is set: seven files, by the day of the week. Raises BackupError."""
    if duties.backup_folder:
        backup(duties.url, Path(duties.backup_folder) / f"adze-{at:%a}.zip".lower())


def _duties(context: JobContext) -> Duties:
    found: Duties = context.additional_context["duties"]
    return found


def _judge(context: JobContext, plan_id: int) -> None:
    """Judge what stands of a plan and keep the verdict."""
    judge_stored(_duties(context).begin_transaction, plan_id)


def _search(context: JobContext, search_id: int) -> None:
    """Go on with a search."""
    stopping: Event = context.additional_context["stopping"]
    run_search(_duties(context).begin_transaction, search_id, stopping.is_set)


def _mail(context: JobContext, mail_id: int) -> None:
    """Send a mail."""
    deliver(_duties(context).begin_transaction, mail_id, _duties(context).send)


def _push(context: JobContext, note_id: int) -> None:
    """Tell a browser."""
    deliver_push(_duties(context).begin_transaction, note_id, _duties(context).tell)


def _forget(context: JobContext, timestamp: int) -> None:  # noqa: ARG001
    """Forget what visitors and guests left, what was taken off a day ago, and old searches."""
    with _duties(context).begin_transaction() as connection:
        remove_old_visitors(connection)
        remove_old_guests(connection)
        forget_removed(connection)
        forget_searches(connection)
        forget_mails(connection)
        forget_notes(connection)


def _watch_devices(context: JobContext, timestamp: int) -> None:  # noqa: ARG001
    """Look for devices that fell silent, and tell what waited for the end of quiet hours."""
    jobs = Jobs(_duties(context).url)
    jobs.open()
    try:
        watch_all(_duties(context).begin_transaction, jobs)
    finally:
        jobs.close()


def _hear_weather(context: JobContext, timestamp: int) -> None:  # noqa: ARG001
    """Ask the weather feed for the farms that use it: their record grows by a day."""
    hear_all(_duties(context).begin_transaction, _duties(context).weather_url)


def _back_up(context: JobContext, timestamp: int) -> None:
    """Write the day's backup."""
    back_up(_duties(context), datetime.fromtimestamp(timestamp, UTC))


def _app(url: str) -> App:
    app = App(connector=PsycopgConnector(conninfo=url, min_size=1, max_size=6))
    app.task(name=JUDGE, queue=QUICK, pass_context=True, retry=2)(_judge)
    interrupted = RetryStrategy(max_attempts=20, retry_exceptions={Interrupted, StoreAway})
    app.task(name=SEARCH, queue=LONG, pass_context=True, retry=interrupted)(_search)
    away = RetryStrategy(max_attempts=12, exponential_wait=2, retry_exceptions={OSError, SMTPException, StoreAway})
    app.task(name=MAIL, queue=QUICK, pass_context=True, retry=away)(_mail)
    app.task(name=PUSH, queue=QUICK, pass_context=True, retry=away)(_push)
    app.periodic(cron="30 2 * * *")(app.task(name="back_up", queue=LONG, pass_context=True, retry=2)(_back_up))
    app.periodic(cron="40 4 * * *")(app.task(name="hear_weather", queue=LONG, pass_context=True)(_hear_weather))
    app.periodic(cron="*/5 * * * *")(app.task(name="watch_devices", queue=QUICK, pass_context=True)(_watch_devices))
    app.periodic(cron="17 * * * *")(app.task(name="forget", queue=QUICK, pass_context=True)(_forget))
    return app


async def _take_over(app: App) -> None:
    """Put back what a worker had in hand that gives no sign of life."""
    while True:
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=_DEAD_AFTER_S):
            await app.job_manager.retry_job(job)
        await asyncio.sleep(_HEARTBEAT_S)


async def _rounds(app: App, duties: Duties, *, until_empty: bool) -> None:
    stopping = Event()

    async def take(queue: str) -> None:
        await app.run_worker_async(
            queues=[queue],
            concurrency=1,
            wait=not until_empty,
            install_signal_handlers=False,
            delete_jobs="successful",
            update_heartbeat_interval=_HEARTBEAT_S,
            stalled_worker_timeout=_DEAD_AFTER_S,
            additional_context={"duties": duties, "stopping": stopping},
        )

    takers = [asyncio.create_task(take(queue)) for queue in (QUICK, LONG)]
    watch = asyncio.create_task(_take_over(app))
    try:
        await asyncio.wait([*takers, *([] if until_empty else [watch])], return_when=asyncio.FIRST_COMPLETED)
        for taker in takers if until_empty else ():
            await taker
    finally:
        stopping.set()
        for task in (*takers, watch):
            task.cancel()
        results = await asyncio.gather(*takers, watch, return_exceptions=True)
    for result in results:
        if isinstance(result, Exception):
            raise result


async def work(duties: Duties) -> None:
    """Take jobs until cancelled; the one in hand ends or is put back. While the database is away it is asked again."""
    while True:
        try:
            app = _app(duties.url)
            async with app.open_async():
                await _rounds(app, duties, until_empty=False)
        except Exception as error:
            _LOG.warning("the worker stopped and begins again: %s", error)
        await asyncio.sleep(_AGAIN_S)


async def work_off(duties: Duties) -> None:
    """Take the jobs that wait now, and end."""
    app = _app(duties.url)
    async with app.open_async():
        await _rounds(app, duties, until_empty=True)


async def beside(url: str) -> None:
    """Keep a worker running as a process of its own until cancelled; one that dies is started again.

    It ends when its standard input closes: with this process, however that ends.
    """
    while True:
        try:
            process = await asyncio.create_subprocess_exec(
                *(sys.executable, "-m", "adze.cli", "worker", "--with-parent"),
                stdin=asyncio.subprocess.PIPE,
                stdout=asyncio.subprocess.DEVNULL,
                env=os.environ | {"ADZE_DATABASE_URL": url},
            )
        except OSError as error:
            _LOG.error("no worker can be started: %s", error)
            return
        try:
            await process.wait()
        except asyncio.CancelledError:
            if process.stdin:
                process.stdin.close()
            try:
                await asyncio.wait_for(process.wait(), _LONGEST_STOP_S)
            except TimeoutError:
                process.kill()
                await process.wait()
            raise
        _LOG.warning("the worker ended (%s) and is started again", process.returncode)
        await asyncio.sleep(_AGAIN_S)
