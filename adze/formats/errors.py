"""What is said of content that cannot be read."""

from pydantic import ValidationError

from adze.core.plan.scalars import KIND_TAG


class FormatError(ValueError):
    """Content that cannot be read; the message names the place, what is wrong and the mend."""


_WORDS = {
    "missing": "is missing",
    "finite_number": "must be a finite number",
    "extra_forbidden": "is not known here",
    "float_parsing": "must be a number, such as 4.5",
    "float_type": "must be a number, such as 4.5",
    "int_parsing": "must be a whole number, such as 4",
    "int_type": "must be a whole number, such as 4",
    "string_type": "must be text",
    "string_too_short": "must not be empty",
    "int_parsing_size": "is far too large a number",
    "string_pattern_mismatch": "holds a character that cannot be used here",
}
_WORDS |= dict.fromkeys(
    ("date_parsing", "date_from_datetime_parsing", "date_from_datetime_inexact"), "is not a day such as 2026-05-20"
)
_LIMITS = {
    "less_than_equal": ("le", "must be {} or less"),
    "less_than": ("lt", "must be less than {}"),
    "greater_than_equal": ("ge", "must be {} or more"),
    "greater_than": ("gt", "must be more than {}"),
    "too_short": ("min_length", "needs at least {}"),
    "too_long": ("max_length", "holds too many; at most {} are taken"),
    "string_too_long": ("max_length", "must have at most {} characters"),
}


def fault_words(fault: object) -> str:
    """One Pydantic fault in plain words."""
    assert isinstance(fault, dict)
    kind = fault["type"]
    if kind in _WORDS:
        return _WORDS[kind]
    if kind in _LIMITS:
        bound, words = _LIMITS[kind]
        return words.format(f"{fault['ctx'][bound]:g}")
    message = str(fault["msg"]).removeprefix("Value error, ")
    return message[:1].lower() + message[1:]


def fault_path(fault: object, skip: object = None) -> str:
    """Where a fault lies, as a dotted path without the choice of kind."""
    assert isinstance(fault, dict)
    return ".".join(str(part) for part in fault["loc"] if part != skip and not str(part).startswith(KIND_TAG))


def first_fault(error: ValidationError, skip: object = None) -> str:
    """The first fault of a validation as `path: what is wrong`."""
    fault = error.errors()[0]
    path = fault_path(fault, skip)
    return f"{path}: {fault_words(fault)}" if path else fault_words(fault)
