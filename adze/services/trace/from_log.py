"""What a search may begin with: the last walk's readings since the fence changed, and what devices show now."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from adze.core.basics.units import kv_words
from adze.core.log.level import TOGETHER
from adze.services.log.levels import is_of_live
from adze.services.plans.plans import OpenPlan
from adze.services.trace.events import Read
from adze.store.connection import BeginTransaction
from adze.store.log.devices import FenceDevice, SentReading, list_device_readings, list_devices
from adze.store.log.readings import Reading, list_readings

_MOST_READINGS = 60
_MOST_NAMED = 3
_SAME_M = 25.0  # readings so near each other on a line are of one spot
_CHANGED = 0.15  # kV of a spot that differ by more are from before and after something happened; an assumption


@dataclass(frozen=True)
class Shown:
    """kV at a spot (run "" at the unit) and when."""

    at: datetime
    run: str
    at_m: float
    kv: float


@dataclass(frozen=True)
class FromLog:
    """Readings of the last walk, oldest first, and of each device that is heard of its newest."""

    walk: tuple[Reading, ...]
    devices: tuple[tuple[FenceDevice, SentReading], ...]

    @property
    def words(self) -> str:
        """What it is, to be said before a search begins; empty where there is nothing."""
        count = len(self.walk)
        walk = f"the {count} reading{'s' if count > 1 else ''} of the last walk" if count else ""
        named = [f"{device.name} shows, {kv_words(row.kv)} kV" for device, row in self.devices[:_MOST_NAMED]]
        named += ["others show"] if len(self.devices) > _MOST_NAMED else []
        return " and ".join(part for part in (walk, f"what {', '.join(named)}" if named else "") if part)

    @property
    def steps(self) -> tuple[Read, ...]:
        """The same as steps of a search, for which nobody walks."""
        shown = (
            Read(run=of.run, at_m=of.at_m, leg="", kv=row.kv, amps=None, from_log=True, device=of.name)
            for of, row in self.devices
        )
        walked = (
            Read(run=row.run, at_m=row.at_m, leg="", kv=row.kv, amps=_amps(row), from_log=True) for row in self.walk
        )
        return (*shown, *walked)


def _amps(row: Reading) -> float | None:
    """Amps of a reading, along its line from its start on."""
    return row.amps if row.amps is None or row.outward else -row.amps


def from_log(begin_transaction: BeginTransaction, opened: OpenPlan) -> FromLog:
    """What the log has of the last day and a half that still holds: on live strands, since any spot changed."""
    now = datetime.now(UTC)
    runs = {"", *(run.id for run in opened.plan.runs)}
    with begin_transaction() as connection:
        rows = list_readings(connection, plan_id=opened.id, most=_MOST_READINGS)
        sent = {
            device: list_device_readings(connection, device_id=device.id)
            for device in list_devices(connection, plan_id=opened.id)
            if device.run in runs
        }
    walk = [row for row in reversed(rows) if now - row.read_at < TOGETHER and is_of_live(opened.plan, row)]
    seen = [Shown(row.read_at, row.run, row.at_m, row.kv) for row in walk]
    seen += [
        Shown(row.at, device.run, device.at_m, row.kv)
        for device, rows in sent.items()
        for row in rows
        if now - row.at < TOGETHER
    ]
    since = changed_at(seen)
    heard = tuple(
        (device, rows[0])
        for device, rows in sent.items()
        if rows and now - rows[0].at <= timedelta(minutes=device.silent_min) and (since is None or rows[0].at > since)
    )
    return FromLog(tuple(row for row in walk if since is None or row.read_at > since), heard)


def changed_at(seen: list[Shown]) -> datetime | None:
    """When the last reading was taken that its own spot contradicts since; None where nothing changed."""
    newest: list[Shown] = []
    stale = []
    for row in sorted(seen, key=lambda row: row.at, reverse=True):
        same = next((one for one in newest if one.run == row.run and abs(one.at_m - row.at_m) <= _SAME_M), None)
        if same is None:
            newest.append(row)
        elif abs(same.kv - row.kv) > _CHANGED * max(same.kv, row.kv):
            stale.append(row.at)
    return max(stale, default=None)
