"""The workbench: stages, the ground, the strip, the card and the panels."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from selenium.webdriver import Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from tests.browser.pages.base import Page

_CUT = """
return [...document.querySelectorAll("#middle, #surface, #beside, #card")]
  .filter((e) => e.offsetWidth && getComputedStyle(e).overflowY !== "visible" && e.scrollHeight > e.clientHeight + 1)
  .map((e) => e.id);"""


@dataclass(frozen=True)
class Load:
    """Seconds from the address to the first words, and until a page can be used."""

    words_s: float
    usable_s: float


class Bench(Page):
    """One plan on the workbench."""

    def ready(self) -> "Bench":
        """Wait until the page is up and nothing is being saved."""
        self.until(lambda: self.driver.find_element(By.ID, "bench").get_attribute("data-ready") == "yes", "not ready")
        self.until(lambda: self.find("body").get_attribute("data-busy") != "yes", "still busy")
        return self

    def open(self, plan: str, stage: str) -> "Bench":
        self.driver.get(f"{self.browser.address}/plans/{plan}/{stage}")
        return self.ready()

    @property
    def plan_id(self) -> str:
        return self.find("#bench").get_attribute("data-plan") or ""

    def stage(self, name: str) -> "Bench":
        self.find(f'#rail [data-stage="{name}"]').click()
        self.until(lambda: f"/{name}" in self.driver.current_url, f"not at {name}")
        return self.ready()

    def rail(self, name: str) -> str:
        """How a stage stands, as the rail says it."""
        link = self.find(f'#rail [data-stage="{name}"]')
        mark = link.find_element(By.CSS_SELECTOR, ".mark").get_attribute("aria-label")
        return f"{mark}: {link.find_element(By.CSS_SELECTOR, '[data-line]').text}"

    def reload(self) -> "Bench":
        self.driver.refresh()
        return self.ready()

    # The ground

    def tool(self, words: str) -> "Bench":
        self.button(words, "#tools").click()
        return self

    def place(self, words: str) -> "Bench":
        """Choose what to place, on the line or on the ground."""
        own = self.all("#on-line option, #on-ground option")
        option = next(o for o in own if (o.get_attribute("textContent") or "").strip() == words)
        select = option.find_element(By.XPATH, "ancestor::select")
        Select(select).select_by_value(option.get_attribute("value") or "")
        return self

    def every(self, step: str) -> "Bench":
        """Place what is chosen at equal steps along the line where one stands."""
        self.fill("#every", step)
        return self._changed(lambda: self.button("along this line", "#says").click())

    def click_ground(self, *points: tuple[int, int]) -> "Bench":
        """Click at pixels from the middle of the ground."""
        ground = self.find("#map")
        for x, y in points:
            self.actions().move_to_element_with_offset(ground, x, y).click().perform()
        return self

    def lay(self, way: str, *points: tuple[int, int]) -> "Bench":
        """Lay rods out by clicks from the middle of the ground."""
        return self._changed(lambda: self.tool(way).click_ground(*points))

    def zoom_out(self, times: int) -> "Bench":
        for _ in range(times):
            self.find(".leaflet-control-zoom-out").click()
        return self

    def draw(self, *points: tuple[int, int]) -> "Bench":
        self.tool("Draw a line").click_ground(*points)
        count = len(self.document()["runs"])
        self.press(Keys.ENTER)
        return self.saved(lambda: len(self.document()["runs"]) == count + 1)

    def drag_point(self, name: str, x: int, y: int) -> "Bench":
        """Drag a point, by its name, so many pixels."""
        edition = self.edition()
        handle = self.find(f'[title="{name}"]')
        actions = self.actions().click_and_hold(handle).move_by_offset(x // 2, y // 2)
        actions.move_by_offset(x - x // 2, y - y // 2).release().perform()
        return self.saved(lambda: self.edition() > edition)

    def tab(self, name: str) -> "Bench":
        """Open a part of the ground's panel."""
        self.find(f'[data-tab="{name}"]').click()
        self.until(lambda: self.find(f"#pane-{name}").is_displayed(), f"no pane {name}")
        return self

    def choose_thing(self, key: str) -> "Bench":
        """Choose a thing from the list of lines and fixtures, such as run:terraces."""
        self.tab("lines").find(f'[data-choose="{key}"]').click()
        self.find("#inspector .chosen")
        return self

    def do(self, words: str, within: str = "#inspector") -> "Bench":
        """Press a button and wait until it is saved."""
        return self._changed(lambda: self.button(words, within).click())

    def says(self) -> str:
        return self.text("#says")

    def ground(self) -> dict:  # type: ignore[type-arg]
        """What is computed of the ground."""
        return self._state("forecast")["ground"]

    def scroll_to(self, css: str) -> "Bench":
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center', inline: 'center'})", self.find(css))
        return self

    # The strands

    @contextmanager
    def strand_held(self, index: int, up: int) -> Iterator[None]:
        """Drag a strand by its label so many pixels downward (above 0) or upward, and let go at the end."""
        grip = self.find(f'[data-strand-grip="{index}"]')
        actions = self.actions().click_and_hold(grip)
        for step in range(5):
            actions.move_by_offset(0, up * (step + 1) // 5 - up * step // 5)
        actions.perform()
        yield
        self.actions().release().perform()

    def choose_made(self, index: int, conductor: str) -> "Bench":
        """Make a strand of something else."""
        select = f'[data-strand-made="{index}"]'
        return self._changed(lambda: Select(self.find(select)).select_by_value(conductor))

    def stand_thing(self, spot: str) -> "Bench":
        """Move what is chosen to a spot, m east and north."""

        def typed() -> None:
            self.fill("#corners", spot)
            self.press(Keys.TAB)

        return self._changed(typed)

    def switch_strand(self, index: int) -> "Bench":
        """Put a live strand on the bottom switch, or take it off."""
        return self._changed(lambda: self.find(f'[data-strand-switched="{index}"]').click())

    def carry(self, number: int) -> "Bench":
        """Tick a strand of the chosen switch or strand link, or take it off."""
        return self._changed(lambda: self.find(f'[data-carries][value="{number}"]').click())

    def note_training(self, part: str, day: str, *, refused: bool = False) -> "Bench":
        """Set a day of the training log: a date picker takes what is set, whatever the browser's tongue."""
        script = "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('change', {bubbles: true}))"
        field = self.find(f"[data-part={part}]")
        if refused:
            self.driver.execute_script(script, field, day)
            self.find(".fault")
            return self
        return self._changed(lambda: self.driver.execute_script(script, field, day))

    def do_nth(self, words: str, index: int) -> "Bench":
        """Press one of several alike buttons of the panel and wait until it is saved."""
        path = f".//button[normalize-space()='{words}']"
        return self._changed(self.revealed(self.find("#bench").find_elements(By.XPATH, path)[index]).click)

    def answer(self) -> str:
        """What an unfolded part of the panel or of the surface says once it is computed."""
        shown = "details[open] [data-answer]"
        return self.text(f"#surface > :not([hidden]) {shown}, #panel {shown}")

    def surface(self, name: str) -> "Bench":
        """Choose a tab of the work surface."""
        self.find(f"#to-{name}").click()
        self.until(lambda: self.on_surface() == name, f"no surface {name}")
        return self

    def tabs(self) -> list[str]:
        """The tabs of the work surface, that of the drawing first."""
        return [tab.get_attribute("data-surface-tab") or "" for tab in self.all("#surface-tabs:not([hidden]) button")]

    def on_surface(self) -> str:
        """The tab that is shown on the work surface."""
        return self.find("#surface-tabs [aria-selected=true]").get_attribute("data-surface-tab") or ""

    def show_every_tab(self) -> None:
        """Show what all tabs hold at once: what goes over the whole page then goes over it once."""
        self.driver.execute_script(
            "for (const part of document.querySelectorAll('#surface, [data-surface]')) part.hidden = false"
        )

    def cut_on_paper(self) -> list[str]:
        """Parts of the page that would be printed with some of them out of sight."""
        send = self.driver.execute_cdp_cmd
        send("Emulation.setEmulatedMedia", {"media": "print"})
        found: list[str] = self.driver.execute_script(_CUT)
        send("Emulation.setEmulatedMedia", {"media": ""})
        return found

    def note_through(self, many: str, way: str) -> "Bench":
        """Note at Log that animals got through where one stands."""
        self.fill("#through-count", many)
        Select(self.find("#through-way")).select_by_visible_text(way)
        before = len(self.all("[data-ask^='/through/']"))
        self.button("Note it", "[data-surface=through]").click()
        self.until(lambda: len(self.all("[data-ask^='/through/']")) > before, "not noted")
        return self.ready()

    def move_unit_to(self, place: str) -> "Bench":
        """Hang the energizer at another place of the table."""
        row = f"//tr[td/b[text()='{place}']]/following-sibling::tr[1]//button"
        found = self.until(lambda: self.driver.find_element(By.XPATH, row), f"no place {place}")
        return self._changed(found.click)

    def place_bar(self) -> WebElement:
        """The bar that says where you stand."""
        return self.find("#place-bar")

    def header_px(self) -> int:
        """How tall the header is."""
        return int(self.driver.execute_script("return document.querySelector('.top').offsetHeight"))

    def stage_in_sight(self, name: str) -> bool:
        """Whether a stage's button lies wholly in the window."""
        box = self.driver.find_element(By.CSS_SELECTOR, f'#rail [data-stage="{name}"]').rect
        width = self.driver.execute_script("return innerWidth")
        return bool(box["x"] >= 0 and box["x"] + box["width"] <= width)

    def column_px(self) -> int:
        """How tall the side column is, with all that it holds."""
        return int(self.driver.execute_script("return document.getElementById('card').scrollHeight"))

    def side_px(self) -> int:
        """How broad the side column is."""
        return int(self.driver.execute_script("return document.getElementById('card').offsetWidth"))

    def drag_divider(self, which: str, right: int, down: int) -> "Bench":
        """Drag the divider that stands `upright`, or the `level` one, so many pixels."""
        handle = self.driver.find_element(By.CSS_SELECTOR, f".divider.{which}")
        actions = self.actions().click_and_hold(handle).move_by_offset(right // 2, down // 2)
        actions.move_by_offset(right - right // 2, down - down // 2).release().perform()
        return self

    def season_shown(self) -> str:
        """The season that is marked as chosen."""
        self.find("#seasons")
        return self.driver.find_element(By.CSS_SELECTOR, "#seasons [aria-pressed=true]").text

    def weight_kb(self) -> float:
        """Scripts and styles of this page as they came over the wire, without the map's library."""
        script = """return performance.getEntriesByType("resource")
            .filter((r) => /\\.(js|css)(\\?|$)/.test(r.name) && !r.name.includes("leaflet"))
            .reduce((sum, r) => sum + r.encodedBodySize, 0) / 1000"""
        return float(self.driver.execute_script(script))

    def modules(self) -> tuple[set[str], set[str]]:
        """The modules that the page's head names and those that were loaded, by their addresses."""
        named = "return [...document.querySelectorAll('link[rel=modulepreload]')].map((link) => link.href)"
        loaded = "return performance.getEntriesByType('resource').map((r) => r.name).filter((n) => n.endsWith('.js'))"
        plain = "return [...document.scripts].filter((s) => s.src && s.type !== 'module').map((s) => s.src)"
        run = self.driver.execute_script
        return set(run(named)), set(run(loaded)) - set(run(plain))

    def loads(self, stage: str) -> Load:
        """How soon a stage has words and can be used, opened by its address."""
        self.driver.get(self.driver.current_url.rpartition("/")[0] + f"/{stage}")
        self.ready()
        script = """const paint = performance.getEntriesByName("first-contentful-paint")[0].startTime;
            return [paint / 1000, performance.getEntriesByName("ready")[0].startTime / 1000]"""
        return Load(*self.driver.execute_script(script))

    def layout_shift(self) -> float:
        """How much of this page has moved since it is ready, as the browser scores it (0: nothing).

        Asked once what is computed after the page is there.
        """
        waiting = (
            "return [...document.querySelectorAll('details[open] [data-answer], #mends')].some((e) => "
            "e.offsetParent && e.textContent.includes('Computing'))"
        )
        self.until(lambda: not self.driver.execute_script(waiting), "still computing")
        script = """const done = arguments[0];
            const ready = performance.getEntriesByName("ready")[0].startTime;
            new PerformanceObserver((list, observer) => {
              observer.disconnect();
              const own = list.getEntries().filter((e) => !e.hadRecentInput && e.startTime > ready);
              done(own.reduce((sum, e) => sum + e.value, 0));
            }).observe({ type: "layout-shift", buffered: true });
            requestAnimationFrame(() => requestAnimationFrame(() => done(0)));"""
        return float(self.driver.execute_async_script(script))

    def begin_from(self, key: str) -> "Bench":
        """Begin a blank plan from one that holds."""
        return self._changed(lambda: self.find(f"[data-begin={key}]").click())

    def unfold(self, words: str) -> "Bench":
        """Open a closed part of the panel by its words."""
        path = f".//details[summary[starts-with(normalize-space(), '{words}')]]"
        part = self.until(lambda: self.revealed(self.find("#bench").find_element(By.XPATH, path)), f"no part {words!r}")
        if not part.get_attribute("open"):
            part.find_element(By.TAG_NAME, "summary").click()
        return self

    def type_wrong(self, path: str, words: str) -> "Bench":
        """Type what is refused, and wait for the reason."""
        self.type_only(path, words)
        self.find(".fault")
        return self

    def link(self, words: str) -> "Bench":
        self.button(words, "#bench").click()
        self.find(".paper-sheet")
        return self

    def count_on_paper(self, css: str) -> int:
        return len(self.all(f".paper-sheet {css}"))

    def strips_mm(self) -> list[list[tuple[float, float]]]:
        """The strands on each paper strip: cm, and mm over the ground as laid out on the screen."""
        script = """return [...document.querySelectorAll("[data-strip]")].map((strip) => {
            const sheet = strip.closest("svg").getBoundingClientRect();
            return [...strip.querySelectorAll("[data-cm]")].map((line) => [
                Number(line.dataset.cm),
                strip.dataset.low * 10 + Number(strip.dataset.base)
                    - (line.getBoundingClientRect().top - sheet.top) / 96 * 25.4,
            ]);
        });"""
        return self.driver.execute_script(script)

    # What stands in the page's state

    def forecast(self) -> dict:  # type: ignore[type-arg]
        return self._state("forecast")

    def document(self) -> dict:  # type: ignore[type-arg]
        return self._state("document")

    def edition(self) -> int:
        return int(self._state("edition"))

    def _state(self, key: str):  # type: ignore[no-untyped-def]
        script = (
            "const r = await fetch(`/api/plans/${arguments[0]}/panel/ground`); return (await r.json())[arguments[1]];"
        )
        return self.driver.execute_script(
            f"return (async () => {{ {script} }}).apply(null, arguments)", self.plan_id, key
        )

    def saved(self, done) -> "Bench":  # type: ignore[no-untyped-def]
        self.until(done, "not saved")
        return self.ready()

    def undo(self) -> "Bench":
        return self._changed(lambda: self.find("#undo").click())

    def redo(self) -> "Bench":
        return self._changed(lambda: self.find("#redo").click())

    def _changed(self, act) -> "Bench":  # type: ignore[no-untyped-def]
        edition = self.edition()
        act()
        return self.saved(lambda: self.edition() > edition)

    # Panels

    def add_animal(self, words: str) -> "Bench":
        return self._changed(lambda: self.button(words, "#bench").click())

    def tick(self, path: str) -> "Bench":
        return self._changed(lambda: self.find(f'[data-path="{path}"]').click())

    def grow_on_strip(self, grass: str, start: float, end: float) -> "Bench":
        """Drag growth onto a part of the shown way, as shares of its length."""
        Select(self.find("#growing")).select_by_value(grass)
        strip = self.find("#strip")
        wide = strip.rect["width"]
        left, inner = -wide / 2 + 46, wide - 66  # the strip's own margins
        low, high = (round(left + share * inner) for share in (start, end))

        def dragged() -> None:
            actions = self.actions().move_to_element_with_offset(strip, low, 0).click_and_hold()
            actions.move_by_offset((high - low) // 2, 0).move_by_offset(high - low - (high - low) // 2, 0)
            actions.release().perform()

        return self._changed(dragged)

    def slide(self, css: str, value: float) -> "Bench":
        """Set a slider, as a hand that lets it go there."""
        script = """arguments[0].value = arguments[1];
            for (const kind of ["input", "change"]) arguments[0].dispatchEvent(new Event(kind, {bubbles: true}))"""
        self.driver.execute_script(script, self.find(css), value)
        return self

    def choose(self, path: str, value: str) -> "Bench":
        return self._changed(lambda: Select(self.find(f'[data-path="{path}"]')).select_by_value(value))

    def type(self, path: str, words: str) -> "Bench":
        return self._changed(lambda: self.type_only(path, words))

    def type_only(self, path: str, words: str) -> None:
        self.fill(f'[data-path="{path}"]', words)
        self.press(Keys.TAB)

    def value(self, path: str) -> str:
        return self.find(f'[data-path="{path}"]').get_attribute("value") or ""

    def fault(self) -> str:
        return self.text(".fault")

    def verdict(self) -> str:
        return self.text("#panel .verdict")

    def mends(self) -> list[str]:
        """What mends the stage's worst finding, the cheapest first, and the other ways."""
        self.find("[data-test=mend]")
        if others := self.all("#mends details:not([open]) summary"):
            others[0].click()
            self.until(lambda: len(self.all("[data-test=mend]")) > 1, "no other ways")
        return [m.text for m in self.all("[data-test=mend]") if m.is_displayed()]

    def try_mend(self, index: int = 0) -> "Bench":
        self.find("[data-test=mend]")
        return self._changed(self.all("[data-mend]")[index].click)

    # Where you stand

    def where(self) -> str:
        return self.text("[data-test=where]")

    def kv_here(self) -> float:
        return float(re.split(r"\s", self.text("#stand .figure"))[0])

    def season(self, words: str) -> "Bench":
        self.button(words, "#seasons").click()
        return self

    def go_to(self, words: str) -> str:
        """Go to the place of a finding that says these words; the words of its place."""
        link = self.until(
            lambda: [b for b in self.all("#bench [data-go]") if words in b.text], f"no finding {words!r}"
        )[0]
        place = link.text
        link.click()
        return place

    def clash(self) -> str:
        return self.text("#dialog[open]")

    def settle(self, test: str) -> "Bench":
        self.find(f"[data-test={test}]").click()
        self.until(lambda: not self.all("#dialog[open]"), "the dialog stays")
        return self.ready()
