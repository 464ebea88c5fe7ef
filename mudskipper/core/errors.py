"""The one way in which the core says no."""

from __future__ import annotations

from pydantic import ValidationError


class Refused(ValueError):
    """A wrong input, told in words.

    `sentence` says what was expected, `where` is the path to the field or the thing meant, `mend` says what to do.
    """

    def __init__(self, sentence: str, *, where: str = "", mend: str = "") -> None:
        super().__init__(" ".join(part for part in (f"{where}: {sentence}" if where else sentence, mend) if part))
        self.sentence = sentence
        self.where = where
        self.mend = mend


_KINDS = {
    "extra_forbidden": "is a field that no scene has",
    "missing": "is missing",
    "float_type": "must be a number",
    "int_type": "must be a whole number",
    "bool_type": "must be true or false",
    "string_type": "must be text",
    "finite_number": "must be a finite number",
}


def refusal_of(error: ValidationError, subject: str) -> Refused:
    """The first faults of a pydantic error as one sentence with the path to each field."""
    told, paths = [], []
    for fault in error.errors(include_url=False):
        path = field_path(fault["loc"])
        given = "" if fault["type"] in ("missing", "extra_forbidden") else f" (given: {_short(fault['input'])})"
        said = _KINDS.get(fault["type"], fault["msg"].removeprefix("Value error, "))
        sentence = f"{path or subject} {said}{given}"
        if sentence not in told:
            told.append(sentence)
            paths.append(path)
    more = f" And {len(told) - 3} more." if len(told) > 3 else ""
    return Refused("; ".join(told[:3]) + "." + more, where=subject, mend="Nothing was changed.")


def field_path(loc: tuple[int | str, ...]) -> str:
    """A pydantic location as a path in the document: `layers[2].scale.keys[0].value`."""
    path = ""
    before: int | str = ""
    for part in loc:
        tag = before == "content" or (isinstance(before, int) and part in ("rectangle", "ellipse"))
        if isinstance(part, int):
            path += f"[{part}]"
        elif not tag and part not in _EASES and not part.startswith(("function-", "tagged-", "literal[", "model-")):
            path += f".{part}" if path else part
        before = "" if tag else part
    return path


_EASES = {"Bezier", "Steps", "Points", "Overshoot", "Bounce", "Spring"}


def _short(value: object) -> str:
    text = repr(value)
    return text if len(text) <= 60 else text[:57] + "…"
