"""Everything the program says of known plans, written down to compare before and after a change of the code.

    python -m bench.record FILE             writes the record
    python -m bench.record FILE --against   says what differs from it; exit code 1 when something does

ADZE_TEST_DATABASE_URL names a PostgreSQL server. The plans are the demo farms and seeded random ones.
"""

import argparse
import json
import os
import re
import sys
from collections.abc import Iterator
from html.parser import HTMLParser
from itertools import islice
from pathlib import Path
from random import Random
from typing import Any
from uuid import uuid4

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import psycopg
from fastapi.testclient import TestClient

from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors, insulators, nettings, post_kinds
from adze.core.tables.energizers import energizers
from adze.core.tables.ground import grasses, landmark_kinds, rod_metals, soils
from adze.demo.farms import DEMO_FARMS
from adze.formats.cases.case_file import read_cases
from adze.formats.errors import FormatError
from adze.formats.plan.plan_file import dump_plan, read_plan_document
from adze.services.answers.cases import answer_case
from adze.services.answers.forecasts import verdict_json
from adze.settings import Settings
from adze.store.connection import Store, ensure_database, migrate
from adze.web.app import create_app

_GOLDEN = Path(__file__).parents[1] / "tests" / "golden"
_STAGES = ("stock", "ground", "strands", "power", "earth", "volts", "parts", "log")
_SEASONS = ("dry", "usual", "wet")
Document = dict[str, Any]


class _Flat(HTMLParser):
    """Tags, attributes and text of a page without its white space."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        words = [f"{name}={' '.join((value or '').split())}" for name, value in sorted(attrs) if name != "style"]
        self.rows.append(f"<{tag} {' '.join(words)}>")

    def handle_data(self, data: str) -> None:
        text = "".join(data.split())
        if text:
            self.rows.append(text)


def _flat(html: str) -> str:
    parser = _Flat()
    parser.feed(html)
    return "\n".join(parser.rows)


def random_document(seed: int) -> Document:
    """A plan of random lines, things, animals and choices; the same for the same seed."""
    rng = Random(seed)
    runs = [
        {
            "id": f"run{i}",
            "name": f"Line {i}",
            "points": _course(rng, i),
            "use": rng.choice(["fence", "fence", "cross", "spine", "temporary", "lane"]),
            "soil": rng.choice([None, None, *soils()]),
            "grass": rng.choice([None, None, *grasses()]),
        }
        for i in range(rng.randint(1, 6))
    ]
    stock = [
        {"id": f"herd{i}", "kind": kind, "count": rng.randint(1, 90), "schooled": rng.random() < 0.5}
        for i, kind in enumerate(rng.sample(sorted(animal_kinds()), rng.randint(1, 3)))
    ]
    document: Document = {
        "format": "adze-plan",
        "version": 1,
        "name": f"Random {seed}",
        "units": rng.choice(["metric", "imperial"]),
        "stock": stock,
        "runs": runs,
        "fixtures": [_fixture(rng, i, rng.choice(runs)["id"]) for i in range(rng.randint(0, 8))],
        "growths": [
            {"id": f"growth{i}", "run": rng.choice(runs)["id"], "from_m": 10.0, "to_m": 60.0, "grass": grass}
            for i, grass in enumerate(rng.sample(sorted(grasses()), rng.randint(0, 2)))
        ],
        "what_ifs": [_mishap(rng, i, rng.choice(runs)["id"]) for i in range(rng.choice([0, 0, 1, 2]))],
        "landmarks": [_landmark(rng, i) for i in range(rng.randint(0, 4))],
        "energizer": rng.choice(sorted(energizers())),
        "energizer_at": [-5.0, -5.0],
        "soil": rng.choice(sorted(soils())),
        "grass": rng.choice(sorted(grasses())),
        "scheme": rng.choice(["live", "alternate"]),
        "duty": rng.choice(["inner", "hold", "last"]),
        "conductor": rng.choice([key for key, row in conductors().items() if row.may_be_live]),
        "post": rng.choice(sorted(post_kinds())),
        "insulator": rng.choice([None, *insulators()]),
        "post_spacing_m": rng.choice([3, 6, 10]),
        "rods": _rods(rng),
        "half_power": rng.random() < 0.2,
    }
    if rng.random() < 0.4:
        own = (
            {"netting": rng.choice(sorted(nettings()))}
            if rng.random() < 0.4
            else {"post": rng.choice(sorted(post_kinds()))}
        )
        fence = {"id": "other", "name": "Other way", "herds": [stock[0]["id"]], "apron": rng.random() < 0.3}
        document["fences"] = [fence | own]
        rng.choice(runs)["fence"] = "other"
    return document


def _course(rng: Random, i: int) -> list[list[float]]:
    x, y = (0.0, 0.0) if i == 0 else (rng.uniform(0, 300), rng.uniform(-150, 150))
    points = [[round(x, 1), round(y, 1)]]
    for _ in range(rng.randint(1, 5)):
        x, y = x + rng.uniform(20, 200), y + rng.uniform(-120, 120)
        points.append([round(x, 1), round(y, 1)])
    return points


def _fixture(rng: Random, i: int, run: str) -> Document:
    kind = rng.choice(["gate", "switch", "crossing", "join", "strain", "rods", "diverter", "test", "sign"])
    row: Document = {
        "id": f"f{i}",
        "kind": kind,
        "run": run,
        "at_m": round(rng.uniform(1, 150), 1),
        "name": f"Thing {i}",
    }
    if kind == "gate":
        row |= {"style": rng.choice(["handle", "rope", "removable_post", "spring", "drive_over"])}
        row |= {"feeds": rng.choice(["both", "start", "end"]), "is_open": rng.random() < 0.2}
    if kind == "switch":
        row["is_open"] = rng.random() < 0.2
    return row


def _mishap(rng: Random, i: int, run: str) -> Document:
    kind = rng.choice(["branch", "insulator", "post", "tangle", "cut"])
    return {"id": f"w{i}", "kind": kind, "run": run, "at_m": round(rng.uniform(1, 100), 1)}


def _landmark(rng: Random, i: int) -> Document:
    kind = rng.choice(sorted(landmark_kinds()))
    at = [round(rng.uniform(-50, 400), 1), round(rng.uniform(-150, 150), 1)]
    points = [at, [at[0] + 60, at[1] + 10], [at[0] + 40, at[1] + 50]]
    return {"id": f"m{i}", "kind": kind, "name": f"Mark {i}", "points": points}


def _rods(rng: Random) -> Document:
    return {
        "count": rng.randint(0, 8),
        "length_m": rng.choice([1.0, 2.0, 2.5]),
        "spacing_m": rng.choice([1.0, 3.0]),
        "position": rng.choice([None, [-20.0, 10.0]]),
        "metal": rng.choice(sorted(rod_metals())),
        "layout": rng.choice(["row", "ring"]),
    }


def _documents(randoms: int) -> Iterator[tuple[str, Document]]:
    for farm in DEMO_FARMS:
        yield farm.name, dump_plan(farm.plan)
    made = (random_document(seed) for seed in range(20 * randoms))
    yield from islice(((d["name"], d) for d in made if _can_be(d)), randoms)


def _can_be(document: Document) -> bool:
    try:
        read_plan_document(document)
    except FormatError:
        return False
    return True


def _questions(document: Document) -> Iterator[str]:
    """Every address under a plan's api that reads."""
    yield from (f"/panel/{stage}" for stage in _STAGES)
    yield from (f"/pane/{pane}" for pane in ("lines", "feed", "blocks"))
    yield from (f"/band?season={season}" for season in _SEASONS)
    yield from (f"/budget?season={season}" for season in _SEASONS)
    yield from (f"/route?index={i}" for i in range(4))
    named = ("mends", "ways", "conductors", "units", "earth", "rod-schools", "earth-options", "stray", "rod-sites")
    yield from (f"/{name}" for name in named)
    yield "/units?more_km=1.5&rolls=2"
    for fence in document.get("fences", []):
        yield from (f"/{name}?fence={fence['id']}" for name in ("panel/strands", "ways", "conductors"))
    for run in document["runs"]:
        yield f"/inspect?chosen=run:{run['id']}"
        yield from (f"/stand?run={run['id']}&at_m={at}&season={s}&strand=1" for at in (0, 37.5) for s in _SEASONS)
    if document["runs"]:
        yield f"/wave?run={document['runs'][0]['id']}&at_m=20"
    for fixture in document["fixtures"]:
        yield f"/inspect?chosen=fixture:{fixture['id']}"
        if fixture["kind"] in ("switch", "gate"):
            yield f"/zone?switch={fixture['id']}"
    yield from (f"/inspect?chosen=landmark:{mark['id']}" for mark in document["landmarks"])


_PAGES = (
    "/parts.csv",
    "/plan.json",
    "/fence.geojson",
    "/fence.gpx",
    "/fence.kml",
    "/fence.csv",
    "/paper/ground",
    "/paper/pole",
    "/earth-test",
    "/log/reading",
    "/compare",
)


def _said(text: str, plan_id: int) -> str:
    text = text.replace(f"plans/{plan_id}", "plans/N").replace(f'data-plan="{plan_id}"', 'data-plan="N"')
    text = re.sub(r'(name="csrf" value|data-csrf)="[^"]*"', r'\1="-"', text)
    text = re.sub(r'(name="once"\s+value)="[^"]*"', r'\1="-"', text)
    text = re.sub(r'<(link|script)[^>]*"/static/[^>]*>(</script>)?', "", text)  # files of the page, which say nothing
    return re.sub(r"(just now|\d+ minutes? ago|today)", "now", text)


def _answer(client: TestClient, plan_id: int, address: str) -> str:
    answer = client.get(address.replace("ID", str(plan_id)))
    text = _said(answer.text, plan_id)
    kind = answer.headers.get("content-type", "")
    if kind.startswith("application/json"):
        body = answer.json()
        if isinstance(body, dict):
            for key in ("edition", "revision", "can_undo", "can_redo"):
                body.pop(key, None)
            for key in ("panel", "html"):
                if key in body:
                    body[key] = _flat(_said(body[key], plan_id))
        text = json.dumps(body, indent=1, sort_keys=True)
    elif kind.startswith("text/html"):
        text = _flat(text)
    return f"{answer.status_code}\n{text}"


def _sign_in(client: TestClient) -> str:
    found = re.search(r'name="csrf"\s+value="([^"]+)"', client.get("/sign-in").text)
    assert found
    client.post("/demo", data={"csrf": found[1]})
    page = client.get("/").text
    found = re.search(r'name="csrf"\s+value="([^"]+)"', page)
    assert found
    return found[1]


def record(randoms: int) -> dict[str, dict[str, str]]:
    """Every answer by plan and question."""
    from adze.services.plans.plans import begin_plan
    from adze.store.plans.farms import add_farm

    server = os.environ["ADZE_TEST_DATABASE_URL"]
    name = f"adze_record_{uuid4().hex[:8]}"
    url = ensure_database(server, name)
    migrate(url)
    store = Store(url, size=2)
    found: dict[str, dict[str, str]] = {}
    for file in sorted(set(_GOLDEN.glob("*.json")) - {_GOLDEN / "trace.json"}):  # a search is no case of one answer
        cases = read_cases(file.read_text())
        found[file.name] = {case.id: json.dumps(answer_case(case), indent=1) for case in cases}
    settings = Settings(database_url=url, pool_size=3)
    with TestClient(create_app(settings), raise_server_exceptions=False) as client:
        _sign_in(client)
        with store.begin_transaction() as connection:
            account = connection.execute("SELECT max(id) FROM account").fetchone()[0]
        for title, document in _documents(randoms):
            plan = read_plan_document(document)
            with store.begin_transaction() as connection:
                farm = add_farm(connection, account_id=account, name=f"Record of {title}")
                plan_id = begin_plan(connection, farm_id=farm.id, name=plan.name, made_by=account, plan=plan)
            rows = {"check": json.dumps(verdict_json(plan), indent=1)}
            rows |= {ask: _answer(client, plan_id, f"/api/plans/ID{ask}") for ask in _questions(document)}
            rows |= {ask: _answer(client, plan_id, f"/plans/ID{ask}") for ask in _PAGES}
            found[title] = rows
            print(f"{title}: {len(rows)} answers", flush=True)
        found["pages"] = {"/": _answer(client, 0, "/")}
    store.close()
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")
    return found


def differences(old: dict[str, dict[str, str]], new: dict[str, dict[str, str]]) -> Iterator[str]:
    """What differs, with the first line that does."""
    for title in old.keys() | new.keys():
        before, after = old.get(title, {}), new.get(title, {})
        for ask in sorted(before.keys() | after.keys()):
            one, other = before.get(ask, "(nothing)"), after.get(ask, "(nothing)")
            if one == other:
                continue
            pairs = zip([*one.splitlines(), ""], [*other.splitlines(), ""], strict=False)
            first = next(((a, b) for a, b in pairs if a != b), ("", "more lines"))
            yield f"{title} {ask}: {first[0][:200]!r} -> {first[1][:200]!r}"


def main() -> None:
    """Write the record, or compare with it."""
    parser = argparse.ArgumentParser()
    parser.add_argument("file", type=Path)
    parser.add_argument("--against", action="store_true")
    parser.add_argument("--randoms", type=int, default=50)
    given = parser.parse_args()
    new = record(given.randoms)
    if not given.against:
        given.file.write_text(json.dumps(new))
        return
    found = list(differences(json.loads(given.file.read_text()), new))
    print("\n".join(found) or "no answer differs")
    sys.exit(bool(found))


if __name__ == "__main__":
    main()
