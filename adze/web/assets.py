"""Scripts, styles and fonts, under an address that changes when one of them does: a browser keeps them until then.

Modules name one another relative to themselves, so that one changed file gives all of them a new address.
"""

import hashlib
import os
import re
import time
from functools import lru_cache
from pathlib import Path

from fastapi.staticfiles import StaticFiles
from starlette.types import Scope

FOLDER = Path(__file__).parent / "static"
PREFIX = "/static"
_EDITION = re.compile(r"^e-[0-9a-f]{12}/")
_IMPORT = re.compile(r'''\bfrom\s*"(\.[^"]+)"|^import\s*"(\.[^"]+)"''', re.MULTILINE)
_KEPT = "public, max-age=31536000, immutable"


class Assets(StaticFiles):
    """The static folder; a path may begin with an edition, which says only how long it is kept."""

    def __init__(self) -> None:
        super().__init__(directory=FOLDER)

    def get_path(self, scope: Scope) -> str:
        """The path of a file below the folder, without its edition."""
        return _EDITION.sub("", super().get_path(scope))


def edition() -> str:
    """What the static folder holds, as twelve hex digits: names, sizes and times of its files of this second."""
    return _edition_in(int(time.monotonic()))


@lru_cache(1)
def _edition_in(_second: int) -> str:
    seen = hashlib.sha256()
    for folder, _, names in sorted(os.walk(FOLDER)):
        for name in sorted(names):
            state = os.stat(os.path.join(folder, name))
            seen.update(f"{folder}/{name} {state.st_size} {state.st_mtime_ns}\n".encode())
    return seen.hexdigest()[:12]


def asset(path: str) -> str:
    """Where a page finds a file of the static folder."""
    return f"{PREFIX}/e-{edition()}/{path}"


def modules(*entries: str) -> tuple[str, ...]:
    """Addresses of modules below js, such as pages/overview, and of all that they import, each once."""
    now = edition()
    return tuple(f"{PREFIX}/e-{now}/{path}" for path in _modules_in(now, entries))


@lru_cache(64)
def _modules_in(_edition: str, entries: tuple[str, ...]) -> tuple[str, ...]:
    waiting = [f"js/{name}.js" for name in entries]
    found = dict.fromkeys(waiting)
    while waiting:
        path = FOLDER / waiting.pop()
        for one, other in _IMPORT.findall(path.read_text()):
            imported = os.path.normpath(path.parent / (one or other))
            name = str(Path(imported).relative_to(FOLDER))
            if name not in found:
                found[name] = None
                waiting.append(name)
    return tuple(found)


def kept_for(path: str) -> str | None:
    """The Cache-Control of an address; None where it is none of the static folder."""
    if not path.startswith(f"{PREFIX}/"):
        return None
    return _KEPT if _EDITION.match(path.removeprefix(f"{PREFIX}/")) else "no-cache"
