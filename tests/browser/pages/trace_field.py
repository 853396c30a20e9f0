"""The search in the field: a phone that computes it by itself."""

from dataclasses import dataclass

from selenium.webdriver.support.select import Select

from tests.browser.pages.base import Page

_THINKS_S = 40


@dataclass(frozen=True)
class Here:
    """What the page asks for."""

    title: str
    says: str
    steps: int


class TraceField(Page):
    """What a person with a phone does at the fence."""

    def open(self, plan: str) -> "TraceField":
        self.driver.get(f"{self.browser.address}/plans/{plan}/trace/field")
        return self.ready()

    def ready(self) -> "TraceField":
        """Once it has thought: it says the week that the search is of."""
        self.until(lambda: "week." in self.find("#search-says").text, "the search does not answer", _THINKS_S)
        return self

    def keep_here(self) -> None:
        self.find("#search-keep").click()
        self.until(lambda: "opens without signal" in self.text("#search-keep"), "the page is not kept")

    def press(self, words: str) -> "TraceField":
        root = self.find("#search")
        before = root.get_attribute("data-taken")
        self.button(words, "[data-when]:not([hidden])").click()
        self.until(lambda: root.get_attribute("data-taken") != before or self.all(".fault"), f"{words} is not taken")
        return self.ready()

    def begin(self) -> "TraceField":
        self.press("Begin the search").press("All as it should be")
        return self.press("Go on without").press("Go on without")

    def title(self) -> str:
        return self.text("#search-title")

    def here(self) -> Here:
        steps = len(self.all("#search-steps tr"))
        return Here(self.find("#search-title").text, self.find("#search-says").text, steps)

    def said(self, of: str) -> str:
        """What is said of strands or spurs."""
        return self.text(f"#search-{of}-say")

    def waits(self) -> str:
        return self.find("#search-waits").text

    def elsewhere(self, run: str, at_m: str, kv: str, amps: str = "") -> "TraceField":
        """A reading somewhere else than where the page sends one."""
        form = self.find("#search-other-kv").find_element("xpath", "ancestor::details")
        self.driver.execute_script("arguments[0].open = true", form)
        self.driver.execute_script("arguments[0].value = arguments[1]", self.find("#search-other-run"), run)
        self.fill("#search-other-at", at_m)
        self.fill("#search-other-kv", kv)
        self.fill("#search-other-amps", amps)
        return self.press("A reading there")

    def found(self, run: str, at_m: str, cause: str) -> "TraceField":
        form = self.find("#search-cause").find_element("xpath", "ancestor::details")
        self.driver.execute_script("arguments[0].open = true", form)
        self.driver.execute_script("arguments[0].value = arguments[1]", self.find("#search-cause"), cause)
        self.driver.execute_script("arguments[0].value = arguments[1]", self.find("#search-found-run"), run)
        self.fill("#search-found-at", at_m)
        return self.press("Found and mended")

    def switch(self, name: str, state: str) -> "TraceField":
        """A switch that was worked without being asked for."""
        form = self.find("#search-switch").find_element("xpath", "ancestor::details")
        self.driver.execute_script("arguments[0].open = true", form)
        Select(self.find("#search-switch")).select_by_visible_text(name)
        Select(self.find("#search-switch-state")).select_by_visible_text(state)
        return self.press("Keep the switch so")

    def opened(self, part: str) -> "TraceField":
        """With the folded part open in which something lies."""
        form = self.find(part).find_element("xpath", "ancestor::details")
        self.driver.execute_script("arguments[0].open = true", form)
        return self

    def strands(self, run: str, *kv: str) -> "TraceField":
        """kV of each strand of a line at its end, from the ground."""
        self.opened("#search-strands-run")
        Select(self.find("#search-strands-run")).select_by_value(run)
        for number, text in enumerate(kv):
            self.fill(f"#search-strand-{number}", text)
        return self.press("Compare the strands")

    def joins(self, run: str, at_m: str) -> "TraceField":
        """Where fence joins that is on no plan."""
        self.opened("#search-other-kv")
        Select(self.find("#search-other-run")).select_by_value(run)
        self.fill("#search-other-at", at_m)
        return self.press("A fence on no plan joins there")

    def later(self, run: str, at_m: str, what: str) -> "TraceField":
        """What can wait to be mended."""
        self.opened("#search-later-note")
        Select(self.find("#search-later-run")).select_by_value(run)
        self.fill("#search-later-at", at_m)
        self.fill("#search-later-note", what)
        return self.press("Note it")

    def used(self, quantity: str, what_for: str) -> "TraceField":
        """So many of the first part that the shed has."""
        self.opened("#search-many")
        self.fill("#search-many", quantity)
        self.fill("#search-for", what_for)
        return self.press("Taken from the shed")

    def photo(self, path: str) -> "TraceField":
        self.opened("#search-photo")
        before = self.photos()
        self.find("#search-photo").send_keys(path)
        self.until(lambda: self.photos() != before, "the photo is not kept")
        return self

    def photos(self) -> str:
        return self.find("#search-photos").get_attribute("textContent") or ""

    def practise(self, faults: str) -> "TraceField":
        Select(self.find("#search-hidden")).select_by_value(faults)
        self.button("Practise", "[data-when=none]").click()
        self.until(lambda: self.find("#search").get_attribute("data-practice") is not None, "no practice begins")
        return self.ready()

    def go_on(self) -> Here:
        """Do what comes next in practice."""
        root = self.find("#search")
        before = root.get_attribute("data-taken")
        keys = self.all("[data-when=next] [data-next-step]:not([hidden]) button")
        next(key for key in keys if key.is_displayed()).click()
        self.until(lambda: root.get_attribute("data-taken") != before, "nothing comes of it", _THINKS_S)
        return self.ready().here()

    def reads_at(self, at_m: str) -> "TraceField":
        """In practice, a reading elsewhere than where the page sends one."""
        self.opened("#search-other-at")
        self.fill("#search-other-at", at_m)
        self.button("A reading there").click()
        return self

    def press_last(self, words: str) -> "TraceField":
        """A key after which the search thinks of all of it."""
        self.button(words, "[data-when]:not([hidden])").click()
        self.until(lambda: self.find("#search-score").is_displayed(), "it is not scored", _THINKS_S)
        return self.ready()

    def score(self) -> str:
        return self.text("#search-score")

    def take_back(self) -> "TraceField":
        before = self.here().steps
        self.button("Take back the last").click()
        self.until(lambda: self.here().steps < before, "nothing is taken back")
        return self.ready()

    def fault(self) -> str:
        return self.text(".fault")
