"""What a farm has in its shed."""

from tests.browser.pages.base import Page


class Shed(Page):
    """The shed of a plan's farm."""

    def of(self, plan: str) -> "Shed":
        self.driver.get(f"{self.browser.address}/plans/{plan}/parts")
        link = self.find('a[href*="/shed"]').get_attribute("href")
        self.driver.get(link or "")
        return self

    def put_in(self, part: str, quantity: str) -> "Shed":
        self.fill("#shed-part", part)
        self.fill("#shed-quantity", quantity)
        self.button("Keep").click()
        self.until(lambda: self.has(part), "the part is the shed no longer has it")
        return self

    def has(self, part: str) -> str:
        """How much of a part there is, with its unit; empty where none is."""
        rows = [[cell.text for cell in row.find_elements("css selector", "td")] for row in self.all("main tbody tr")]
        return next((cells[1] for cells in rows if part in cells[0]), "")
