"""A figure or a sentence that the server and a search on a device share is written once, in Python."""

import ast
import json
import re
import subprocess
from collections.abc import Iterator
from pathlib import Path

from adze.services.trace.constants_js import path, shared

SCRIPTS = [script for script in path().parent.rglob("*.js") if script != path()]


def test_the_scripts_have_what_python_says() -> None:
    code = f"import({json.dumps(path().as_uri())}).then((all) => console.log(JSON.stringify(all)))"
    said = subprocess.run(["node", "-e", code], capture_output=True, text=True, check=True).stdout
    assert json.loads(said) == json.loads(json.dumps(shared()))


def test_no_script_writes_a_shared_figure_again() -> None:
    names = {name for rows in shared().values() for name in rows}
    literal = re.compile(r"^(?:export )?const (?:\[([A-Z_0-9, ]+)\]|([A-Z_0-9]+)) = [\[\"\d-]", re.MULTILINE)
    again = [
        (script.name, name)
        for script in SCRIPTS
        for found in literal.finditer(script.read_text())
        for name in re.findall(r"\w+", found[1] or found[2])
        if name in names
    ]
    # Another of the same name: steps that come before a search.
    assert set(again) <= {("on_device.js", "BEFORE")}


def python_texts() -> Iterator[str]:
    """Every text of the program that is no docstring, with {} for what goes into it."""
    for module in (path().parents[4]).rglob("*.py"):
        tree = ast.parse(module.read_text())
        parts = {id(part) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr) for part in node.values}
        for node in ast.walk(tree):
            if isinstance(node, ast.JoinedStr):
                yield "".join(str(part.value) if isinstance(part, ast.Constant) else "{}" for part in node.values)
            elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in parts:
                yield re.sub(r"\{\w+\}", "{}", node.value)


def test_no_script_writes_a_sentence_of_python_again() -> None:
    reader = Path(__file__).parents[2] / "js" / "texts.js"
    said = subprocess.run(["node", reader, *SCRIPTS], capture_output=True, text=True, check=True).stdout
    written = {" ".join(text.split()) for text in json.loads(said)}
    known = {" ".join(text.split()) for text in python_texts()}
    sentences = {text for text in written & known if re.search(r"[A-Za-z]{3,}.* .*[a-z]{3,}", text)}
    assert len(written) > 300
    # Of two words, and of other things: a field's name in the shed and in the log.
    assert sentences <= {"How many"}
