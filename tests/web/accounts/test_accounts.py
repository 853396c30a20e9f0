"""The pages of one's own account, and sign-ins under attack."""

import re
from concurrent.futures import ThreadPoolExecutor
from uuid import uuid4

from fastapi.testclient import TestClient

from adze.settings import Settings
from adze.web.app import create_app
from tests.web.conftest import GOOD, said, word


def sign_in(client: TestClient, login: str, password: str) -> int:
    csrf = word(client.get("/sign-in").text)
    return client.post("/sign-in", data={"csrf": csrf, "login": login, "password": password}).status_code


def test_another_password_and_the_old_one_is_none(client: TestClient, owner: str) -> None:
    csrf = word(client.get("/account").text)
    wrong = client.post("/account/password", data={"csrf": csrf, "now": "wrong", "new": "six wet woolly ewes"})
    assert wrong.status_code == 422
    assert "not your password" in wrong.text
    done = client.post("/account/password", data={"csrf": csrf, "now": GOOD, "new": "six wet woolly ewes"})
    assert "The password is changed" in done.text
    assert "password changed" in done.text
    assert sign_in(client, owner, GOOD) == 422
    assert sign_in(client, owner, "six wet woolly ewes") == 303


def test_a_new_sign_in_ends_the_session_that_the_browser_had(client: TestClient, owner: str) -> None:
    before = client.cookies["adze_session"]
    assert sign_in(client, owner, GOOD) == 303
    client.cookies.clear()
    client.cookies.set("adze_session", before)
    assert client.get("/").status_code == 303


def test_devices_are_shown_and_signed_out(client: TestClient, owner: str) -> None:
    html = client.get("/account").text
    assert f"You sign in as <b>{owner}</b>" in said(html)
    assert html.count("(this one)") == 1
    device = re.search(r"/account/devices/(\d+)/sign-out", html)
    assert device
    gone = client.post(f"/account/devices/{device[1]}/sign-out", data={"csrf": word(html)})
    assert gone.headers["location"].endswith("/sign-in")
    assert client.get("/account").status_code == 303


def test_an_account_is_ended_by_its_owner_only(client: TestClient, owner: str) -> None:
    csrf = word(client.get("/account").text)
    assert client.post("/account/end", data={"csrf": csrf, "password": "wrong"}).status_code == 422
    assert client.post("/account/end", data={"csrf": csrf, "password": GOOD}).status_code == 303
    assert sign_in(client, owner, GOOD) == 422


def test_sixty_wrong_passwords_leave_every_page_open(client: TestClient, settings: Settings) -> None:
    """They come at once: two are hashed at a time, a few wait, the rest are told when to come again."""
    csrf = word(client.get("/sign-in").text)

    def wrong(number: int) -> int:
        data = {"csrf": csrf, "login": f"nobody-{number}", "password": "wrong"}
        return client.post("/sign-in", data=data).status_code

    with TestClient(create_app(settings), follow_redirects=False) as other, ThreadPoolExecutor(61) as crowd:
        answers = [crowd.submit(wrong, number) for number in range(60)]
        page = crowd.submit(lambda: other.get("/sign-in").status_code)
        assert page.result(30) == 200
        statuses = {answer.result(60) for answer in answers}
    assert statuses <= {422, 429}
    assert 429 in statuses


def test_who_fails_too_often_is_told_when_to_come_again(client: TestClient) -> None:
    csrf, login = word(client.get("/sign-in").text), f"guessed-{uuid4().hex[:8]}"
    answers = [client.post("/sign-in", data={"csrf": csrf, "login": login, "password": f"wrong {n}"}) for n in range(6)]
    assert [answer.status_code for answer in answers] == [422] * 5 + [429]
    assert answers[-1].headers["retry-after"] == "1"
    assert "Try again in" in answers[-1].text


def test_the_demo_can_be_turned_off(settings: Settings) -> None:
    closed = settings.model_copy(update={"demo": False})
    with TestClient(create_app(closed), follow_redirects=False) as client:
        html = client.get("/sign-in").text
        assert "Open the demo farms" not in html
        assert client.post("/demo", data={"csrf": word(html)}).status_code == 404


def test_a_visitor_is_told_how_long_the_farms_stay(demo: TestClient) -> None:
    html = demo.get("/account").text
    assert "yours for a day, then they are dropped" in said(html)
    assert "Another password" not in html


def test_a_passkey_that_answers_nothing_is_refused(client: TestClient) -> None:
    csrf = word(client.get("/sign-in").text)
    assert client.post("/api/sign-in/begin", json={"csrf": "other"}).status_code == 403
    asked = client.post("/api/sign-in/begin", json={"csrf": csrf}).json()
    for credential in ({}, {"rawId": "x"}, {"rawId": 7, "response": []}):
        body = {"csrf": csrf, "challenge": asked["challenge"], "credential": credential}
        answer = client.post("/api/sign-in", json=body)
        assert answer.status_code == 422
        assert (
            "Sign in with your password" in answer.json()["message"] or "answered already" in answer.json()["message"]
        )


def test_an_account_gets_no_passkey_by_a_made_up_answer(client: TestClient, owner: str) -> None:
    assert owner
    csrf = word(client.get("/account").text)
    headers = {"X-CSRF-Token": csrf}
    begun = client.post("/api/account/passkeys/begin", json={"password": GOOD}, headers=headers).json()
    assert begun["options"]["rp"]["id"] == "testserver"
    body = {"challenge": begun["challenge"], "credential": {"id": "x", "rawId": "x", "response": {}}}
    answer = client.post("/api/account/passkeys", json=body, headers=headers)
    assert answer.status_code == 422
    assert "does not fit" in answer.json()["message"]


def test_a_fence_is_planned_without_an_account_and_kept_with_one(client: TestClient) -> None:
    html = client.get("/sign-in").text
    begun = client.post("/try", data={"csrf": word(html)}, follow_redirects=True)
    assert "Plan a fence: five questions" in begun.text
    plan = str(begun.url.path)
    page = client.get("/sign-up").text
    assert "Adze keeps what you have planned" in page
    typed = {"csrf": word(page), "login": "keeper-of-it", "name": "Ann", "password": "twelve grey geese"}
    kept = client.post("/sign-up", data=typed, follow_redirects=True)
    assert "My farm" in kept.text
    assert client.get(plan).status_code == 200
    assert "You sign in as" in client.get("/account").text
    again = client.post("/sign-up", data=typed | {"csrf": word(client.get("/sign-up").text)})
    assert "taken" in again.text.lower()
