"""Devices that send readings by themselves, what they sent, and their alarms."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries
from adze.store.messages.mails import Addressee

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class NewDevice:
    """A device: its name, where it is (run "" at the unit), when it alarms, and hours in which nobody is told."""

    name: str
    run: str
    at_m: float
    alarm_kv: float
    silent_min: int
    quiet_from: time | None
    quiet_to: time | None


@dataclass(frozen=True, kw_only=True)
class FenceDevice(NewDevice):
    """A device of a plan."""

    id: int
    plan_id: int


@dataclass(frozen=True)
class SentReading:
    """What a device sent, by our clock."""

    at: datetime
    kv: float
    amps: float | None
    battery_v: float | None


@dataclass(frozen=True)
class DeviceDay:
    """A day of a device: least, middle and most kV."""

    day: datetime
    low_kv: float
    high_kv: float
    kv: float


@dataclass(frozen=True)
class KeptAlarm:
    """An alarm of a device, told when it stood at `told_worst`."""

    id: int
    device_id: int
    kind: str
    since: datetime
    worst: float
    told_worst: float | None
    over_at: datetime | None


@dataclass(frozen=True)
class _Count:
    kept: int


@dataclass(frozen=True)
class _Zone:
    name: str


@dataclass(frozen=True)
class _Row:
    id: int


def add_device(
    connection: Connection, device: NewDevice, *, plan_id: int, token_hash: bytes, made_by: int
) -> FenceDevice:
    """Keep a device. Raises RefusedByStore."""
    values = {"plan_id": plan_id, "token_hash": token_hash, "made_by": made_by}
    made = fetch_one(connection, _QUERIES["add_device"], FenceDevice, **vars(device), **values)
    if made is None:
        raise Missing("The device was not kept.")
    return made


def list_devices(connection: Connection, *, plan_id: int) -> tuple[FenceDevice, ...]:
    """The devices of a plan."""
    return fetch_all(connection, _QUERIES["list_devices"], FenceDevice, plan_id=plan_id)


def list_every_device(connection: Connection, *, after: int, most: int) -> tuple[FenceDevice, ...]:
    """Devices of all plans that have sent anything, by their number."""
    return fetch_all(connection, _QUERIES["list_every_device"], FenceDevice, after=after, most=most)


def get_device_by_token(connection: Connection, *, token_hash: bytes) -> FenceDevice | None:
    """The device that a token is of."""
    return fetch_one(connection, _QUERIES["get_device_by_token"], FenceDevice, token_hash=token_hash)


def remove_device(connection: Connection, *, plan_id: int, device_id: int) -> bool:
    """Take a device off with what it sent; whether it was there."""
    return fetch_one(connection, _QUERIES["remove_device"], _Row, plan_id=plan_id, id=device_id) is not None


def add_device_readings(connection: Connection, rows: Sequence[SentReading], *, device_id: int) -> int:
    """Keep a batch; how many were new. Raises RefusedByStore."""
    columns = {name: [getattr(row, name) for row in rows] for name in ("at", "kv", "amps", "battery_v")}
    made = fetch_one(connection, _QUERIES["add_device_readings"], _Count, device_id=device_id, **columns)
    return made.kept if made else 0


def list_device_readings(connection: Connection, *, device_id: int, most: int = 60) -> tuple[SentReading, ...]:
    """The newest readings of a device, newest first."""
    return fetch_all(connection, _QUERIES["list_device_readings"], SentReading, device_id=device_id, most=most)


def list_device_days(connection: Connection, *, device_id: int) -> tuple[DeviceDay, ...]:
    """Each day of a device in the last year, oldest first."""
    return fetch_all(connection, _QUERIES["list_device_days"], DeviceDay, device_id=device_id)


def list_going_alarms(connection: Connection, *, devices: Sequence[int]) -> tuple[KeptAlarm, ...]:
    """The alarms that go on."""
    return fetch_all(connection, _QUERIES["list_going_alarms"], KeptAlarm, devices=list(devices))


@dataclass(frozen=True)
class PlanAlarm:
    """An alarm that goes on at a device of a plan: its kind, since when, the farm's time zone."""

    plan_id: int
    name: str
    kind: str
    since: datetime
    time_zone: str


def list_plan_alarms(connection: Connection, *, plans: Sequence[int]) -> tuple[PlanAlarm, ...]:
    """The alarms that go on at the devices of some plans, the longest first."""
    return fetch_all(connection, _QUERIES["list_plan_alarms"], PlanAlarm, plans=list(plans))


def list_past_alarms(connection: Connection, *, devices: Sequence[int], most: int = 20) -> tuple[KeptAlarm, ...]:
    """The alarms that are over, newest first."""
    return fetch_all(connection, _QUERIES["list_past_alarms"], KeptAlarm, devices=list(devices), most=most)


def keep_alarm(connection: Connection, *, device_id: int, kind: str, since: datetime, worst: float) -> KeptAlarm:
    """An alarm begins, or goes on. Raises RefusedByStore."""
    values = {"kind": kind, "since": since, "worst": worst}
    made = fetch_one(connection, _QUERIES["keep_alarm"], KeptAlarm, device_id=device_id, **values)
    if made is None:
        raise Missing("The alarm was not kept.")
    return made


def end_alarms(connection: Connection, *, device_id: int, kinds: Sequence[str]) -> None:
    """End a device's alarms but those of some kinds."""
    run(connection, _QUERIES["end_alarms"], device_id=device_id, kinds=list(kinds))


def tell_alarm(connection: Connection, *, alarm_id: int) -> None:
    """An alarm was told as it stands."""
    run(connection, _QUERIES["tell_alarm"], id=alarm_id)


def list_alarm_addresses(connection: Connection, *, plan_id: int) -> tuple[Addressee, ...]:
    """Who is told of a plan's alarms."""
    return fetch_all(connection, _QUERIES["list_alarm_addresses"], Addressee, plan_id=plan_id)


def get_time_zone(connection: Connection, *, plan_id: int) -> str:
    """The time zone of a plan's farm."""
    found = fetch_one(connection, _QUERIES["get_time_zone"], _Zone, plan_id=plan_id)
    return found.name if found else "UTC"
