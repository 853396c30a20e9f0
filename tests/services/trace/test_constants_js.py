"""A figure or a sentence that the server and a search on a device share is written once, in Python."""

import json
import re
import subprocess
from collections.abc import Iterator
from typing import Any

from adze.services.trace.constants_js import path, shared

SCRIPTS = [script for script in path().parent.rglob("*.js") if script != path()]


def texts(value: Any) -> Iterator[str]:
    """Every text in a value."""
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict | tuple):
        for part in value.values() if isinstance(value, dict) else value:
            yield from texts(part)


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
    # Others of the same name: a cap of evidence, and steps that come before a search.
    assert set(again) <= {("growth.js", "MOST"), ("on_device.js", "BEFORE")}


def test_no_script_writes_a_shared_sentence_again() -> None:
    sentences = [text for rows in shared().values() for text in texts(rows) if len(text) > 20]
    assert len(sentences) > 5
    source = re.sub(r"[\"`] \+\s+[\"`]", "", "\n".join(script.read_text() for script in SCRIPTS))
    assert [sentence for sentence in sentences if sentence.strip() in source] == []
