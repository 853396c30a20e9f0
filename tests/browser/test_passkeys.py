"""A passkey is made and signs in, in the real browser with a simulated device."""

from collections.abc import Iterator
from uuid import uuid4

import pytest
from selenium.webdriver.common.virtual_authenticator import Protocol, Transport, VirtualAuthenticatorOptions

from tests.browser.pages.base import Browser, Page

GOOD = "eleven grey geese"


@pytest.fixture
def device(browser: Browser) -> Iterator[Browser]:
    """A browser whose device knows its owner. Passkeys hold at a name, not at a number."""
    browser.address = browser.address.replace("127.0.0.1", "localhost")
    how = VirtualAuthenticatorOptions(
        protocol=Protocol.CTAP2,
        transport=Transport.INTERNAL,
        has_resident_key=True,
        has_user_verification=True,
        is_user_verified=True,
    )
    browser.driver.add_virtual_authenticator(how)
    yield browser
    browser.driver.remove_virtual_authenticator()


def test_a_passkey_is_made_signs_in_and_is_taken_off(device: Browser) -> None:
    page = Page(device)
    page.driver.get(f"{device.address}/sign-up")
    page.find("[name=login]").send_keys(f"owner-{uuid4().hex[:8]}")
    page.find("[name=name]").send_keys("Ann Reach")
    page.find("[name=password]").send_keys(GOOD)
    page.find("form[action$='/sign-up'] button[type=submit]").click()
    page.until(lambda: page.driver.current_url == f"{device.address}/", "no account was made")

    page.driver.get(f"{device.address}/account")
    page.find("#passkey-add").click()
    page.until(lambda: "not your password" in page.find("#passkey-add-why").text, "a wrong password is not said")
    page.find("#passkey-password").send_keys(GOOD)
    page.find("#passkey-add").click()
    assert "not used yet" in page.find("[data-test=passkey]").text

    page.driver.delete_all_cookies()
    page.driver.get(f"{device.address}/sign-in")
    page.find("#passkey-sign-in").click()
    page.until(lambda: page.driver.current_url == f"{device.address}/", "the passkey lets nobody in")
    page.driver.get(f"{device.address}/account")
    assert "last used" in page.find("[data-test=passkey]").text
    assert "signed in with a passkey" in page.find("main").text
    page.find("[data-test=passkey] button").click()
    page.until(lambda: not page.all("[data-test=passkey]"), "the passkey stays")

    page.driver.delete_all_cookies()
    page.driver.get(f"{device.address}/sign-in")
    page.find("#passkey-sign-in").click()
    page.until(lambda: "not known here" in page.find("#passkey-sign-in-why").text, "a passkey that is gone lets in")
