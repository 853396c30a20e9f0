"""The plan as a file: JSON by a published schema, one version at a time."""

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from adze.core.plan.document import PLAN_VERSION, Plan
from adze.formats.errors import FormatError, fault_path, fault_words
from adze.formats.json_text import read_json
from adze.formats.plan.plan_upgrade import upgraded

MOST_PLAN_VALUES = 400_000  # twenty times those of a farm of 200 lines with 2,000 corners


class PlanFault(FormatError):
    """A plan that does not hold together: every fault with its path."""

    def __init__(self, faults: tuple[tuple[str, str], ...]) -> None:
        super().__init__("; ".join(f"{path}: {what}" if path else what for path, what in faults))
        self.faults = faults


def read_plan_document(document: Any) -> Plan:
    """A plan from its JSON content of this or an earlier version. Raises PlanFault, FormatError for a later version."""
    if not isinstance(document, Mapping) or document.get("format") != "adze-plan":
        raise FormatError('plan file: "format" must be "adze-plan"; this is something else')
    version = document.get("version")
    if isinstance(version, int) and version > PLAN_VERSION:
        raise FormatError(
            f"plan file: made by a later Adze (version {version}, this one reads {PLAN_VERSION}); update Adze first"
        )
    try:
        return Plan.model_validate(upgraded(document))
    except ValidationError as error:
        raise PlanFault(tuple((fault_path(f), fault_words(f)) for f in error.errors()[:20])) from error


def read_plan(text: str) -> Plan:
    """A plan from a file's text. Raises FormatError."""
    return read_plan_document(read_json(text, "plan file", MOST_PLAN_VALUES))


def dump_plan(plan: Plan) -> dict[str, Any]:
    """A plan as JSON content, opening with what it is."""
    whole = plan.model_dump(mode="json")
    return {key: whole[key] for key in ("format", "version", "name")} | whole


def plan_schema() -> dict[str, Any]:
    """The published JSON Schema of plan files."""
    return Plan.model_json_schema()
