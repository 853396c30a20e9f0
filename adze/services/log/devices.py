"""Devices: made with a token of their own, what they send, and their alarms, told once and again when worse."""

import math
import secrets
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

from adze.core.basics.faults import FieldFault
from adze.core.ground.feed import feed
from adze.core.ground.places import Place
from adze.core.log.alarms import (
    LEAST_SILENT_MIN,
    MOST_SILENT_MIN,
    Alarm,
    AlarmKind,
    AlarmLimits,
    DeviceReading,
    alarms,
    is_quiet,
    is_worse,
    usual_limit_kv,
)
from adze.core.plan.document import Plan
from adze.core.plan.stages import Incomplete
from adze.services.jobs.mails import post
from adze.services.jobs.pushes import PushWords, push_to_plan
from adze.services.jobs.queue import Jobs
from adze.services.limits.tokens import digest_of
from adze.services.log.readings import MOST_A, MOST_KV, along_m, number
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction, Connection
from adze.store.log import devices
from adze.store.log.devices import FenceDevice, KeptAlarm, NewDevice, SentReading
from adze.store.messages.mails import NewMail

MOST_IN_A_BATCH = 1000
MOST_DEVICES = 40
_OLDEST, _AHEAD = timedelta(days=400), timedelta(minutes=5)
_CLOCK_OFF = timedelta(minutes=2)  # a device's clock that is off by more is set right by ours
_MOST_V = 60.0
_NEWEST = 60
_LEAST_LIMIT_KV = 0.3  # less is told there: nothing feeds that place


class DeviceError(FieldFault):
    """A device that cannot be kept; `field` is where to mend it."""


@dataclass(frozen=True)
class TypedDevice:
    """A device as it was typed."""

    name: str
    run: str = ""
    at_m: str = "0"
    alarm_kv: str = "2.5"
    silent_min: str = "120"
    quiet_from: str = ""
    quiet_to: str = ""


def make(begin_transaction: BeginTransaction, opened: OpenPlan, typed: TypedDevice, by: int) -> str:
    """Keep a device; its token, which is shown once and never again. Raises FieldFault naming the field."""
    name = " ".join(typed.name.split())
    if not 0 < len(name) <= 60:
        raise DeviceError("name", "Name: write 1 to 60 characters, such as Shed monitor.")
    at_m = 0.0
    if typed.run:
        if typed.run not in {run.id for run in opened.plan.runs}:
            raise DeviceError("run", "Line: choose one of this plan, or the unit.")
        at_m = along_m(opened.plan, typed.run, typed.at_m)
    silent = round(number(typed.silent_min, "silent_min", "Silence", MOST_SILENT_MIN))
    if silent < LEAST_SILENT_MIN:
        raise DeviceError("silent_min", f"Silence: at least {LEAST_SILENT_MIN} minutes.")
    device = NewDevice(
        name=name,
        run=typed.run,
        at_m=at_m,
        alarm_kv=_alarm_kv(opened.plan, typed.alarm_kv, typed.run, at_m),
        silent_min=silent,
        quiet_from=_hour(typed.quiet_from, "quiet_from"),
        quiet_to=_hour(typed.quiet_to, "quiet_to"),
    )
    token = secrets.token_urlsafe(24)
    with begin_transaction() as connection:
        if len(devices.list_devices(connection, plan_id=opened.id)) >= MOST_DEVICES:
            raise DeviceError("name", f"A plan has at most {MOST_DEVICES} devices; take one off first.")
        devices.add_device(connection, device, plan_id=opened.id, token_hash=digest_of(token), made_by=by)
    return token


def _alarm_kv(plan: Plan, text: str, run: str, at_m: float) -> float:
    """The limit as typed; nothing typed: by the forecast of its place. Raises DeviceError."""
    if text.strip():
        return number(text, "alarm_kv", "Alarm below", MOST_KV)
    start = feed(plan)
    if start is None:
        raise DeviceError("alarm_kv", "Alarm below: write the kV. Adze cannot forecast it until a fence is drawn.")
    try:
        limit = usual_limit_kv(plan, Place(run, at_m) if run else start.place)
        if limit < _LEAST_LIMIT_KV:
            raise DeviceError("alarm_kv", "Alarm below: write the kV. Its place gets no pulse in this plan.")
        return limit
    except Incomplete as missing:
        raise DeviceError("alarm_kv", f"Alarm below: write the kV. Adze cannot forecast it yet. {missing}") from None


def _hour(text: str, field: str) -> time | None:
    if not text.strip():
        return None
    try:
        return time.fromisoformat(text.strip())
    except ValueError:
        raise DeviceError(field, f"Quiet hours: {text[:20]!r} is not a time such as 22:00.") from None


def remove(begin_transaction: BeginTransaction, opened: OpenPlan, device_id: int) -> None:
    """Take a device off: its token is worth nothing any more. Raises DeviceError."""
    with begin_transaction() as connection:
        if not devices.remove_device(connection, plan_id=opened.id, device_id=device_id):
            raise DeviceError("name", "That device has been removed already.")


@dataclass(frozen=True)
class SentRow:
    """A reading as it was sent, by the device's own clock."""

    at: datetime
    kv: float
    amps: float | None = None
    battery_v: float | None = None


@dataclass(frozen=True)
class Taken:
    """What became of a batch: how many are new, how many were known, and those that were refused, with why."""

    kept: int
    known: int
    refused: tuple[tuple[int, str], ...]
    clock_off_s: float


def take(
    begin_transaction: BeginTransaction,
    jobs: Jobs,
    token: str,
    rows: Sequence[SentRow],
    sent_at: datetime | None,
    now: datetime | None = None,
) -> Taken | None:
    """Keep a device's batch and look for alarms; None where the token is of no device."""
    now = now or datetime.now(UTC)
    off = now - sent_at if sent_at else timedelta(0)
    shift = off if abs(off) > _CLOCK_OFF else timedelta(0)
    with begin_transaction() as connection:
        device = devices.get_device_by_token(connection, token_hash=digest_of(token))
        if device is None:
            return None
        good: dict[datetime, SentReading] = {}
        refused = []
        for place, row in enumerate(rows):
            at = row.at + shift
            why = _why_refused(row, at, now)
            if why:
                refused.append((place, why))
            else:
                good[at] = SentReading(at, row.kv, row.amps, row.battery_v)
        kept = devices.add_device_readings(connection, tuple(good.values()), device_id=device.id) if good else 0
        tell = watch(connection, jobs, device, now)
    for send in tell:
        send()
    return Taken(kept, len(rows) - kept - len(refused), tuple(refused), shift.total_seconds())


def _why_refused(row: SentRow, at: datetime, now: datetime) -> str:
    for name, value, most in (
        ("kv", row.kv, MOST_KV),
        ("amps", row.amps, MOST_A),
        ("battery_v", row.battery_v, _MOST_V),
    ):
        if value is None:
            continue
        least = -most if name == "amps" else 0.0
        if not math.isfinite(value) or not least <= value <= most:
            return f"{name}: {value:g} is not from {least:g} to {most:g}"
    if at > now + _AHEAD:
        return f"at: {row.at.isoformat()} is in the future; send sent_at, the device's own clock, with the batch"
    if now - at > _OLDEST:
        return f"at: {row.at.isoformat()} is more than {_OLDEST.days} days ago"
    return ""


def watch(connection: Connection, jobs: Jobs, device: FenceDevice, now: datetime) -> list[Callable[[], None]]:
    """Look for a device's alarms, keep what changed, queue what is to be told; call what is returned after commit."""
    sent = devices.list_device_readings(connection, device_id=device.id, most=_NEWEST)
    newest = [DeviceReading(row.at, row.kv, row.amps, row.battery_v) for row in reversed(sent)]
    going = {row.kind: row for row in devices.list_going_alarms(connection, devices=[device.id])}
    kinds = frozenset(AlarmKind(kind) for kind in going)
    found = alarms(AlarmLimits(device.alarm_kv, device.silent_min), newest, now, kinds)
    devices.end_alarms(connection, device_id=device.id, kinds=[row.kind.value for row in found])
    tell: list[Callable[[], None]] = []
    for row in found:
        kept = devices.keep_alarm(
            connection, device_id=device.id, kind=row.kind.value, since=row.since, worst=row.worst
        )
        if kept.told_worst is None or is_worse(row.kind, kept.told_worst, kept.worst):
            tell += _tell(connection, jobs, device, row, kept, now)
    return tell


def _tell(
    connection: Connection, jobs: Jobs, device: FenceDevice, row: Alarm, kept: KeptAlarm, now: datetime
) -> list[Callable[[], None]]:
    """Tell an alarm to those who log, by mail and browser; in the device's quiet hours it waits for their end."""
    zone = devices.get_time_zone(connection, plan_id=device.plan_id)
    if is_quiet(now.astimezone(ZoneInfo(zone)).time(), device.quiet_from, device.quiet_to):
        return []
    since = row.since.astimezone(ZoneInfo(zone))
    body = f"{device.name}: {alarm_words(row.kind, kept.worst, device)}, since {since:%d %b %Y, %H:%M}.\n"
    sends = [
        post(connection, jobs, NewMail(to_mail=to.mail, subject=f"Fence: {device.name}"[:120], body=body))
        for to in devices.list_alarm_addresses(connection, plan_id=device.plan_id)
    ]
    said = alarm_words(row.kind, kept.worst, device)
    words = PushWords(device.name, f"{said}, since {since:%H:%M}"[:300], f"/plans/{device.plan_id}/log?tab=devices")
    devices.tell_alarm(connection, alarm_id=kept.id)
    return sends + push_to_plan(connection, jobs, device.plan_id, words)


def alarm_words(kind: AlarmKind, worst: float, device: FenceDevice) -> str:
    """An alarm in words with its figure."""
    if kind is AlarmKind.LOW:
        return f"{worst:.1f} kV, below {device.alarm_kv:g} kV"
    if kind is AlarmKind.FAST:
        return f"fell by a third within half an hour, to {worst:.1f} kV"
    if kind is AlarmKind.BATTERY:
        return f"battery at {worst:.1f} V"
    return f"nothing heard for {worst / 60:.0f} hours" if worst >= 90 else f"nothing heard for {worst:.0f} minutes"


def watch_all(begin_transaction: BeginTransaction, jobs: Jobs, now: datetime | None = None) -> int:
    """Look at every device: who is silent, and what was to be told after quiet hours; how many were looked at."""
    now = now or datetime.now(UTC)
    after = count = 0
    while True:
        with begin_transaction() as connection:
            page = devices.list_every_device(connection, after=after, most=200)
        for device in page:
            with begin_transaction() as connection:
                tell = watch(connection, jobs, device, now)
            for send in tell:
                send()
            count += 1
        if not page:
            return count
        after = page[-1].id


@dataclass(frozen=True)
class DeviceView:
    """A device as it is shown: its last reading, alarms that go on and past ones in words, its year as days."""

    device: FenceDevice
    last: SentReading | None
    going: tuple[tuple[str, datetime], ...]
    past: tuple[tuple[str, datetime], ...]
    days: tuple[devices.DeviceDay, ...]


def device_views(connection: Connection, plan_id: int) -> tuple[DeviceView, ...]:
    """The devices of a plan with what they say."""
    rows = devices.list_devices(connection, plan_id=plan_id)
    numbers = [row.id for row in rows]
    going = devices.list_going_alarms(connection, devices=numbers)
    past = devices.list_past_alarms(connection, devices=numbers)
    found = []
    for device in rows:
        last = devices.list_device_readings(connection, device_id=device.id, most=1)
        found.append(
            DeviceView(
                device,
                last[0] if last else None,
                _in_words(device, going),
                _in_words(device, past),
                devices.list_device_days(connection, device_id=device.id),
            )
        )
    return tuple(found)


def _in_words(device: FenceDevice, rows: Sequence[KeptAlarm]) -> tuple[tuple[str, datetime], ...]:
    own = (row for row in rows if row.device_id == device.id)
    return tuple((alarm_words(AlarmKind(row.kind), row.worst, device), row.since) for row in own)
