"""The measures of the code itself: lines, modules, functions, folders."""

import ast
import subprocess
from collections.abc import Iterator
from pathlib import Path
from statistics import median

import pytest

ROOT = Path(__file__).parent.parent
LINE = 120
SUFFIXES = {".py", ".js", ".mjs", ".css", ".html", ".sql", ".sh", ".toml"}
COMMANDS = {"start", "test", ".ci/run"}


def files(*suffixes: str) -> list[Path]:
    """What the repository holds, by suffix."""
    listed = subprocess.run(
        ["git", "-c", "safe.directory=*", "ls-files", "-co", "--exclude-standard"],
        cwd=ROOT, check=True, capture_output=True, text=True,
    ).stdout.splitlines()  # fmt: skip
    named = [name for name in listed if (ROOT / name).is_file()]
    return [ROOT / name for name in named if Path(name).suffix in suffixes or (not suffixes and name in COMMANDS)]


def functions(path: Path) -> Iterator[ast.FunctionDef | ast.AsyncFunctionDef]:
    """Every function and method of a module."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            yield node


def lines_of(node: ast.FunctionDef | ast.AsyncFunctionDef) -> int:
    """Lines of a function's body without its docstring."""
    body = node.body[1:] if ast.get_docstring(node) is not None else node.body
    return (body[-1].end_lineno or 0) - body[0].lineno + 1 if body else 0


SHIPPED = [path for path in files(".py") if path.is_relative_to(ROOT / "adze")]


def test_no_line_is_too_long() -> None:
    long = [
        f"{path.relative_to(ROOT)}:{number}"
        for path in [*files(*SUFFIXES), *files()]
        for number, line in enumerate(path.read_text().splitlines(), 1)
        if len(line) > LINE
    ]
    assert long == []


def test_modules_are_small() -> None:
    sizes = {path: len(path.read_text().splitlines()) for path in SHIPPED}
    assert {str(path): n for path, n in sizes.items() if n > 400} == {}
    assert median(sizes.values()) <= 150


def test_functions_are_short() -> None:
    sizes = [(f"{path.stem}.{node.name}", lines_of(node)) for path in SHIPPED for node in functions(path)]
    assert [(name, n) for name, n in sizes if n > 50] == []
    assert median(n for _, n in sizes) <= 8


def test_at_most_seven_parameters() -> None:
    many = [
        (f"{path.stem}.{node.name}", len([*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]))
        for path in SHIPPED
        for node in functions(path)
    ]
    assert [(name, n) for name, n in many if n > 7] == []


def rooms(folder: str, suffix: str) -> list[Path]:
    """Every folder below one that holds modules of a kind."""
    return sorted({path.parent for path in files(suffix) if path.is_relative_to(ROOT / folder)})


@pytest.mark.parametrize("room", [*rooms("adze", ".py"), *rooms("adze/web/static/js", ".js")], ids=str)
def test_a_room_holds_at_most_sixteen_modules(room: Path) -> None:
    modules = {path.name for suffix in (".py", ".js") for path in room.glob(f"*{suffix}")} - {"__init__.py"}
    assert len(modules) <= 16


@pytest.mark.parametrize("room", rooms("adze", ".py"), ids=str)
def test_a_room_says_what_it_is_for(room: Path) -> None:
    assert ast.get_docstring(ast.parse((room / "__init__.py").read_text()))


def test_styles_are_small() -> None:
    styles = [path for path in files(".css") if path.is_relative_to(ROOT / "adze/web/static/css")]
    assert {path.name: n for path in styles if (n := len(path.read_text().splitlines())) > 400} == {}


def test_scripts_are_small() -> None:
    own = [path for path in files(".js") if path.is_relative_to(ROOT / "adze/web/static/js")]
    scripts = [path for path in own if path.name != "constants.js"]  # that one is made, of figures and sentences
    assert {path.name: n for path in scripts if (n := len(path.read_text().splitlines())) > 200} == {}
