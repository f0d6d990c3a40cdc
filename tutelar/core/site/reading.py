"""Reading a site document: the whole of it, or one sentence for each fault with its path."""

from typing import Any

from pydantic import ValidationError

from tutelar.core.site.base import FORMAT
from tutelar.core.site.types import Site
from tutelar.core.site.weeks import ANOTHER_DAY, PERIODS

_EXPECTED = {
    "string_type": "text",
    "int_type": "a whole number",
    "int_from_float": "a whole number",
    "float_type": "a number",
    "bool_type": "true or false",
    "tuple_type": "a list",
    "list_type": "a list",
    "dict_type": "an object",
    "model_type": "an object",
    "model_attributes_type": "an object",
    "finite_number": "a finite number",
    "int_parsing": "a whole number",
    "float_parsing": "a number",
    "bool_parsing": "true or false",
}
_BOUNDS = {
    "greater_than_equal": ("at least", "ge"),
    "less_than_equal": ("at most", "le"),
    "greater_than": ("more than", "gt"),
    "less_than": ("less than", "lt"),
}
_BLOCKS_WORD, _BLOCKS_LIST = "literal['auto']", "tuple[BlockRule, ...]"  # tags of a union, no part of the path
_ALTERNATIVES = {_BLOCKS_WORD, _BLOCKS_LIST, "[key]", PERIODS, ANOTHER_DAY}


class UnreadableSite(ValueError):
    """The document cannot be read. `faults` is a list of (path, sentence)."""

    def __init__(self, faults: list[tuple[str, str]]) -> None:
        self.faults = faults
        super().__init__("; ".join(f"{path}: {reason}" if path else reason for path, reason in faults))


def read_site(text: str | bytes) -> Site:
    """Return the site that the JSON document `text` describes.

    Raises UnreadableSite for what is not JSON, not this format, has wrong types, unknown keys or values
    that no address, network or number can be read from.
    """
    if isinstance(text, bytes):
        try:
            text = text.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            where = f"byte {error.start + 1}"
            raise UnreadableSite([("", f"The file is not UTF-8 text ({where}); save it as UTF-8.")]) from None
    try:
        return Site.model_validate_json(text)
    except ValidationError as error:
        details = error.errors(include_url=False)
    raise UnreadableSite(sentences(details))


def site_from(document: dict[str, Any]) -> Site:
    """Return the site that a document describes whose JSON was read already. Raises UnreadableSite."""
    try:
        return Site.model_validate(document, strict=False)  # JSON knows no tuples and no addresses
    except ValidationError as error:
        details = error.errors(include_url=False)
    raise UnreadableSite(sentences(details))


def sentences(details: list[Any]) -> list[tuple[str, str]]:
    """Return one (path, sentence) a fault. A wrong format or version stands alone: the rest follows from it."""
    if any(_BLOCKS_LIST in detail["loc"] and len(detail["loc"]) > 3 for detail in details):
        details = [detail for detail in details if _BLOCKS_WORD not in detail["loc"]]  # a list was meant
    else:
        details = [detail for detail in details if _BLOCKS_LIST not in detail["loc"]]
    faults = [(_path(detail["loc"]), _sentence(detail)) for detail in details]
    first = [fault for fault, detail in zip(faults, details, strict=True) if _is_header(detail)]
    return list(dict.fromkeys(first or faults))


def _is_header(detail: Any) -> bool:
    return detail["loc"] in (("format",), ("version",)) and detail["type"] != "extra_forbidden"


def _path(loc: tuple[int | str, ...]) -> str:
    path = ""
    for step in loc:
        if isinstance(step, int):
            path += f"[{step}]"
        elif step not in _ALTERNATIVES:
            path += f".{step}" if path else step
    return path


def shown(value: object) -> str:
    """Return a value as a sentence can quote it: short, in the notation of the file."""
    if isinstance(value, dict):
        return "an object"
    if isinstance(value, list | tuple):
        return "a list"
    if value is None or isinstance(value, bool):
        return {None: "null", True: "true", False: "false"}[value]
    text = str(value)
    text = text if len(text) <= 80 else text[:77] + "…"
    return f"'{text}'" if isinstance(value, str) else text


def _sentence(detail: Any) -> str:
    kind, value, context = detail["type"], detail.get("input"), detail.get("ctx", {})
    loc = detail["loc"]
    if kind == "json_invalid":
        return f"The file is not JSON: {context.get('error', 'it breaks off')}."
    if kind == "extra_forbidden":
        return f"The key '{loc[-1]}' is unknown here."
    if loc == ("format",):
        return f"The format is {shown(value)}; '{FORMAT}' is expected." if kind != "missing" else _NO_FORMAT
    if loc == ("version",):
        return f"The version is {shown(value)}; this Tutelar reads version 1." if kind != "missing" else _NO_VERSION
    if kind == "missing":
        return f"The key '{loc[-1]}' is missing."
    if kind == "value_error":
        return f"{context['error']}."
    if kind == "string_pattern_mismatch" and context["pattern"] == "^x-":
        return f"The key '{_last_name(loc)}' is unknown here; only keys that begin with 'x-' may be added."
    if kind == "string_pattern_mismatch":
        return f"{shown(value)} is not a key; lower-case letters, digits, '-', '_' and '.' are expected."
    if _BLOCKS_WORD in loc:
        return f"{shown(value)} stands where 'auto' or a list of block rules is expected."
    if kind == "literal_error":
        return f"{shown(value)} is not one of {context['expected']}."
    if kind in _EXPECTED:
        return f"{shown(value)} stands where {_EXPECTED[kind]} is expected."
    if kind == "string_too_long" or (kind == "too_long" and context.get("field_type") == "Value"):
        if isinstance(value, str):
            return f"{shown(value)} has {len(value)} characters; at most {context['max_length']} can stand here."
        return f"At most {context['max_length']} characters can stand here."  # a secret is not quoted
    if kind in _BOUNDS and "input" in detail:
        word, name = _BOUNDS[kind]
        return f"{shown(value)} cannot stand here; {word} {context[name]:g} is expected."
    message = detail["msg"]
    if "input" not in detail:
        return f"{message}."
    return f"{shown(value)} cannot stand here: {message[0].lower()}{message[1:]}."


def _last_name(loc: tuple[int | str, ...]) -> str:
    names = [step for step in loc if isinstance(step, str) and step != "[key]"]
    return names[-1] if names else ""


_NO_FORMAT = f"The key 'format' is missing; this is no site file ('{FORMAT}' is expected)."
_NO_VERSION = "The key 'version' is missing; this Tutelar reads version 1."
