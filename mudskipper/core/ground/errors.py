"""The one way in which the core says no."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError


class Refused(ValueError):
    """A wrong input, in words.

    `sentence` says what was expected, `where` is the path to the field or the thing meant, `mend` says what to do, and
    `instead` is what a press may put in the place of what was typed.
    """

    def __init__(self, sentence: str, *, where: str = "", mend: str = "", instead: str = "") -> None:
        super().__init__(" ".join(part for part in (f"{where}: {sentence}" if where else sentence, mend) if part))
        self.sentence = sentence
        self.where = where
        self.mend = mend
        self.instead = instead


def fault_words(fault: Any) -> str:
    """What is wrong with a field, in words that follow its name: “must be at least 1 (given: 0)”."""
    about = fault.get("ctx", {})
    kind = fault["type"]
    if kind in _KINDS:
        said = _KINDS[kind].format(**about).replace("@", "")
    elif kind == "value_error":
        said = fault["msg"].removeprefix("Value error, ")
    else:
        said = fault["msg"].replace("Input should be", "must be").replace("Input should", "must").replace("Input ", "")
    given = fault.get("input")
    plain = isinstance(given, str | int | float | bool) and kind not in ("missing", "extra_forbidden")
    return f"{said} (given: {_short(given)})" if plain else said


_KINDS = {
    "extra_forbidden": "is a field that is not known here",
    "missing": "is missing",
    "float_type": "must be a number",
    "float_parsing": "must be a number",
    "int_type": "must be a whole number",
    "int_parsing": "must be a whole number",
    "int_from_float": "must be a whole number",
    "int_parsing_size": "is too large a number",
    "bool_type": "must be true or false",
    "string_type": "must be text",
    "finite_number": "must be a finite number",
    "string_too_short": "must hold at least {min_length} character(s)",
    "string_too_long": "may hold at most {max_length} characters",
    "string_pattern_mismatch": "is not written as it must be",
    "greater_than_equal": "must be at least {ge}",
    "greater_than": "must be more than {gt}",
    "less_than_equal": "must be at most {le}",
    "less_than": "must be less than {lt}",
    "too_short": "must hold at least {min_length} item(s)",
    "too_long": "may hold at most {max_length} items",
    "list_type": "must be a list",
    "tuple_type": "must be a list",
    "dict_type": "must be an object",
    "model_type": "must be an object",
    "literal_error": "must be {expected}",
    "union_tag_not_found": "does not say of which kind it is",
    "union_tag_invalid": "is of the kind {tag}, which is not known; the kinds are {expected_tags}",
}


def refusal_of(error: ValidationError, subject: str) -> Refused:
    """The first faults of a pydantic error as one sentence with the path to each field."""
    sentences, paths = [], []
    for fault in _told(error.errors(include_url=False)):
        path = field_path(fault["loc"])
        sentence = f"{path or subject} {fault_words(fault)}"
        if sentence not in sentences:
            sentences.append(sentence)
            paths.append(path)
    more = f" And {len(sentences) - 3} more." if len(sentences) > 3 else ""
    return Refused("; ".join(sentences[:3]) + "." + more, where=subject, mend="Nothing was changed.")


def field_path(loc: tuple[int | str, ...]) -> str:
    """A pydantic location as a path in the document: `layers[2].scale.keys[0].value`."""
    path = ""
    for part in loc:
        if isinstance(part, int):
            path += f"[{part}]"
        elif not _is_kind(part):
            path += f".{part}" if path else part
    return path


def _is_kind(part: int | str) -> bool:
    """Whether a part of a location names one of several kinds (`kinds.MARK`), or a validator, and no field."""
    return isinstance(part, str) and (part[:1] == "@" or part.startswith(_MADE))


_MADE = ("function-", "tagged-", "literal[", "model-")


def _told(faults: list[Any]) -> list[Any]:
    """The faults that tell what is wrong: not of a list that it is too short where parts of it are wrong."""
    return [
        fault
        for fault in faults
        if fault["type"] != "too_short"
        or not any(other is not fault and other["loc"][: len(fault["loc"])] == fault["loc"] for other in faults)
    ]


def _short(value: object) -> str:
    text = repr(value)
    return text if len(text) <= 60 else text[:57] + "…"
