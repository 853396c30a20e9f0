"""Sign-in and the list of farms."""

from tests.browser.pages.base import Browser, Page
from tests.browser.pages.bench import Bench


class SignIn(Page):
    """The sign-in page."""

    def open(self) -> "SignIn":
        self.driver.get(f"{self.browser.address}/sign-in")
        return self

    def demo(self) -> "Farms":
        self.find("[data-test=demo]").click()
        return Farms(self.browser).ready()

    def like(self, other: Browser) -> None:
        """Let the browser in as whoever is signed in on another one."""
        cookie = other.driver.get_cookie("adze_session") or {}
        self.driver.add_cookie({"name": "adze_session", "value": cookie["value"], "path": "/"})

    def as_person(self, login: str, password: str) -> "Farms":
        self.fill("#login", login)
        self.fill("#password", password)
        self.find("[data-test=sign-in] button").click()
        return Farms(self.browser).ready()

    def new_account(self, name: str, login: str, password: str) -> "Farms":
        self.button("Make an account").click()
        self.fill("#name", name)
        self.fill("#login", login)
        self.fill("#password", password)
        self.button("Make the account").click()
        return Farms(self.browser)


class Farms(Page):
    """The farms with their plans."""

    def ready(self) -> "Farms":
        self.find("[data-test=add-farm]")
        return self

    def names(self) -> list[str]:
        self.ready()
        return [e.text.split("\n")[0] for e in self.all("section h2")]

    def plan_addresses(self) -> list[str]:
        """The ids of the plans of all farms, as their addresses have them."""
        self.ready()
        return [(card.get_attribute("href") or "").split("/")[4] for card in self.all("[data-test=plan]")]

    def begin(self, name: str) -> Bench:
        self.fill("#farm-name", name)
        """A farm with a blank plan."""
        self.button("Add the farm").click()
        self.find("[data-test=start]")
        self.find(".page-top a.push").click()
        return Bench(self.browser).ready()

    def open_plan(self, name: str) -> Bench:
        """A plan at its volts: it opens at its overview."""
        self.open_overview(name)
        self.find('#rail [data-stage="volts"]').click()
        return Bench(self.browser).ready()

    def open_overview(self, name: str) -> "Farms":
        self.until(lambda: [c for c in self.all("[data-test=plan]") if name in c.text], f"no plan {name}")[0].click()
        self.find("#over-body")
        self.until(lambda: not self.all("[data-pending]"), "still checking the fence")
        return self

    def sign_out(self) -> SignIn:
        self.find("[data-test=sign-out]").click()
        self.find("#login")
        return SignIn(self.browser)
