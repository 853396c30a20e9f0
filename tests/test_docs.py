"""The docs say what is there."""

import ast
import importlib
import json
import re
import subprocess
import tomllib
from collections import Counter
from pathlib import Path

import pytest

from adze.core.plan.stages import Stage
from adze.web.stages import STAGE_PAGES
from scripts import licences

ROOT = Path(__file__).parents[1]
README = (ROOT / "README.md").read_text()


def test_every_picture_is_linked_and_every_link_leads_somewhere() -> None:
    pictures = {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    linked = set(re.findall(r"docs/screenshots/([\w-]+\.png)", README))
    assert linked == pictures
    assert len(pictures) < 20
    for target in re.findall(r"\]\((?!http)([^)#]+)\)", README):
        assert (ROOT / target).exists(), target


@pytest.mark.parametrize("stage", list(STAGE_PAGES))
def test_every_stage_is_told(stage: Stage) -> None:
    assert f"[{stage.label}]" in README


def test_every_tagged_version_is_a_release_in_the_changelog() -> None:
    releases = re.findall(r"^## (\d+\.\d+\.\d+), \d", (ROOT / "CHANGELOG.md").read_text(), re.MULTILINE)
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())
    assert project["tool"]["setuptools_scm"]["fallback_version"] == releases[0]
    tags = subprocess.run(
        ["git", "-c", "safe.directory=*", "tag"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split()
    assert {tag.removeprefix("v") for tag in tags} <= set(releases)


def test_every_package_that_ships_or_is_installed_has_its_licence_in_the_list() -> None:
    rows = set(re.findall(r"^\| (\S+) \| (\S+) \| \S", (ROOT / "LICENCES.md").read_text(), re.MULTILINE))
    assert set(licences.python_packages()) <= rows
    shipped = json.loads((ROOT / "package.json").read_text())["dependencies"]
    assert set(shipped.items()) <= rows


def test_every_room_stands_in_the_architecture_page() -> None:
    page = (ROOT / "docs" / "architecture.md").read_text()
    for room in (p for p in (ROOT / "adze").iterdir() if p.is_dir() and (p / "__init__.py").exists()):
        assert f"`adze/{room.name}`" in page


def test_equations_that_code_cites_stand_in_the_physics_page() -> None:
    page = (ROOT / "docs" / "physics.md").read_text()
    told = set(re.findall(r"(?:^|[ (])(\d{1,2})\. ", page, re.MULTILINE))
    for file in (ROOT / "adze" / "core").rglob("*.py"):
        for number in re.findall(r"eq\. (\d+)", file.read_text()):
            assert number in told, f"{file.name} cites eq. {number}"


def test_direct_packages_are_pinned() -> None:
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    rows = project["dependencies"] + project["optional-dependencies"]["dev"]
    assert all("==" in row for row in rows)


TERMS = {
    "operation": "adze.services.operations.base:Operation",
    "action": "adze.core.verdict.actions:Action",
    "change": "adze.core.advice.plan_changes:Change",
    "fix": "adze.core.design.fixes:Fix",
    "construction": "adze.core.plan.construction:Construction",
    "probe": "adze.core.forecast.volts:Probe",
    "port equivalent": "adze.core.pulse.port_equivalent:PortEquivalent",
    "source update": "adze.core.pulse.source_update:SourceUpdate",
    "imported features": "adze.formats.ground.imported:ImportedFeatures",
    "refusal": "adze.core.build.rod_sites:Refusal",
    "role": "adze.services.plans.plans:PlanRole",
    "stage page": "adze.web.stages:StagePage",
}


@pytest.mark.parametrize("term", TERMS)
def test_a_term_of_the_glossary_is_the_name_in_the_code(term: str) -> None:
    words = {
        word.strip().split(" (")[0]
        for row in (ROOT / "docs" / "glossary.md").read_text().splitlines()
        if row.startswith("|")
        for word in row.split("|")[1].split(",")
    }
    assert term in words
    module, name = TERMS[term].split(":")
    assert hasattr(importlib.import_module(module), name)


def test_a_class_name_means_one_thing() -> None:
    names = [
        node.name
        for path in sorted((ROOT / "adze").rglob("*.py"))
        for node in ast.parse(path.read_text()).body
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    ]
    assert {name for name, times in Counter(names).items() if times > 1} == set()
