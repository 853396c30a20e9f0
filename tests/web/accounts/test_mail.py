"""An address of one's own, another password by mail, and the mail server there and away."""

import asyncio
import re
from email.message import Message
from uuid import uuid4

import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.handlers import Message as Handler
from fastapi.testclient import TestClient

from adze.services.jobs.mails import deliver, sender
from adze.services.jobs.pushes import deliverer
from adze.services.worker import Duties, work_off
from adze.settings import Settings
from adze.store.connection import Store
from adze.store.messages.mails import NewMail, add_mail, get_mail, list_mails
from adze.web.app import Application as App
from tests.faults.service import free_port
from tests.web.accounts.test_accounts import sign_in
from tests.web.conftest import GOOD, said, word

NEW = "six wet woolly ewes"


def propose(client: TestClient, mail: str, password: str = GOOD) -> str:
    data = {"csrf": word(client.get("/account").text), "mail": mail, "mail_password": password}
    return said(client.post("/account/mail", data=data).text)


def link(store: Store, mail: str) -> str:
    """The path of the link in the newest mail to an address."""
    with store.begin_transaction() as connection:
        bodies = [row.body for row in list_mails(connection, most=50) if row.to_mail == mail]
    found = re.search(r"https?://[^/]+(/\S+)", bodies[0])
    assert found
    return found[1]


def confirm(client: TestClient, store: Store, mail: str) -> None:
    assert "A link is on its way" in propose(client, mail)
    path = link(store, mail)
    page = client.get(path)
    assert mail in page.text
    assert client.post(path, data={"csrf": word(page.text)}).status_code == 303
    assert client.get(path).status_code == 404
    assert f"can send a new password to <b>{mail}</b>" in said(client.get("/account").text)


def forget(client: TestClient, login: str) -> str:
    return said(client.post("/forgot", data={"csrf": word(client.get("/forgot").text), "login": login}).text)


def test_a_forgotten_password_is_replaced_by_mail(client: TestClient, store: Store, owner: str) -> None:
    mail = f"{owner}@farm.example"
    confirm(client, store, mail)
    assert "If that name has" in forget(client, owner)
    path = link(store, mail)
    csrf = word(client.get(path).text)
    assert client.post(path, data={"csrf": csrf, "new": "password"}).status_code == 422
    assert client.get("/account").status_code == 200
    assert client.post(path, data={"csrf": csrf, "new": NEW}).status_code == 303
    assert client.get("/account").status_code == 303
    assert client.get(path).status_code == 404
    assert sign_in(client, owner, GOOD) == 422
    assert sign_in(client, owner, NEW) == 303
    assert "new password by mail" in client.get("/account").text


def test_strangers_who_ask_shut_no_owner_out(client: TestClient, store: Store, owner: str, application: App) -> None:
    mail = f"{owner}@farm.example"
    confirm(client, store, mail)
    for number in range(8):
        stranger = TestClient(application, follow_redirects=False, client=(f"203.0.113.{number}", 5000))
        assert "If that name has" in forget(stranger, owner)
    with store.begin_transaction() as connection:
        sent = sum(row.to_mail == mail for row in list_mails(connection, most=100))
    assert sent <= 6
    assert "If that name has" in forget(client, owner)
    with store.begin_transaction() as connection:
        assert sum(row.to_mail == mail for row in list_mails(connection, most=100)) == sent + 1


def test_nobody_learns_which_names_there_are(client: TestClient, store: Store, owner: str) -> None:
    nobody = f"nobody-{uuid4().hex[:6]}"
    assert forget(client, owner).replace(owner, "") == forget(client, nobody).replace(nobody, "")
    with store.begin_transaction() as connection:
        assert not [row for row in list_mails(connection, most=50) if owner in row.to_mail]


@pytest.mark.usefixtures("owner")
@pytest.mark.parametrize(
    ("mail", "password", "says"),
    [
        ("nonsense", GOOD, "write an address"),
        ("a@b", "wrong", "not your password"),
        ("x" * 260 + "@b", GOOD, "write an address"),
    ],
)
def test_what_cannot_be_an_address_is_said(client: TestClient, mail: str, password: str, says: str) -> None:
    assert says in propose(client, mail, password)


def test_mails_are_not_asked_for_without_end(client: TestClient, owner: str) -> None:
    answers = [propose(client, f"{owner}@farm.example") for _ in range(6)]
    assert "on its way" in answers[4]
    assert "Too many" in answers[5]


class _Kept(Handler):
    def __init__(self) -> None:
        super().__init__()
        self.messages: list[Message] = []

    def handle_message(self, message: Message) -> None:
        self.messages.append(message)


def test_a_mail_is_sent_once_the_server_is_back(store: Store) -> None:
    with store.begin_transaction() as connection:
        mail_id = add_mail(connection, NewMail(to_mail="ann@farm.example", subject="Hello", body="A link"))
    kept = _Kept()
    port = free_port()
    send = sender(f"smtp://127.0.0.1:{port}", "adze@farm.example")
    with pytest.raises(OSError, match="refused"):
        deliver(store.begin_transaction, mail_id, send)
    server = Controller(kept, hostname="127.0.0.1", port=port)
    server.start()
    try:
        deliver(store.begin_transaction, mail_id, send)
        deliver(store.begin_transaction, mail_id, send)
    finally:
        server.stop()
    (message,) = kept.messages
    assert (message["To"], message["From"], message["Subject"]) == ("ann@farm.example", "adze@farm.example", "Hello")
    with store.begin_transaction() as connection:
        assert get_mail(connection, mail_id=mail_id) is None


def test_without_a_server_a_job_leaves_the_mail_to_be_read(
    client: TestClient, settings: Settings, store: Store, owner: str
) -> None:
    mail = f"{owner}@farm.example"
    propose(client, mail)
    asyncio.run(work_off(Duties(str(settings.database_url), store.begin_transaction, sender("", ""), deliverer(""))))
    assert link(store, mail).startswith("/mail/")


def test_links_in_mails_are_at_the_address_of_the_settings() -> None:
    with pytest.raises(ValueError, match="ADZE_ADDRESS must be set"):
        Settings(smtp_url="smtp://mail.example")
    assert Settings(smtp_url="smtp://mail.example", address="https://farm.example").address
