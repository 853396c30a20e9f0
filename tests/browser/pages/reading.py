"""The field page."""

from tests.browser.pages.base import Page
from tests.browser.pages.bench import Bench


class Reading(Page):
    """Log a reading by thumb."""

    def open(self, plan: str, run: str, at_m: float) -> "Reading":
        self.driver.get(f"{self.browser.address}/plans/{plan}/log/reading?run={run}&at_m={at_m}&strand=1&season=usual")
        self.find("#reading")
        return self

    def thumb(self, digits: str) -> "Reading":
        for key in digits:
            self.find(f'[data-key="{key}"]').click()
        return self

    def says(self) -> str:
        return self.text("#says")

    def keep(self) -> Bench:
        self.button("Keep it and walk on").click()
        return Bench(self.browser)

    def smallest_target_px(self) -> float:
        """The least height of anything to tap."""
        heights = [e.rect["height"] for e in self.all("#reading .act, #reading select, #reading input[inputmode]")]
        return min(h for h in heights if h > 0)
