"""The brief as a file: JSON by a published schema, with every fault named."""

import base64
import zlib
from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from adze.core.design.brief import BRIEF_VERSION, Brief
from adze.formats.errors import FormatError, fault_path, fault_words
from adze.formats.json_text import read_json

_MOST_BRIEF_VALUES = 50_000
_MOST_WORD_BYTES = 100_000


def read_brief(text: str) -> Brief:
    """A brief from a file's text. Raises FormatError naming each field that is wrong."""
    return read_brief_document(read_json(text, "brief", _MOST_BRIEF_VALUES))


def read_brief_document(document: Any) -> Brief:
    """A brief from its JSON content. Raises FormatError."""
    if not isinstance(document, Mapping) or document.get("format") != "adze-brief":
        raise FormatError('brief: "format" must be "adze-brief"; this is something else')
    version = document.get("version")
    if isinstance(version, int) and version > BRIEF_VERSION:
        raise FormatError(f"brief: made by a later Adze (version {version}, this one reads {BRIEF_VERSION})")
    try:
        return Brief.model_validate(document)
    except ValidationError as error:
        faults = ((fault_path(f), fault_words(f)) for f in error.errors()[:20])
        raise FormatError("; ".join(f"{path}: {what}" if path else what for path, what in faults)) from error


def brief_word(brief: Brief) -> str:
    """A brief as one word for an address."""
    return base64.urlsafe_b64encode(zlib.compress(brief.model_dump_json(exclude_none=True).encode(), 9)).decode()


def read_brief_word(word: str) -> Brief:
    """A brief from its word. Raises FormatError."""
    try:
        unpacked = zlib.decompressobj().decompress(base64.urlsafe_b64decode(word), _MOST_WORD_BYTES)
    except (ValueError, zlib.error) as error:
        raise FormatError("The address of this design is broken. Answer the questions again.") from error
    return read_brief(unpacked.decode("utf-8", "replace"))


def brief_schema() -> dict[str, Any]:
    """The published JSON Schema of briefs."""
    return Brief.model_json_schema()
