"""Pictures that a plan document names: photos of its notes, and the aerial photo under it."""

from collections.abc import Mapping
from typing import Any

Document = dict[str, Any]


def pictures_of(document: Document) -> set[int]:
    """The ids of all pictures that a document names."""
    found = {photo for note in document.get("notes") or () for photo in note.get("photos") or ()}
    if document.get("underlay"):
        found.add(document["underlay"]["picture"])
    return found


def with_pictures(document: Document, ids: Mapping[int, int]) -> Document:
    """The document with other ids for its pictures; what has none is left out."""
    notes = [
        note | {"photos": [ids[photo] for photo in note.get("photos") or () if photo in ids]}
        for note in document.get("notes") or ()
    ]
    under = document.get("underlay")
    kept = under | {"picture": ids[under["picture"]]} if under and under["picture"] in ids else None
    changed = {"notes": notes} if "notes" in document else {}
    return document | changed | ({"underlay": kept} if "underlay" in document else {})
