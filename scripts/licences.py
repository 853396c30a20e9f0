"""Writes LICENCES.md: what Adze ships with or runs on, each with its version and licence, as the packages say."""

import json
import re
from importlib.metadata import PackageNotFoundError, metadata
from pathlib import Path

ROOT = Path(__file__).parents[1]
# Packages that say a licence only in a file of theirs, read there.
_IN_A_FILE = {"gpxpy": "Apache-2.0"}
_HEAD = """# Licences

Adze itself: Apache License 2.0, in [LICENSE](LICENSE). Made by `python scripts/licences.py` from what the packages say
of themselves; each package holds its own licence text.

| name | version | licence | how |
|---|---|---|---|
"""


def python_packages() -> list[tuple[str, str]]:
    """Name and version of each package that requirements.txt pins."""
    rows = re.findall(
        r"^([A-Za-z0-9_.-]+)(?:\[[a-z0-9,]+\])?==([^\s;\\]+)", (ROOT / "requirements.txt").read_text(), re.M
    )
    return sorted(rows, key=lambda row: row[0].lower())


def web_packages() -> list[str]:
    """The npm packages whose files are copied into the static folder."""
    names: list[str] = sorted(json.loads((ROOT / "package.json").read_text())["dependencies"])
    return names


def licence_of(name: str) -> str | None:
    """What an installed package says of its licence; None where it is not installed on this platform."""
    try:
        said = metadata(name)
    except PackageNotFoundError:
        return None
    classes = [row.rpartition(" :: ")[2] for row in said.get_all("Classifier") or [] if row.startswith("License ::")]
    text = said.get("License-Expression") or said.get("License") or ""
    short = text if text and len(text) < 60 and "\n" not in text else ""
    return _IN_A_FILE.get(name) or short or ", ".join(classes) or "see the package"


def main() -> None:
    """Write the file."""
    rows = []
    for name in web_packages():
        said = json.loads((ROOT / "node_modules" / name / "package.json").read_text())
        rows.append(f"| {name} | {said['version']} | {said['license']} | shipped |")
    for name, version in python_packages():
        licence = licence_of(name)
        rows.append(f"| {name} | {version} | {licence or 'only on other platforms'} | installed |")
    (ROOT / "LICENCES.md").write_text(_HEAD + "\n".join(rows) + "\n")


if __name__ == "__main__":
    main()
