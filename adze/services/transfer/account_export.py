"""All that an account owns, in one file that opens anywhere; `bring_in` reads it."""

import io
import json
import re
import zipfile
from dataclasses import astuple, fields
from typing import Any

from adze.formats.errors import FormatError
from adze.formats.ground.geojson import write_geojson
from adze.formats.plan.plan_file import read_plan_document
from adze.formats.tables.rows_csv import rows_csv
from adze.store.build import work
from adze.store.build.work import NotedFigure, TaskEvent
from adze.store.connection import BeginTransaction
from adze.store.log import breaches, earth_tests, readings
from adze.store.log.breaches import BreachRow
from adze.store.log.earth_tests import StoredStray, StoredTest
from adze.store.log.readings import Reading
from adze.store.parts import shed
from adze.store.parts.shed import ShedItem
from adze.store.pictures import photos, pictures
from adze.store.pictures.photos import PhotoRow
from adze.store.plans import farms
from adze.store.plans.farms import Owned

_MOST_ROWS = 1_000_000
_README = """What you own in Adze.

To import all of it into another Adze, open the account's page and choose Bring everything in.
Each farm is a folder, each plan a folder in it:
  plan.json       the plan; Adze opens it again at Ground, Files
  fence.geojson   its lines, for any map
  readings.csv    what a tester showed, with what was forecast then
  earth_tests.csv earth tests as they were read
  stray_volts.csv volts read where animals drink
  work.csv        what was ticked and noted while it was built
  as_built.csv    what stands otherwise than drawn
  got_through.csv what got through, where and how
  photos.csv      which picture shows which step, defect or passage
  shed.csv        what is in the farm's shed
  pictures/       photos of places and the aerial photo
"""


def _folder(name: str, number: int) -> str:
    plain = re.sub(r"[^\w. -]+", "_", name).strip(" .")[:60] or "plan"
    return f"{plain} ({number})"


def everything(begin_transaction: BeginTransaction, account_id: int) -> bytes:
    """A ZIP of all farms: plans as JSON and GeoJSON, readings and earth tests as CSV, pictures as JPEG.

    Each plan is read in a transaction of its own, and pictures one at a time.
    """
    with begin_transaction() as connection:
        owned = farms.list_everything(connection, account_id=account_id)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", _README)
        for row in owned:
            _add(archive, begin_transaction, row, account_id)
    return out.getvalue()


def _add(archive: zipfile.ZipFile, begin_transaction: BeginTransaction, row: Owned, account_id: int) -> None:
    folder = f"{_folder(row.farm_name, row.farm_id)}/{_folder(row.name, row.id)}"
    archive.writestr(f"{folder}/plan.json", json.dumps(row.document, indent=1))
    try:
        archive.writestr(f"{folder}/fence.geojson", write_geojson(read_plan_document(row.document)))
    except FormatError:
        archive.writestr(f"{folder}/BROKEN.txt", "This plan cannot be opened as it stands; its document is kept.\n")
    with begin_transaction() as connection:
        read = readings.list_readings(connection, plan_id=row.id, most=_MOST_ROWS, withdrawn=True)
        tests = earth_tests.list_earth_tests(connection, plan_id=row.id, most=_MOST_ROWS)
        strays = earth_tests.list_stray_readings(connection, plan_id=row.id, most=_MOST_ROWS)
        done = work.list_task_events(connection, plan_id=row.id, most=_MOST_ROWS)
        standing = work.list_as_built(connection, plan_id=row.id)
        stored = shed.list_items(connection, farm_id=row.farm_id)
        names = pictures.list_pictures(connection, plan_id=row.id)
        through = breaches.list_passages(connection, plan_id=row.id, most=_MOST_ROWS)
        shown = photos.list_photos(connection, plan_id=row.id, most=_MOST_ROWS)
    logs: tuple[tuple[str, type[Any], tuple[Any, ...]], ...] = (
        ("readings", Reading, read),
        ("earth_tests", StoredTest, tests),
        ("stray_volts", StoredStray, strays),
        ("work", TaskEvent, done),
        ("as_built", NotedFigure, standing),
        ("shed", ShedItem, stored),
        ("got_through", BreachRow, through),
        ("photos", PhotoRow, shown),
    )
    for name, kind, rows in logs:
        if rows:
            head = [field.name for field in fields(kind)]
            archive.writestr(f"{folder}/{name}.csv", rows_csv(head, (astuple(one) for one in rows)))
    for picture in names:
        with begin_transaction() as connection:
            found = pictures.get_picture(connection, plan_id=row.id, picture_id=picture.id, account_id=account_id)
        archive.writestr(f"{folder}/pictures/{_folder(picture.name, picture.id)}.jpg", found.content)
