"""The work on the workbench: what comes next, ticks, holds, the clock."""

import re
from datetime import datetime

from selenium.webdriver.common.keys import Keys

from tests.browser.pages.bench import Bench


class Work(Bench):
    """Build."""

    def of(self, plan: str) -> "Work":
        self.open(plan, "build")
        return self

    def done_count(self) -> int:
        return int(re.match(r"(\d+) of", self.text("#panel .figure"))[1])  # type: ignore[index]

    def next(self) -> str:
        """The key of the first step that can be done now; empty when all is done."""
        rows = self.all("#panel .step-row")
        return rows[0].get_attribute("data-step") or "" if rows else ""

    def done(self, step: str) -> "Work":
        before = self.done_count()
        self.find(f'#panel .step-row [data-tick=done][data-step="{step}"]').click()
        self.until(lambda: self.done_count() == before + 1, f"{step} is not ticked")
        return self

    def refused(self, step: str) -> str:
        """Ticked among the steps before its time: what is said."""
        self.surface("steps")
        row = self.driver.find_element("css selector", f'details.step:has([data-step="{step}"])')
        self.driver.execute_script("arguments[0].open = true", row)
        self.find(f'details.step [data-tick=done][data-step="{step}"]').click()
        return self.fault()

    def tick_at(self, step: str, at: datetime) -> "Work":
        """What a phone without signal sends later, with its own time."""
        body = f'{{step: "{step}", what: "done", at: "{at.isoformat()}"}}'
        ask = (
            "const [done] = arguments; const bench = document.getElementById('bench').adzeBench;"
            f"bench.api.ask('/work/tick', {{method: 'POST', body: {body}}})"
            ".then((state) => { bench.take(state); bench.tell('state'); done(''); }, (e) => done(e.message))"
        )
        assert self.driver.execute_async_script(ask) == ""
        return self

    def measured(self, label: str, figure: str) -> None:
        """Type a figure as it stands among those that are measured."""
        if self.on_surface() != "steps":
            self.surface("steps")

        def typed() -> bool:
            # The panel is drawn anew when the forecast comes: what was opened before is closed again.
            self.driver.execute_script("document.getElementById('step-as_built').open = true")
            box = self.driver.find_element("css selector", f'[aria-label^="{label}"]')
            if not box.is_displayed():
                return False
            # To clear it first would be a change of its own, and be sent.
            box.send_keys(Keys.CONTROL + "a", Keys.NULL, figure, Keys.TAB)
            return True

        self.until(typed, f"{label} cannot be typed")

    def kit(self) -> list[str]:
        """The things of the kit, by what their boxes are called."""
        self.surface("kit")
        boxes = self.all('[data-kit^="kit:out:"]')
        return [(box.get_attribute("aria-label") or "").removesuffix(", packed") for box in boxes]

    def pack(self, label: str) -> None:
        """Tick a thing of the kit; the tick outlives the next look at the page."""
        self.surface("kit")
        self.find(f'[aria-label="{label}"]').click()
        self.until(lambda: self.find(f'[aria-label="{label}"]').is_selected(), f"{label} is not ticked")
        self.until(lambda: not self.text("[data-test=kit]").startswith("0 of"), f"{label} is not kept")

    def stock(self) -> str:
        return self.text("[data-test=stock]")

    def clock(self) -> str:
        return self.text("[data-test=clock]")
