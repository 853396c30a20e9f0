"""Named queries from .sql files: a name line, a purpose line, one statement. Read once."""

import re
from dataclasses import dataclass
from importlib import resources

_HEAD = re.compile(r"^-- name: (\w+)\n-- (.+)\n", re.MULTILINE)


@dataclass(frozen=True)
class Query:
    """One statement with its name and purpose."""

    name: str
    purpose: str
    sql: bytes


def read_queries(text: str) -> dict[str, Query]:
    """The queries of a file by name. Raises ValueError for a name that is there twice or an empty query."""
    heads = list(_HEAD.finditer(text))
    found: dict[str, Query] = {}
    for head, following in zip(heads, [*heads[1:], None], strict=True):
        sql = text[head.end() : following.start() if following else len(text)].strip().rstrip(";")
        if not sql or head[1] in found:
            raise ValueError(f"query {head[1]!r} is empty or is there twice")
        found[head[1]] = Query(head[1], head[2], sql.encode())
    return found


def load_queries(module: str) -> dict[str, Query]:
    """Return the queries by name from the .sql file beside a module, given the module's dotted name."""
    room, _, subject = module.rpartition(".")
    return read_queries(resources.files(room).joinpath(f"{subject}.sql").read_text(encoding="utf-8"))
