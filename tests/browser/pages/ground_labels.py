"""What is written on the ground and what it may not cover, in pixels of the ground."""

from shapely import LineString, box

from tests.browser.pages.bench import Bench

_BOXES = """
const frame = document.getElementById("map").getBoundingClientRect();
const rows = [...document.querySelectorAll(arguments[0])].filter((e) => e.offsetWidth);
return rows.map((e) => {
  const b = e.getBoundingClientRect();
  return [e.textContent, b.left - frame.left, b.top - frame.top, b.right - frame.left, b.bottom - frame.top];
});"""
_LINES = """
const map = document.getElementById("map").adzeMap;
return arguments[0].map((points) => points.map(([east, north]) => {
  const { x, y } = map.latLngToContainerPoint([north, east]);
  return [x, y];
}));"""
_FLOATING = ".legend, .leaflet-control-zoom, .ground-tools, .ground-says"
_HALF_LINE_PX = 3.5


class GroundLabels:
    """The names on the ground of a bench."""

    def __init__(self, bench: Bench) -> None:
        self.bench = bench
        bench.until(lambda: bench.all(".ground-label"), "no names on the ground")

    def _boxes(self, css: str) -> list[tuple[str, object]]:
        rows = self.bench.driver.execute_script(_BOXES, css)
        return [(str(words), box(*corners)) for words, *corners in rows]

    def words(self) -> list[str]:
        return [words for words, _ in self._boxes(".ground-label")]

    def on_each_other(self) -> list[tuple[str, str]]:
        """Pairs of names that share pixels, with each other or with what floats over the ground."""
        names, floats = self._boxes(".ground-label"), self._boxes(_FLOATING)
        pairs = [(a, b) for i, a in enumerate(names) for b in (*names[i + 1 :], *floats)]
        return [(a[0], b[0]) for a, b in pairs if a[1].intersection(b[1]).area > 0.5]  # type: ignore[attr-defined]

    def signs_on_each_other(self) -> int:
        """Pairs of signs that share pixels: of fixtures, of what lies on the ground, of the energizer's house."""
        signs = [own for _, own in self._boxes("#map .leaflet-marker-icon:has(svg.sign, [viewBox='0 0 26 26'])")]
        assert signs
        return sum(
            a.intersection(b).area > 0.5  # type: ignore[attr-defined]
            for i, a in enumerate(signs)
            for b in signs[i + 1 :]
        )

    def on_fences(self) -> list[str]:
        """Names, and what floats, that cover a line of fence."""
        lines = self.bench.driver.execute_script(_LINES, [run["points"] for run in self.bench.document()["runs"]])
        size = self.bench.find("#map").size
        sight = box(0, 0, size["width"], size["height"])
        fences = [LineString(points).buffer(_HALF_LINE_PX).intersection(sight) for points in lines]
        boxes = self._boxes(".ground-label") + self._boxes(_FLOATING)
        return [words for words, own in boxes if any(fence.intersects(own) for fence in fences)]

    def point_at_unsaid(self) -> str:
        """Point at something whose name found no room; what is then said."""
        spots = self.bench.driver.execute_script(
            "return document.getElementById('map').adzeUnsaid().map((l) => [l.spot.x, l.spot.y])"
        )
        ground = self.bench.find("#map")
        size = ground.size
        x, y = spots[0]
        offset = round(x - size["width"] / 2), round(y - size["height"] / 2)
        self.bench.actions().move_to_element_with_offset(ground, *offset).perform()
        return self.bench.text(".pointed-label")
