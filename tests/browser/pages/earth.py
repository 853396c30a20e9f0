"""The earth test's sheet."""

from tests.browser.pages.base import Page
from tests.browser.pages.bench import Bench


class EarthTestSheet(Page):
    """What to do, what was read, what it says."""

    def read(self, **typed: str) -> "EarthTestSheet":
        """Type what was read and ask what it says."""
        for name, words in typed.items():
            self.fill(f"#{name}", words)
        self.driver.execute_script("document.documentElement.dataset.before = 'yes'")
        self.button("What does it show?").click()
        self.find("html:not([data-before]) main")
        return self

    def says(self) -> str:
        return self.text("#verdict")

    def fault(self) -> str:
        return self.text(".fault")

    def mend(self, words: str) -> Bench:
        """Put on the plan what the test asks for."""
        self.button(words, "#verdict").click()
        return Bench(self.browser).ready()
