"""What the commands share: files read and written whole, one line for what is wrong, answers as JSON."""

import json
import sys
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer

_LARGEST_FILE = 20_000_000

CaseFile = Annotated[Path, typer.Argument(help="A case file: one case, or an object with cases.")]
PlanFile = Annotated[Path, typer.Argument(help="A plan file.")]


def refuse(message: str) -> NoReturn:
    """End with one line that says what is wrong."""
    typer.echo(" ".join(message.split()), err=True)
    raise typer.Exit(2)


def read_text(path: Path) -> str:
    """A text file of the right size; else end with what is wrong."""
    try:
        if path.stat().st_size > _LARGEST_FILE:
            refuse(f"{path}: larger than {_LARGEST_FILE // 1_000_000} MB")
        return path.read_text(encoding="utf-8")
    except OSError as error:
        refuse(f"{path}: cannot be read ({error.strerror})")
    except UnicodeDecodeError:
        refuse(f"{path}: is not text in UTF-8")


def read_bytes(path: Path) -> bytes:
    """A file; else end with what is wrong."""
    try:
        return path.read_bytes()
    except OSError as error:
        refuse(f"{path}: cannot be read ({error.strerror})")


def write_text(path: Path, content: str) -> None:
    """Write a text file whole or not at all."""
    write_bytes(path, content.encode())


def write_bytes(path: Path, content: bytes) -> None:
    """Write a file whole or not at all."""
    part = path.with_name(path.name + ".part")
    try:
        part.write_bytes(content)
        part.replace(path)
    except OSError as error:
        part.unlink(missing_ok=True)
        refuse(f"{path}: cannot be written ({error.strerror})")


def print_json(content: Any) -> None:
    """Print as JSON."""
    # NaN is not JSON: better no answer than one that other programs refuse.
    json.dump(content, sys.stdout, indent=1, allow_nan=False)
    sys.stdout.write("\n")
