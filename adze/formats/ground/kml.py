"""KML 2.2 in and out. Read leniently: map programs write folders, styles and tracks of their own around lines."""

from collections.abc import Iterator
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.ground.features import features, plan_words
from adze.formats.ground.imported import ImportedFeatures, ImportedSpot, Line, Part, part_of, plain_name
from adze.formats.tables.xml import local, read_xml

_SPACE = "http://www.opengis.net/kml/2.2"
_KEY = "adze"
_LINES = ("LineString", "LinearRing")


def read_kml(content: bytes) -> ImportedFeatures:
    """Every line, ring, track and point in any folder. Raises FormatError naming the placemark."""
    root = read_xml(content, "KML")
    if local(root.tag) != "kml":
        raise FormatError(f"KML: begins with <{local(root.tag)}>, not <kml>; this is some other XML")
    lines: list[Line] = []
    spots: list[ImportedSpot] = []
    for number, mark in enumerate((e for e in root.iter() if local(e.tag) == "Placemark"), 1):
        name = plain_name(_text(mark, "name"), f"Line {number}")
        for found in _shapes(mark, name, part_of(_data(mark))):
            if isinstance(found, Line):
                lines.append(found)
            else:
                spots.append(found)
    document = next((e for e in root if local(e.tag) in ("Document", "Folder")), root)
    return ImportedFeatures(tuple(lines), tuple(spots), plan=part_of(_data(document)))


def _text(parent: Element, tag: str) -> str | None:
    return next((e.text for e in parent if local(e.tag) == tag), None)


def _data(parent: Element) -> str | None:
    """What a placemark says under Adze's own key, as Data or as SimpleData."""
    for extended in (e for e in parent if local(e.tag) == "ExtendedData"):
        for e in extended.iter():
            if e.get("name") == _KEY:
                return _text(e, "value") if local(e.tag) == "Data" else e.text
    return None


def _shapes(mark: Element, name: str, part: Part | None) -> Iterator[Line | ImportedSpot]:
    count = 0
    for element in mark.iter():
        kind = local(element.tag)
        if kind not in (*_LINES, "Point", "Track"):
            continue
        count += 1
        own = name if count == 1 else f"{name[:70]}, part {count}"
        rows = list(_track(element, own)) if kind == "Track" else list(_coordinates(element, own))
        if not rows:
            continue
        if kind == "Point":
            yield ImportedSpot(own, rows[0][0], part)
            continue
        if len(rows) < 2:
            raise FormatError(f"KML: {own} has fewer than 2 points")
        heights = tuple(h for _, h in rows)
        # Map programs write 0 for every height they do not know.
        known = heights if any(h for h in heights) else ()
        yield Line(own, tuple(p for p, _ in rows), known, kind == "LinearRing", part if count == 1 else None)


def _coordinates(element: Element, name: str) -> Iterator[tuple[tuple[float, float], float | None]]:
    text = next((e.text for e in element if local(e.tag) == "coordinates"), None) or ""
    # Some programs put blanks after the commas.
    for number, row in enumerate(text.replace(", ", ",").replace(" ,", ",").split(), 1):
        yield _numbers(row.split(","), f"KML: point {number} of {name}")


def _track(element: Element, name: str) -> Iterator[tuple[tuple[float, float], float | None]]:
    rows = [e.text or "" for e in element if local(e.tag) == "coord"]
    for number, row in enumerate(rows, 1):
        yield _numbers(row.split(), f"KML: point {number} of {name}")


def _numbers(cells: list[str], where: str) -> tuple[tuple[float, float], float | None]:
    try:
        lon, lat = float(cells[0]), float(cells[1])
        height = float(cells[2]) if len(cells) > 2 and cells[2] else None
    except (ValueError, IndexError) as error:
        raise FormatError(f"{where} is {','.join(cells)[:40]!r}, not longitude,latitude") from error
    return (lon, lat), height


def write_kml(plan: Plan) -> str:
    """The plan's ground as KML; what Adze alone understands stands as extended data."""
    root = Element("kml", xmlns=_SPACE)
    document = SubElement(root, "Document")
    SubElement(document, "name").text = plan.name
    _extended(document, {_KEY: plan_words(plan)})
    for feature in features(plan):
        mark = SubElement(document, "Placemark")
        SubElement(mark, "name").text = feature.name
        _extended(mark, {"kind": feature.kind, _KEY: feature.words})
        parent = SubElement(mark, "Polygon" if feature.shape == "Polygon" else feature.shape)
        if feature.shape == "Polygon":
            parent = SubElement(SubElement(parent, "outerBoundaryIs"), "LinearRing")
        heights = feature.heights or (None,) * len(feature.points)
        rows = [
            f"{lon:.9f},{lat:.9f}" + ("" if h is None else f",{h:g}")
            for (lon, lat), h in zip(feature.points, heights, strict=True)
        ]
        SubElement(parent, "coordinates").text = " ".join(rows)
    indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + tostring(root, encoding="unicode") + "\n"


def _extended(parent: Element, rows: dict[str, str]) -> None:
    extended = SubElement(parent, "ExtendedData")
    for key, value in rows.items():
        SubElement(SubElement(extended, "Data", name=key), "value").text = value
