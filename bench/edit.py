"""What an edit takes in the browser: from the press until it is drawn, on the demo farm. `python -m bench.edit`.

ADZE_TEST_DATABASE_URL names a PostgreSQL server; a database of its own is made there.
"""

import os
import statistics
import time

from adze.settings import Settings
from adze.store.connection import ensure_database, migrate
from tests.browser.conftest import Server, headless
from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser

EDITS = 20
_REST_S = 1.0  # between edits: what the last one asked for besides is answered by then


def edits_ms() -> list[float]:
    """Milliseconds of edits of Hallow Reach: the reduced terminal and back."""
    url = ensure_database(os.environ["ADZE_TEST_DATABASE_URL"], "bench")
    migrate(url)
    server = Server(Settings(database_url=url, pool_size=4, demos_an_hour=10_000))
    driver = headless()
    try:
        browser = Browser(driver, server.start())
        browser.fresh()
        bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage("power")
        found: list[float] = []
        while len(found) < EDITS:
            # Pressed, and nothing asked of the server until it is drawn: what looks on would take its processor.
            before = len(found)
            bench.find('[data-path="half_power"]').click()
            while len(found) == before:
                time.sleep(_REST_S)
                found = driver.execute_script(
                    "return performance.getEntriesByName('edit').map((entry) => entry.duration)"
                )
        return found
    finally:
        driver.quit()
        server.stop()


if __name__ == "__main__":
    took = sorted(edits_ms()[2:])
    print(f"an edit until it is drawn: median {statistics.median(took):.0f} ms, {took[0]:.0f} to {took[-1]:.0f}")
