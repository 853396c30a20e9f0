"""The real application in headless Chromium: server, driver, and pictures of what failed."""

import shutil
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from selenium import webdriver

from adze.settings import Settings
from adze.web.app import create_app
from tests.browser.pages.base import Browser

_FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-sync",
    "--disable-background-networking",
    "--disable-component-update",
    "--hide-scrollbars",
    "--window-size=1280,940",
)


class Server:
    """The application on a free port of loopback."""

    def __init__(self, settings: Settings) -> None:
        config = uvicorn.Config(create_app(settings), host="127.0.0.1", port=0, log_level="error", ws="none")
        self._server = uvicorn.Server(config)
        self._thread = threading.Thread(target=self._server.run, daemon=True)

    def start(self) -> str:
        self._thread.start()
        while not self._server.started:
            self._thread.join(0.02)
            assert self._thread.is_alive(), "the server did not start"
        return f"http://127.0.0.1:{self._server.servers[0].sockets[0].getsockname()[1]}"

    def stop(self) -> None:
        self._server.should_exit = True
        self._thread.join(10)


@pytest.fixture(scope="session")
def address(database_url: str) -> Iterator[str]:
    server = Server(Settings(database_url=database_url, pool_size=4, demos_an_hour=10_000))
    yield server.start()
    server.stop()


@pytest.fixture
def second_address(database_url: str) -> Iterator[str]:
    """The same database behind another server: as after a restart."""
    server = Server(Settings(database_url=database_url, pool_size=2))
    yield server.start()
    server.stop()


def headless() -> webdriver.Chrome:
    """Chromium without a monitor."""
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in _FLAGS:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(options=options, service=webdriver.ChromeService(shutil.which("chromedriver")))


@pytest.fixture(scope="session")
def _drivers() -> Iterator[list[webdriver.Chrome]]:
    drivers: list[webdriver.Chrome] = []
    yield drivers
    for driver in drivers:
        driver.quit()


def _opened(drivers: list[webdriver.Chrome], index: int, address: str) -> Browser:
    while len(drivers) <= index:
        drivers.append(headless())
    browser = Browser(drivers[index], address)
    browser.fresh()
    return browser


@pytest.fixture
def browser(_drivers: list[webdriver.Chrome], address: str, request: pytest.FixtureRequest) -> Iterator[Browser]:
    opened = _opened(_drivers, 0, address)
    yield opened
    picture = Path("/tmp") / f"adze-{request.node.name[:60]}.png"
    opened.driver.save_screenshot(str(picture))
    assert opened.script_errors() == []
    picture.unlink()


@pytest.fixture
def other_browser(_drivers: list[webdriver.Chrome], address: str) -> Browser:
    return _opened(_drivers, 1, address)
