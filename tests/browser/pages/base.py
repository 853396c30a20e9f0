"""What every page can do. All waiting is here; pages say what a person does and give the next page."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Self, TypeVar

from selenium.common.exceptions import NoSuchElementException, StaleElementReferenceException
from selenium.webdriver import ActionChains, Chrome, Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

T = TypeVar("T")
_PATIENCE_S = 120  # a guard against what never comes: a busy machine is no fault
_MOVE_MS = 20  # of the pointer; long enough for the page to see it on its way
# A part may lie under another tab of the surface, and the strip and the card behind the bar: a person opens them first.
_REVEAL = """
const part = arguments[0].closest("[data-surface]");
if (part?.hidden) document.getElementById(`to-${part.dataset.surface}`).click();
else if (arguments[0].closest("#ground, #side")?.inert) document.getElementById("to-drawing").click();
const fold = arguments[0].closest("details[data-kept]");
if (fold && !arguments[0].closest("summary")) fold.open = true;
const more = document.getElementById("more");
const narrow = arguments[0].closest("#seasons, #units, #undo, #redo") && innerWidth < 700;
if (more && !more.open && (arguments[0].closest(".more-box") || narrow)) more.open = true;
const shut = document.getElementById("bench")?.classList.contains("place-shut");
if (shut && arguments[0].closest("#strip, #stand, .strip-head select, .strip-head .check")) {
  document.getElementById("place-bar").click();
}
"""
# A service worker of an earlier test would answer for the server, and its scripts weigh as much as unpacked.
_FORGET_WORKERS = """
const done = arguments[0];
const workers = navigator.serviceWorker.getRegistrations().then((all) => all.map((worker) => worker.unregister()));
const pages = caches.keys().then((names) => names.map((name) => caches.delete(name)));
Promise.all([workers, pages]).then(([ended, deleted]) => Promise.all([...ended, ...deleted])).then(() => done());
"""
_EXPECTED = ("409 (Conflict)", "422 (Unprocessable")


class Browser:
    """A browser on the application."""

    def __init__(self, driver: Chrome, address: str) -> None:
        self.driver, self.address = driver, address
        self.forgiven: tuple[str, ...] = ()

    def fresh(self) -> None:
        """Nobody signed in, nothing kept, no service worker, the usual size."""
        self.size(1280, 800)
        self.forgiven = ()
        self.driver.get(f"{self.address}/sign-in")
        self.driver.delete_all_cookies()
        self.driver.execute_script(
            "sessionStorage.clear(); localStorage.clear();"
            "for (const name of ['adze-outbox', 'adze-trace']) indexedDB.deleteDatabase(name)"
        )
        self.driver.execute_async_script(_FORGET_WORKERS)
        self.driver.get_log("browser")

    def size(self, width: int, height: int) -> None:
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    @contextmanager
    def without_signal(self) -> Iterator[None]:
        """The page's network is off; the console may say so."""
        self.forgiven = ("ERR_INTERNET_DISCONNECTED",)
        self.driver.execute_cdp_cmd("Network.enable", {})
        self._signal(offline=True)
        try:
            yield
        finally:
            self._signal()

    @contextmanager
    def weak(self) -> Iterator[None]:
        """A processor of a quarter, answers after 150 ms, 200 kB/s; nothing is kept of what was loaded before."""
        self.driver.execute_cdp_cmd("Network.enable", {})
        self.driver.execute_cdp_cmd("Network.clearBrowserCache", {})
        self.driver.execute_cdp_cmd("Emulation.setCPUThrottlingRate", {"rate": 4})
        self._signal(latency=150, downloadThroughput=200_000, uploadThroughput=200_000)
        try:
            yield
        finally:
            self._signal()
            self.driver.execute_cdp_cmd("Emulation.setCPUThrottlingRate", {"rate": 1})

    def _signal(self, **changes: float) -> None:
        usual = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
        self.driver.execute_cdp_cmd("Network.emulateNetworkConditions", usual | changes)

    def script_errors(self) -> list[str]:
        """Errors on the console, but for refusals that a test asked for."""
        rows = self.driver.get_log("browser")
        asked_for = (*_EXPECTED, *self.forgiven)
        return [r["message"] for r in rows if r["level"] == "SEVERE" and not any(x in r["message"] for x in asked_for)]


class Page:
    """A page in a browser."""

    def __init__(self, browser: Browser) -> None:
        self.browser, self.driver = browser, browser.driver

    def until(self, what: Callable[[], T], why: str, patience_s: float = _PATIENCE_S) -> T:
        """Wait for a truth; the page may change meanwhile."""
        wait = WebDriverWait(
            self.driver, patience_s, 0.05, ignored_exceptions=(StaleElementReferenceException, NoSuchElementException)
        )
        return wait.until(lambda _: what(), why)

    def find(self, css: str) -> WebElement:
        return self.until(lambda: self.revealed(self.driver.find_element(By.CSS_SELECTOR, css)), f"no {css}")

    def revealed(self, element: WebElement) -> WebElement:
        """An element, once what it lies in is open."""
        self.driver.execute_script(_REVEAL, element)
        return element

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def text(self, css: str) -> str:
        return self.until(
            lambda: self.revealed(self.driver.find_element(By.CSS_SELECTOR, css)).text, f"no text in {css}"
        )

    def button(self, words: str, within: str = "body") -> WebElement:
        path = f".//*[self::button or self::a][normalize-space()='{words}']"
        return self.until(lambda: self.revealed(self.find(within).find_element(By.XPATH, path)), f"no button {words!r}")

    def wider_than_screen(self) -> bool:
        return bool(self.driver.execute_script("return document.documentElement.scrollWidth > innerWidth"))

    def actions(self) -> ActionChains:
        return ActionChains(self.driver, duration=_MOVE_MS)

    def press(self, *keys: str) -> None:
        self.actions().send_keys(*keys).perform()

    def hold(self, *keys: str) -> Self:
        """Hold modifier keys down for what is pressed next."""
        for key in keys:
            self.actions().key_down(key).perform()
        return self

    def let_go(self, *keys: str) -> None:
        for key in keys:
            self.actions().key_up(key).perform()

    def fill(self, css: str, words: str) -> None:
        self.find(css).send_keys(Keys.CONTROL + "a" + Keys.NULL, words)
