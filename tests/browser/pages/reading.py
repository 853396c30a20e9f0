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
        self.until(lambda: self.driver.current_url.endswith("/log"), "the reading is not kept")
        return Bench(self.browser)

    def keep_offline(self) -> None:
        """Press Keep where there is no signal: the figure leaves the form once it lies on the device."""
        self.button("Keep it and walk on").click()
        self.until(lambda: self.find("#kv").get_attribute("value") == "", "the reading is not kept on the device")

    def waiting(self) -> int:
        """How many readings lie on the device."""
        ask = (
            "const [done] = arguments; const asked = indexedDB.open('adze-outbox', 2); asked.onsuccess = () => {"
            "const all = asked.result.transaction('entries').objectStore('entries').count();"
            "all.onsuccess = () => { asked.result.close(); done(all.result); }; }"
        )
        return int(self.driver.execute_async_script(ask))

    def put_on_device(self, plan: str, many: int, account: str | None = None) -> None:
        """So many readings on the device, each with its number as its note, as many presses of Keep leave them.

        They are the account's that is signed in unless said.
        """
        ask = (
            "const [plan, many, account, done] = arguments; const asked = indexedDB.open('adze-outbox', 2);"
            "asked.onsuccess = () => { const change = asked.result.transaction('entries', 'readwrite');"
            "for (let n = 0; n < many; n += 1) { const once = `put${plan}-${n}`; const body = new URLSearchParams({"
            "run: 'line1', at_m: '5', strand: '1', kv: '5.5', season: 'usual', note: `n${n}`, once}).toString();"
            "change.objectStore('entries').put({once, url: `/plans/${plan}/log/reading`, body,"
            "at: new Date(Date.now() - 60000 * n).toISOString(), words: `n${n}`,"
            "account: account ?? document.documentElement.dataset.account}); }"
            "change.oncomplete = () => { asked.result.close(); done(); }; }"
        )
        self.driver.execute_async_script(ask, plan, many, account)

    def kept_notes(self, plan: str) -> list[int]:
        """The numbers of those notes that the server has kept."""
        ask = (
            "const [plan, done] = arguments; (async () => { const found = []; for (let page = 1; ; page += 1) {"
            "const text = await (await fetch(`/plans/${plan}/readings?p=${page}`)).text();"
            "const own = [...text.matchAll(/>n(\\d+)</g)].map((m) => Number(m[1])); found.push(...own);"
            "if (!own.length) break; } done(found); })()"
        )
        return list(self.driver.execute_async_script(ask, plan))

    def outbox(self) -> str:
        return self.find("#outbox").text

    def smallest_target_px(self) -> float:
        """The least height of anything to tap."""
        heights = [e.rect["height"] for e in self.all("#reading .act, #reading select, #reading input[inputmode]")]
        return min(h for h in heights if h > 0)
