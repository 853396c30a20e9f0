"""Two people, one plan: what differs between revisions, and both changes put together."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

Json = Any
Path = tuple[str, ...]
_GONE = object()


class Prefer(StrEnum):
    """Whose value stands where both changed the same thing."""

    MINE = "mine"
    THEIRS = "theirs"


@dataclass(frozen=True)
class Difference:
    """One changed value: where, before and after (None where it was not there)."""

    path: Path
    before: Json
    after: Json


@dataclass(frozen=True)
class Merged:
    """Both changes together, and the paths where they clashed."""

    document: Json
    clashes: tuple[Path, ...]


def _by_id(value: Json) -> dict[str, Json] | None:
    """Rows with ids as a mapping in their order; None for anything else."""
    if isinstance(value, list) and value and all(isinstance(row, Mapping) and "id" in row for row in value):
        return {str(row["id"]): row for row in value}
    return None


def _children(*values: Json) -> list[dict[str, Json]] | None:
    """Values as mappings when they can be compared part by part."""
    if all(isinstance(v, Mapping) for v in values):
        return [dict(v) for v in values]
    keyed = [_by_id(v) if v else {} if isinstance(v, list) else None for v in values]
    if any(keyed) and all(k is not None for k in keyed):
        return [k for k in keyed if k is not None]
    return None


def differences(base: Json, other: Json, path: Path = ()) -> tuple[Difference, ...]:
    """Every value that differs, rows matched by their ids."""
    if base == other:
        return ()
    parts = _children(base, other)
    if parts is None:
        return (Difference(path, base, other),)
    old, new = parts
    found: list[Difference] = []
    for key in dict.fromkeys((*old, *new)):
        found += differences(old.get(key), new.get(key), (*path, key))
    return tuple(found)


def merge(base: Json, mine: Json, theirs: Json, prefer: Prefer = Prefer.MINE) -> Merged:
    """Mine and theirs put together over their common base; clashes go the preferred way."""
    clashes: list[Path] = []

    def together(path: Path, b: Json, m: Json, t: Json) -> Json:
        if m == t or t == b:
            return m
        if m == b:
            return t
        parts = None if _GONE in (b, m, t) else _children(b, m, t)
        if parts is None:
            clashes.append(path)
            return m if prefer is Prefer.MINE else t
        rows = {
            key: together((*path, key), *(part.get(key, _GONE) for part in parts))
            for key in dict.fromkeys(key for part in (parts[2], parts[1], parts[0]) for key in part)
        }
        kept = {key: value for key, value in rows.items() if value is not _GONE}
        return kept if isinstance(m, Mapping) else list(kept.values())

    return Merged(together((), base, mine, theirs), tuple(clashes))


_LABELS = {
    "stock": "animals",
    "runs": "line",
    "fixtures": "fixture",
    "strands": "strands",
    "rods": "rods",
    "count": "how many",
    "length_m": "length",
    "spacing_m": "spacing",
    "diameter_mm": "thickness",
    "energizer": "energizer",
    "energizer_at": "energizer's place",
    "feed_at": "where the pulse is led in",
    "lead_out": "lead-out",
    "sleeve": "steel sleeve",
    "conduit": "conduit through the wall",
    "way": "way of the lead-out",
    "soil": "soil",
    "grass": "growth",
    "conductor": "conductor",
    "post": "posts",
    "points": "course",
    "duty": "duty",
    "fences": "fence",
    "fence": "built as",
    "herds": "animals",
    "scheme": "scheme",
    "name": "name",
    "units": "units",
    "position": "place",
    "landmarks": "landmark",
    "meetings": "crossing of lines",
    "blocks": "block",
    "moves": "moves",
    "notes": "note",
    "underlay": "aerial photo",
    "profile": "heights",
    "use": "use",
    "is_open": "open",
    "under_cable": "cable under it",
    "feeds": "fed from",
    "opens_at": "unhooked at",
    "at_m": "distance along",
    "line_kv": "kV of the line",
    "bottom_off": "bottom strands",
    "soil_ohm_m": "soil measured",
    "half_power": "reduced terminal",
    "supply": "supply",
    "rate": "rate of pulses",
    "battery_ah": "battery",
    "own_energizers": "own energizers",
    "netting": "netting",
    "behind": "what stands behind",
    "apron": "mesh on the ground",
    "bracket_cm": "distance off the old fence",
    "stands": "what carries the strand",
    "end_post": "end posts",
    "end_kind": "kind of ends",
    "own_prices": "own prices",
    "allowance": "waste and tails",
    "work": "how it is built",
    "vat_percent": "tax",
    "quotes": "quotes of shops",
    "from_shed": "what the shed gives",
    "least_rows": "least number of strands",
    "end_insulators": "insulators at the ends",
    "switched": "on the bottom switch",
    "made": "what it is made of",
    "tall_cm": "height",
    "whose": "whose it is",
    "condition": "state",
    "service": "how long it is to stand",
    "trouble": "trouble with the old fence",
    "thick_coated": "thick-coated",
    "j_500": "joules on 500 Ω",
    "peak_500_us": "time to the peak",
    "subsoil": "soil below",
    "soil_feel": "screwdriver",
    "frost_m": "frost",
    "earth_school": "limit of the earth test",
    "bearing_deg": "bearing",
    "bore_cm": "bore with clay",
    "bare_wire": "bare wire between rods",
    "plate_m": "plate",
    "monitor": "rod that watches",
}


def difference_words(difference: Difference, document: Json) -> str:
    """One difference as people say it, with names in place of ids."""
    words, at = [], document
    for key in difference.path:
        rows = _by_id(at)
        if rows is not None:
            at = rows.get(key)
            words.append((at or {}).get("name") or (at or {}).get("kind") or key)
        else:
            at = at.get(key) if isinstance(at, Mapping) else None
            words.append(_LABELS.get(key, key.replace("_", " ")))
    before, after = (_short(v) for v in (difference.before, difference.after))
    if before is None or after is None:
        return f"{', '.join(words)} changed"
    return f"{', '.join(words)}: {before} → {after}"


def _short(value: Json) -> str | None:
    """A plain value as text; None for something with parts."""
    if isinstance(value, (Mapping, list)):
        return None
    if value is None:
        return "none"
    return "yes" if value is True else "no" if value is False else str(value)
