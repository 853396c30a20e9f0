"""The parts list as files: JSON, a workbook whose formulas add up, nothing that runs."""

import io
import json
import math
import shutil
import subprocess
from pathlib import Path

import openpyxl
import pytest
from typer.testing import CliRunner

from adze.cli import app
from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.formats.parts.parts_list import parts_json
from adze.formats.parts.parts_workbook import parts_workbook
from adze.formats.plan.plan_file import dump_plan
from tests.conftest import simple_plan

OFFICE = shutil.which("soffice") or shutil.which("libreoffice")


def test_json_tells_which_lines_take_what(hallow: Plan) -> None:
    found = json.loads(parts_json(hallow))
    assert found["total"] == pytest.approx(bill(hallow).total)
    for row in found["rows"]:
        assert sum(row["lines"].values()) == pytest.approx(row["need"], abs=0.5)
        assert row["packs"] >= math.ceil(round(row["need"] / row["pack"], 6))


def test_a_workbook_s_formulas_are_the_list_s_sums(hallow: Plan) -> None:
    sheet = openpyxl.load_workbook(io.BytesIO(parts_workbook(hallow)))["All"]
    lines = bill(hallow).lines
    for number, x in enumerate(lines, 2):
        need, pack, price = (sheet.cell(number, column).value for column in (3, 5, 6))
        packs = sheet.cell(number, 7).value
        if packs == f"=ROUNDUP(C{number}/E{number}-0.000001,0)":
            packs = math.ceil(need / pack - 1e-6)
        assert packs == x.packs
        assert price * x.packs == pytest.approx(x.cost)
    assert sheet.cell(len(lines) + 2, 8).value == f"=SUM(H2:H{len(lines) + 1})"


def test_a_name_that_begins_like_a_formula_runs_nothing() -> None:
    run = {"id": "r", "name": "=HYPERLINK(1)", "points": [[0, 0], [50, 0]]}
    sheet = openpyxl.load_workbook(io.BytesIO(parts_workbook(simple_plan(runs=[run]))))["By line"]
    assert {cell.data_type for cell in sheet["A"]} == {"s"}


@pytest.mark.skipif(not OFFICE, reason="LibreOffice (Debian package) is not installed: its sums are not checked")
def test_an_office_adds_it_up(hallow: Plan, tmp_path: Path) -> None:
    (tmp_path / "parts.xlsx").write_bytes(parts_workbook(hallow))
    command = [
        OFFICE or "",
        "--headless",
        "--convert-to",
        "csv",
        "--outdir",
        str(tmp_path),
        str(tmp_path / "parts.xlsx"),
    ]
    subprocess.run(command, check=True, capture_output=True, timeout=120)
    last = (tmp_path / "parts.csv").read_text(encoding="utf-8").strip().splitlines()[-1]
    assert float(last.split(",")[7]) == pytest.approx(bill(hallow).total, abs=0.02)


def test_the_command_line_gives_the_same(tmp_path: Path) -> None:
    plan = simple_plan()
    source = tmp_path / "plan.json"
    source.write_text(json.dumps(dump_plan(plan)), encoding="utf-8")
    run = CliRunner().invoke
    assert json.loads(run(app, ["parts", str(source)]).output)["total"] == pytest.approx(bill(plan).total)
    assert run(app, ["parts", str(source), "--to", "csv"]).output.startswith("group,part")
    out = tmp_path / "parts.xlsx"
    assert run(app, ["parts", str(source), "--to", "xlsx", "-o", str(out)]).exit_code == 0
    assert openpyxl.load_workbook(out).sheetnames == ["All", "By line", "Cut list", "Joints", "Tools", "Prices"]
    for wrong, words in ((["--to", "ods"], "json, csv or xlsx"), (["--to", "xlsx"], "give a file")):
        done = run(app, ["parts", str(source), *wrong])
        assert done.exit_code == 2
        assert words in " ".join(done.output.split())
