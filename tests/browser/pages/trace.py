"""A search on the workbench: what is next, what is typed, what is said of it."""

from dataclasses import dataclass

from selenium.webdriver.support.ui import Select

from tests.browser.pages.bench import Bench


@dataclass(frozen=True)
class NextStep:
    """What the page asks for: the key to press, and where."""

    key: str
    run: str
    at_m: float
    leg: str


class Trace(Bench):
    """Trace."""

    def of(self, plan: str) -> "Trace":
        self.open(plan, "trace")
        return self

    def _pressed(self, css: str) -> "Trace":
        before = self.text("#panel")
        self.find(css).click()
        self.until(lambda: self.text("#panel") != before, f"{css} changes nothing")
        return self

    def begin_search(self) -> "Trace":
        """Without the readings of the log's last walk: the demo's own tell of another fault."""
        if self.all("#trace-log"):
            self.find("#trace-log").click()
        return self._pressed("[data-trace=begin]")

    def eliminate(self, kv: str) -> "Trace":
        """The unit and its lead-out read well."""
        self._pressed("[data-trace=checked]")
        for step in ("unit", "lead"):
            self.find("#trace-alone-kv").send_keys(kv)
            self._pressed(f"[data-trace={step}]")
        return self

    def next(self) -> NextStep:
        key = self.find("#trace-next-step [data-trace]").get_attribute("data-trace") or ""
        run, at_m, leg = (
            self.driver.find_element("css selector", f"#trace-next-step [data-step={name}]").get_attribute("value")
            or ""
            for name in ("run", "at_m", "leg")
        )
        return NextStep(key, run, float(at_m.removesuffix(" m") or 0), leg)

    def title(self) -> str:
        return self.text("#panel h2")

    def read(self, kv: float, amps: float) -> "Trace":
        self.find("#trace-next-kv").send_keys(f"{kv:.2f}")
        self.find("#trace-next-amps").send_keys(f"{abs(amps):.1f}")
        Select(self.find("#trace-next-way")).select_by_value("1" if amps >= 0 else "0")
        return self._pressed("#trace-next-step [data-trace=read]")

    def read_rods(self, kv: float) -> "Trace":
        self.find("#trace-kv").send_keys(f"{kv:.2f}")
        return self.press("rods")

    def press(self, key: str) -> "Trace":
        return self._pressed(f"#trace-next-step [data-trace={key}]")

    def answer(self, words: str) -> "Trace":
        """A key of the next step by its words."""
        self.find("#trace-next-step").find_element("xpath", f'.//button[normalize-space()="{words}"]').click()
        return self

    def take_back(self) -> "Trace":
        return self._pressed("[data-trace=undo]")

    def rail(self) -> str:
        """What the rail of stages says of Trace."""
        return self.text('#rail [data-stage="trace"] [data-line]')

    def mending(self, cause: str) -> str:
        """A cause chosen under "Found it", and what is said of mending it."""
        fold = self.driver.find_element("css selector", "#panel details:has(#trace-found-cause)")
        self.driver.execute_script("arguments[0].open = true", fold)
        Select(self.find("#trace-found-cause")).select_by_value(cause)
        return self.text('[data-mend-of="trace-found-cause"]')

    def found(self, run: str, at_m: float, cause: str) -> "Trace":
        self.mending(cause)
        Select(self.find("#trace-found-run")).select_by_value(run)
        box = self.find("#trace-found-at")
        box.clear()
        box.send_keys(f"{at_m:.0f}")
        return self._pressed("[data-trace=found]")

    def strands(self, *kv: str) -> "Trace":
        """kV of the first line's strands, read one by one at its far end."""
        fold = self.driver.find_element("css selector", "#panel details:has([data-trace=strands])")
        self.driver.execute_script("arguments[0].open = true", fold)
        for number, shown in enumerate(kv, 1):
            self.find(f"#trace-strands-1-{number}").send_keys(shown)
        return self._pressed("[data-trace=strands]")

    def by_another(self, what: str, **body: str) -> None:
        """A step that somebody else takes meanwhile."""
        script = """
            const [path, body, done] = arguments;
            const word = document.querySelector("[data-csrf]").dataset.csrf;
            const headers = { "Content-Type": "application/json", "X-CSRF-Token": word };
            fetch(path, { method: "POST", headers, body: JSON.stringify(body) }).then(({ status }) => done(status));
        """
        path = f"/api/plans/{self.plan_id}/trace/steps"
        assert self.driver.execute_async_script(script, path, {"what": what} | body) == 200

    def looked_at_again(self) -> bool:
        """The page looked at again; whether it asks then what others did."""
        script = """
            const [send, asked] = [window.fetch, []];
            window.fetch = (...all) => { asked.push(String(all[0])); return send(...all); };
            document.dispatchEvent(new Event("visibilitychange"));
            window.fetch = send;
            return asked.some((address) => address.endsWith("/trace/stands"));
        """
        return bool(self.driver.execute_script(script))

    def drawn(self) -> int:
        """How many lines are drawn on the ground in the colour of what is not live."""
        return len(self.driver.find_elements("css selector", "#map path[stroke-dasharray='2 5']"))
