"""Farms shared in a role; strangers and those with a lesser role over every route there is."""

import re
from collections.abc import Iterator
from typing import Any
from urllib.parse import quote
from uuid import uuid4

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from adze.services.sharing.people import PlanRole
from adze.settings import Settings
from adze.store.connection import Store
from adze.store.messages.mails import list_mails
from adze.web.app import ROUTERS, create_app
from tests.web.conftest import PlanPage, said, word

GOOD = "eleven grey geese"


class Person:
    """Somebody with an account and a browser."""

    def __init__(self, client: TestClient, name: str) -> None:
        self.client, self.name, self.login = client, name, f"{name.lower()}-{uuid4().hex[:8]}"
        data = {"csrf": word(client.get("/sign-up").text), "login": self.login, "name": name, "password": GOOD}
        assert client.post("/sign-up", data=data).status_code == 303
        self.csrf = word(client.get("/").text)

    def post(self, path: str, **data: Any) -> Any:
        return self.client.post(path, data={"csrf": self.csrf, **data})

    def join(self, link: str) -> Any:
        return self.post("/join/" + link.rsplit("/", 1)[1])


@pytest.fixture
def people(settings: Settings) -> Iterator[list[Person]]:
    """Ann, who holds a farm, and Ben, who is on none."""
    application = create_app(settings.model_copy(update={"sign_ups_an_hour": 10_000}))
    with TestClient(application, follow_redirects=False, raise_server_exceptions=False) as first:
        second = TestClient(application, follow_redirects=False, raise_server_exceptions=False)
        yield [Person(first, "Ann"), Person(second, "Ben")]


@pytest.fixture
def farm(people: list[Person]) -> tuple[int, int]:
    """Ann's farm and its plan."""
    made = people[0].post("/farms", name="Hollow Reach")
    plan = int(made.headers["location"].split("/")[2])
    found = re.search(r'data-test="farm-(\d+)"', people[0].client.get("/").text)
    assert found
    PlanPage(people[0].client, plan).draw()
    return int(found[1]), plan


def link_for(owner: Person, farm_id: int, role: PlanRole, **data: Any) -> str:
    answer = owner.post(f"/farms/{farm_id}/people/invite", role=int(role), **data)
    found = re.search(r'value="(http[^"]+/join/[^"]+)"', answer.text)
    assert found, answer.text
    return found[1]


def bring_in(people: list[Person], farm_id: int, role: PlanRole) -> Person:
    ann, ben = people
    assert ben.join(link_for(ann, farm_id, role)).status_code == 303
    return ben


ROUTES = [
    (method, route)
    for router in ROUTERS
    for route in router.routes
    if isinstance(route, APIRoute)
    for method in sorted(route.methods)
    if "{plan_id}" in route.path or "{farm_id}" in route.path
]
_VALUES = {"stage": "volts", "season": "dry", "kind": "geojson", "what": "take-off", "number": "1"}
LOGS = {
    "/plans/{plan_id}/log/reading", "/plans/{plan_id}/earth-test", "/api/plans/{plan_id}/stray",
    "/api/plans/{plan_id}/log/readings", "/api/plans/{plan_id}/log/upkeep", "/api/plans/{plan_id}/log/defects",
    "/api/plans/{plan_id}/log/through", "/api/plans/{plan_id}/log/used", "/api/plans/{plan_id}/log/rain",
    "/api/plans/{plan_id}/photos", "/api/plans/{plan_id}/photos/drop",
    "/api/plans/{plan_id}/work/tick", "/api/plans/{plan_id}/work/built",
    "/api/plans/{plan_id}/trace", "/api/plans/{plan_id}/trace/steps", "/api/plans/{plan_id}/trace/field",
    "/api/plans/{plan_id}/trace/field/photo",
    "/api/plans/{plan_id}/trace/undo", "/api/plans/{plan_id}/trace/end",
}  # fmt: skip


def ask(person: Person, method: str, route: APIRoute, farm_id: int, plan: int) -> int:
    values = {"plan_id": str(plan), "farm_id": str(farm_id)}
    path = re.sub(r"\{(\w+)(?::\w+)?\}", lambda m: values.get(m[1]) or _VALUES.get(m[1], "1"), route.path)
    headers = {"X-CSRF-Token": person.csrf}
    if method in ("GET", "HEAD"):
        return int(person.client.request(method, path, headers=headers).status_code)
    form = {"csrf": person.csrf, "role": "1", "name": "Mine"}
    return int(person.client.request(method, path, headers=headers, data=form).status_code)


def test_a_stranger_gets_nothing_by_any_route(people: list[Person], farm: tuple[int, int]) -> None:
    assert len(ROUTES) > 40
    answers = {f"{method} {route.path}": ask(people[1], method, route, *farm) for method, route in ROUTES}
    assert {path: status for path, status in answers.items() if status != 404} == {}


def test_a_reader_changes_nothing_by_any_route(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.READER)
    before = PlanPage(people[0].client, farm[1]).state["edition"]
    allowed = {
        f"{method} {route.path}"
        for method, route in ROUTES
        if method not in ("GET", "HEAD") and ask(ben, method, route, *farm) not in (403, 404)
    }
    assert allowed == set()
    assert ben.client.get(f"/plans/{farm[1]}/volts").status_code == 200
    assert PlanPage(people[0].client, farm[1]).state["edition"] == before


def test_the_crew_logs_and_changes_nothing_else(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.CREW)
    writes = [(method, route) for method, route in ROUTES if method not in ("GET", "HEAD")]
    allowed = {route.path for method, route in writes if ask(ben, method, route, *farm) not in (403, 404)}
    assert allowed == LOGS
    reading = {"run": "line1", "at_m": "10", "strand": "1", "kv": "5.5", "season": "dry"}
    assert ben.post(f"/plans/{farm[1]}/log/reading", **reading).status_code == 303


def test_an_editor_changes_plans_and_not_who_is_there(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.EDITOR)
    assert PlanPage(ben.client, farm[1]).save(soil="wet_clay").status_code == 200
    assert "Ben" in people[0].client.get(f"/plans/{farm[1]}/history").text
    assert ben.client.get(f"/farms/{farm[0]}/people").status_code == 403
    assert ben.post(f"/farms/{farm[0]}/rename", name="Mine").status_code == 403
    assert "of Ann, who lets you change plans" in said(ben.client.get("/").text)


def test_an_invitation_lets_one_person_in_once(people: list[Person], farm: tuple[int, int]) -> None:
    ann, ben = people
    link = link_for(ann, farm[0], PlanRole.READER)
    path = "/join/" + link.rsplit("/", 1)[1]
    assert "Ann invites you to Hollow Reach" in said(ben.client.get(path).text)
    assert ben.post(path).status_code == 303
    assert "has been used" in ben.client.get(path).text
    taken_back = "/join/" + link_for(ann, farm[0], PlanRole.EDITOR).rsplit("/", 1)[1]
    number = re.search(r"/people/withdraw/(\d+)", ann.client.get(f"/farms/{farm[0]}/people").text)
    assert number
    assert ann.post(f"/farms/{farm[0]}/people/withdraw/{number[1]}").status_code == 303
    assert ben.client.get(taken_back).status_code == 404
    assert "was cancelled" in ben.client.get(taken_back).text
    assert "1 to 90 days" in ann.post(f"/farms/{farm[0]}/people/invite", role=1, days=400).text
    assert ann.post(f"/farms/{farm[0]}/people/invite", role=9).status_code == 422


def test_a_lesser_invitation_takes_no_right_away(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.EDITOR)
    assert ben.join(link_for(people[0], farm[0], PlanRole.READER)).status_code == 303
    assert PlanPage(ben.client, farm[1]).save(soil="wet_clay").status_code == 200
    assert people[0].join(link_for(people[0], farm[0], PlanRole.READER)).status_code == 303
    assert people[0].client.get(f"/farms/{farm[0]}/people").status_code == 200


def test_a_role_is_changed_and_taken_back_at_once(people: list[Person], farm: tuple[int, int]) -> None:
    ann, ben = people
    bring_in(people, farm[0], PlanRole.EDITOR)
    html = ann.client.get(f"/farms/{farm[0]}/people").text
    number = re.search(r"/people/(\d+)/role", html)
    assert number
    own = f"/farms/{farm[0]}/people/{number[1]}"
    page = PlanPage(ben.client, farm[1])
    assert ann.post(f"{own}/role", role=1).status_code == 303
    refused = page.save(soil="dry_sand")
    assert refused.status_code == 403
    assert "You may look at this farm, but not change it" in refused.json()["message"]
    assert ann.post(f"{own}/take-off").status_code == 303
    assert page.get("/panel/ground").status_code == 404
    assert ann.post(f"{own}/take-off").status_code == 404


def test_who_holds_a_farm_stays_its_owner(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.OWNER)
    ann_id = ben.client.get(f"/farms/{farm[0]}/people").text
    assert "holds this farm" in ann_id
    numbers = {int(n) for n in re.findall(r"/people/(\d+)/role", ann_id)}
    founder = min(numbers) - 1
    answer = ben.post(f"/farms/{farm[0]}/people/{founder}/take-off")
    assert answer.status_code == 422
    assert "stays its owner" in answer.text


def test_who_leaves_leaves_what_they_wrote(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.EDITOR)
    assert PlanPage(ben.client, farm[1]).save(soil="wet_clay").status_code == 200
    assert ben.post("/account/end", password=GOOD).status_code == 303
    assert "somebody who left" in people[0].client.get(f"/plans/{farm[1]}/history").text
    assert PlanPage(people[0].client, farm[1]).state["document"]["soil"] == "wet_clay"


def test_another_owner_takes_the_farm_off_and_back(people: list[Person], farm: tuple[int, int]) -> None:
    ben = bring_in(people, farm[0], PlanRole.OWNER)
    assert ben.post(f"/farms/{farm[0]}/removal/take-off").status_code == 303
    assert people[0].client.get(f"/plans/{farm[1]}/volts").status_code == 404
    assert f"/farms/{farm[0]}/removal/take-back" in ben.client.get("/").text
    assert ben.post(f"/farms/{farm[0]}/removal/take-back").status_code == 303
    assert people[0].client.get(f"/plans/{farm[1]}/volts").status_code == 200


def test_a_link_shows_one_plan_to_whoever_has_it_until_it_is_taken_back(
    people: list[Person], farm: tuple[int, int]
) -> None:
    ann, ben = people
    other = int(ann.post("/farms", name="Elsewhere").headers["location"].split("/")[2])
    made = ann.post(f"/farms/{farm[0]}/people/show", plan=farm[1], days=30).text
    found = re.search(r'value="http[^"]+(/look/[^"]+)"', made)
    assert found
    guest = TestClient(ben.client.app, follow_redirects=False, raise_server_exceptions=False)
    page = guest.get(found[1]).text
    assert "Ann shows you" in page
    assert guest.post(found[1], data={"csrf": "other"}).status_code == 403
    assert guest.post(found[1], data={"csrf": word(page)}).headers["location"] == f"/plans/{farm[1]}"
    assert guest.get(f"/plans/{farm[1]}/volts").status_code == 200
    assert guest.get(f"/plans/{farm[1]}/compare").status_code == 200
    assert guest.get(f"/plans/{other}/volts").status_code == 404
    for path in ("/", "/account", "/everything.zip", f"/farms/{farm[0]}/people"):
        assert guest.get(path).status_code == 403
    looked = PlanPage(guest, farm[1])
    assert looked.save(soil="wet_clay").status_code == 403
    assert "look at this farm" in looked.save(soil="wet_clay").json()["message"]

    assert ben.post(found[1], csrf=word(ben.client.get(found[1]).text)).status_code == 303
    assert ben.client.get(f"/plans/{farm[1]}/volts").status_code == 200
    assert ben.client.get("/").status_code == 200

    link = re.search(r"/people/hide/(\d+)", ann.client.get(f"/farms/{farm[0]}/people").text)
    assert link
    assert ann.post(f"/farms/{farm[0]}/people/hide/{link[1]}").status_code == 303
    assert guest.get(f"/plans/{farm[1]}/volts").status_code == 404
    assert ben.client.get(f"/plans/{farm[1]}/volts").status_code == 404
    assert guest.get(found[1]).status_code == 404


@pytest.mark.parametrize(("days", "plan"), [(0, "own"), (366, "own"), (30, "other")])
def test_a_link_that_cannot_be_made_is_said(people: list[Person], farm: tuple[int, int], days: int, plan: str) -> None:
    shown = farm[1] if plan == "own" else int(people[0].post("/farms", name="X").headers["location"].split("/")[2])
    answer = people[0].post(f"/farms/{farm[0]}/people/show", plan=shown, days=days)
    assert answer.status_code == 422
    assert ("1 to 365 days" if plan == "own" else "choose one of this farm") in answer.text


def test_sharing_and_taking_off_ask_for_the_password_after_a_while(
    people: list[Person], farm: tuple[int, int], store: Store
) -> None:
    ann = people[0]
    with store.begin_transaction() as connection:
        connection.execute("UPDATE session SET confirmed_at = now() - interval '6 minutes'")
    address = f"/farms/{farm[0]}/people"
    # Every address that changes who may do what, from the list of routes itself.
    routers = ann.client.app.state.routers  # type: ignore[attr-defined]
    posts = [r.path for router in routers for r in router.routes if "POST" in getattr(r, "methods", ())]
    walked = [path for path in posts if re.search("/people/|take-off|/removal/", path) and "{farm_id}" in path]
    walked += [path for path in posts if path == "/account/passkeys/{passkey_id}/take-off"]
    assert len(walked) >= 8
    for path in (re.sub(r"\{\w+\}", "1", path.replace("{farm_id}", str(farm[0]))) for path in walked):
        asked = ann.client.post(
            path, data={"csrf": ann.csrf, "role": "1"}, headers={"Referer": f"http://testserver{address}"}
        )
        assert asked.headers["location"].endswith(f"/account/confirm?next={quote(address, safe='')}")
    page = ann.client.get(asked.headers["location"]).text
    assert f'name="next" value="{address}"' in page
    wrong = ann.post("/account/confirm", password="wrong", next=address)
    assert wrong.status_code == 422
    assert "not your password" in wrong.text
    assert ann.post("/account/confirm", password=GOOD, next="//elsewhere.example").headers["location"] == "/"
    assert ann.post(f"{address}/invite", role=1).status_code == 200


def test_an_invitation_is_mailed(people: list[Person], farm: tuple[int, int], store: Store) -> None:
    ann, ben = people
    mail = f"{uuid4().hex[:8]}@farm.example"
    link = link_for(ann, farm[0], PlanRole.EDITOR, mail=mail)
    with store.begin_transaction() as connection:
        (found,) = [row for row in list_mails(connection, most=50) if row.to_mail == mail]
    assert link in found.body
    assert "Ann invites you to Hollow Reach" in found.body
    assert ben.join(link).status_code == 303
    refused = ann.post(f"/farms/{farm[0]}/people/invite", role=1, mail="nonsense")
    assert refused.status_code == 422
    assert "write an address" in refused.text


def test_a_visitor_to_the_demo_mails_nobody(demo: TestClient, store: Store) -> None:
    html = demo.get("/").text
    farm = re.search(r'data-test="farm-(\d+)"', html)
    assert farm
    mail = f"{uuid4().hex[:8]}@farm.example"
    data = {"csrf": word(html), "role": "1", "mail": mail}
    answer = demo.post(f"/farms/{farm[1]}/people/invite", data=data)
    assert "a visitor to the demo sends none" in answer.text
    assert "/join/" in answer.text
    with store.begin_transaction() as connection:
        assert not [row for row in list_mails(connection, most=50) if row.to_mail == mail]


def test_a_guest_signs_out(people: list[Person], farm: tuple[int, int]) -> None:
    made = people[0].post(f"/farms/{farm[0]}/people/show", plan=farm[1], days=30).text
    found = re.search(r'value="http[^"]+(/look/[^"]+)"', made)
    assert found
    guest = TestClient(people[0].client.app, follow_redirects=False, raise_server_exceptions=False)
    assert guest.post(found[1], data={"csrf": word(guest.get(found[1]).text)}).status_code == 303
    csrf = PlanPage(guest, farm[1]).csrf
    assert guest.post("/sign-out", data={"csrf": csrf}).status_code == 303
    assert guest.get(f"/plans/{farm[1]}/volts").status_code == 303
