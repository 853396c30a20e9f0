"""All that was taken out in one file, brought in again: farms, plans, readings, earth tests, pictures.

Pictures are read and made small first, each in turn; then everything is written in one transaction or not at all.
"""

import csv
import io
import re
import zipfile
import zlib
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, fields, replace
from datetime import UTC, date, datetime
from typing import IO, Any

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.json_text import read_json, values_within
from adze.formats.plan.plan_file import MOST_PLAN_VALUES, dump_plan, read_plan_document
from adze.formats.plan.plan_pictures import pictures_of
from adze.formats.tables.rows_csv import unguarded
from adze.services.limits.concurrency import ConcurrencyLimiter
from adze.services.pictures.picture_worker import Unreadable
from adze.services.pictures.pictures import Prepared, prepared
from adze.services.plans.plans import begin_plan, storable
from adze.store.connection import BeginTransaction, Connection
from adze.store.log import earth_tests, readings
from adze.store.log.earth_tests import StoredStray, StoredTest
from adze.store.log.readings import NewReading
from adze.store.pictures import pictures
from adze.store.plans import farms

LARGEST_BYTES = 300_000_000
_MOST_ENTRIES, _MOST_OPENED_BYTES = 20_000, 1_000_000_000
# Of what is text: a plan or a log at most, all of them together, values of all plans, rows of a log.
_LARGEST_TEXT_BYTES, _MOST_TEXT_BYTES, _MOST_VALUES, _MOST_ROWS = 12_000_000, 120_000_000, 2_000_000, 200_000
_TURNS = ConcurrencyLimiter(1, 2)
_NUMBER = re.compile(r"\((\d+)\)(?:\.jpg)?$")


@dataclass(frozen=True)
class BroughtPlan:
    """A plan of the file: its farm's name, the plan, rows of its log, its pictures as JPEG by their old ids."""

    farm: str
    plan: Plan
    readings: tuple[dict[str, str], ...]
    tests: tuple[dict[str, str], ...]
    strays: tuple[dict[str, str], ...]
    pictures: dict[int, tuple[bytes, int, int]]


@dataclass(frozen=True)
class Brought:
    """How much was brought in."""

    farms: int
    plans: int
    readings: int
    pictures: int


def _rows(archive: zipfile.ZipFile, name: str, names: frozenset[str]) -> tuple[dict[str, str], ...]:
    if name not in names:
        return ()
    content = archive.read(name)
    if content.count(b"\n") > _MOST_ROWS:
        raise FormatError(f"{name} has more than {_MOST_ROWS:,} rows; that is not a log written by Adze")
    rows = csv.DictReader(io.StringIO(content.decode("utf-8", errors="strict")))
    return tuple({k: unguarded(v or "") for k, v in row.items() if k} for row in rows)


def _pictures(
    archive: zipfile.ZipFile, names: Sequence[str], wanted: set[int]
) -> Iterator[tuple[int, tuple[bytes, int, int]]]:
    for name in names:
        number = _NUMBER.search(name)
        if number and int(number[1]) in wanted:
            yield int(number[1]), _sized(prepared(archive.read(name), "underlay"))


def _sized(ready: Prepared) -> tuple[bytes, int, int]:
    return ready.content, ready.width_px, ready.height_px


def _check_size(entries: Sequence[zipfile.ZipInfo]) -> None:
    """Refuse what unpacks to more than Adze gives out, by what the entries say: reading one stops there."""
    if len(entries) > _MOST_ENTRIES or sum(entry.file_size for entry in entries) > _MOST_OPENED_BYTES:
        raise FormatError(
            f"the file is larger than Adze writes: at most {_MOST_OPENED_BYTES // 1_000_000:,} MB "
            f"in {_MOST_ENTRIES:,} pieces"
        )
    texts = [entry for entry in entries if not _NUMBER.search(entry.filename)]
    for entry in texts:
        if entry.file_size > _LARGEST_TEXT_BYTES:
            raise FormatError(
                f"{entry.filename[:80]} unpacks to {entry.file_size / 1e6:.0f} MB, at most "
                f"{_LARGEST_TEXT_BYTES // 1_000_000} MB is taken; Adze did not write that piece"
            )
    if sum(entry.file_size for entry in texts) > _MOST_TEXT_BYTES:
        raise FormatError(
            f"the plans and logs of the file unpack to more than {_MOST_TEXT_BYTES // 1_000_000} MB; "
            "export fewer farms at once"
        )


def _read(file: IO[bytes]) -> Iterator[BroughtPlan]:
    try:
        with zipfile.ZipFile(file) as archive:
            _check_size(archive.infolist())
            names, values = frozenset(archive.namelist()), 0
            pictured: defaultdict[str, list[str]] = defaultdict(list)
            for name in archive.namelist():
                pictured[name.partition("/pictures/")[0]].append(name)
            for name in archive.namelist():
                folder, _, last = name.rpartition("/")
                if last != "plan.json":
                    continue
                content = archive.read(name)
                values += values_within(content)
                if values > _MOST_VALUES:
                    raise FormatError(f"the plans hold more than {_MOST_VALUES:,} values; export fewer farms at once")
                plan = read_plan_document(read_json(content, name[:80], MOST_PLAN_VALUES))
                storable(plan)
                farm = re.sub(r" \(\d+\)$", "", folder.split("/")[0])
                yield BroughtPlan(
                    farm,
                    plan,
                    _rows(archive, f"{folder}/readings.csv", names),
                    _rows(archive, f"{folder}/earth_tests.csv", names),
                    _rows(archive, f"{folder}/stray_volts.csv", names),
                    dict(_pictures(archive, pictured[folder], pictures_of(dump_plan(plan)))),
                )
    except (zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError) as error:
        raise FormatError("Adze did not write that file, or a part of it is lost. Export it again") from error
    except (UnicodeDecodeError, csv.Error, Unreadable) as error:
        raise FormatError(f"a piece of the file cannot be read: {error}") from error


def _value(kind: str, text: str) -> Any:
    """A cell as the column's type."""
    if text == "" and "None" in kind:
        return None
    if kind.startswith("float"):
        return float(text)
    if kind.startswith("int"):
        return int(text)
    if kind.startswith("bool"):
        return text == "True"
    return date.fromisoformat(text) if kind == "date" else text


def _row(kind: type[Any], cells: dict[str, str]) -> dict[str, Any]:
    """The cells of a row as the values of a stored kind, its own id left out. Raises FormatError."""
    try:
        return {
            field.name: _value(getattr(field.type, "__name__", str(field.type)), cells.get(field.name, ""))
            for field in fields(kind)
            if field.name != "id"
        }
    except ValueError as error:
        raise FormatError(f"a row of the log cannot be read: {error}") from error


def _taken_at(cells: dict[str, str]) -> datetime:
    try:
        return datetime.fromisoformat(cells.get("read_at", ""))
    except ValueError:
        return datetime.now(UTC)


def _write(connection: Connection, account_id: int, farm_id: int, brought: BroughtPlan) -> None:
    def keep(plan_id: int) -> dict[int, int]:
        return {
            old: pictures.add_picture(
                connection,
                plan_id=plan_id,
                name=f"Picture {old}",
                media_type="image/jpeg",
                size_px=(width, height),
                content=content,
                made_by=account_id,
            )
            for old, (content, width, height) in brought.pictures.items()
        }

    name = brought.plan.name
    plan_id = begin_plan(connection, farm_id=farm_id, name=name, made_by=account_id, plan=brought.plan, pictures=keep)
    for cells in reversed(brought.readings):
        reading = replace(NewReading(**_row(NewReading, cells)), corrects=None)
        made = readings.add_reading(connection, reading, plan_id=plan_id, read_by=account_id, read_at=_taken_at(cells))
        if why := cells.get("withdrawn_why"):
            readings.withdraw_reading(connection, plan_id=plan_id, reading_id=made.id, why=why)
    for cells in reversed(brought.tests):
        row = _row(StoredTest, cells)
        earth_tests.add_earth_test(connection, plan_id=plan_id, read_by=account_id, **row)
    for cells in reversed(brought.strays):
        row = _row(StoredStray, cells)
        earth_tests.add_stray_reading(connection, plan_id=plan_id, read_by=account_id, **row)


def bring_in(begin_transaction: BeginTransaction, account_id: int, file: IO[bytes]) -> Brought:
    """Bring a file of `everything` into an account. Raises FormatError, OverQuota, Busy, UnstorablePlan."""
    with _TURNS.turn():
        found = list(_read(file))
    if not found:
        raise FormatError("no plan is in that file; choose the file that “Everything as one file” gave")
    with begin_transaction() as connection:
        names = {farm.name for farm in farms.list_names(connection, account_id=account_id)}
        made: dict[str, int] = {}
        for brought in found:
            if brought.farm not in made:
                tried = (brought.farm, *(f"{brought.farm[:70]} {i}" for i in range(2, 10_000)))
                own = next(name for name in tried if name not in names)
                names.add(own)
                made[brought.farm] = farms.add_farm(connection, account_id=account_id, name=own).id
            _write(connection, account_id, made[brought.farm], brought)
    return Brought(len(made), len(found), sum(len(b.readings) for b in found), sum(len(b.pictures) for b in found))
