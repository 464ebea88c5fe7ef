"""Easings as text: those of CSS Easing Functions Level 2, and plain words for the rest."""

from __future__ import annotations

import difflib
import re

from pydantic import ValidationError

from ..ground.errors import Refused, fault_words
from . import EASINGS, Bezier, Bounce, Overshoot, Spring
from .base import NUMBER
from .batch import Ease

SOFT_LANDING = Bezier(bezier=(0.1, 0.8, 0.3, 1.0))
PRESETS: dict[str, Ease] = {
    "linear": "linear", "ease": "ease", "ease-in": "ease-in", "ease-out": "ease-out", "ease-in-out": "ease-in-out",
    "soft landing": SOFT_LANDING, "overshoot": Overshoot(overshoot=12.0),
    "bounce": Bounce.model_validate({"bounce": {"count": 3, "damping": 0.6}}),
    "spring": Spring.model_validate({"spring": {"response": 0.35, "damping": 0.45}}), "hold": "hold",
}  # fmt: skip
FORMS = "Write a name such as ease-out or soft landing, or numbers as in cubic-bezier(0.2, 0, 0, 1) or overshoot(12)."
NEAR = 0.7
"""How alike a text and a name must be for the name to be meant."""
SAID_ELSEWHERE = {
    "ease in out": "ease-in-out",
    "in": "ease-in",
    "out": "ease-out",
    "constant": "hold",
    "none": "linear",
}
"""What plain words may mean that are not like the name in their letters."""


def read_ease(text: str) -> Ease:
    """The easing that a text tells; Refused with the nearest one, or the forms there are. Four bare numbers are a
    cubic-bezier."""
    words = " ".join(text.lower().strip().rstrip(";").split())
    try:
        found = _read(words)
    except (ValueError, IndexError) as fault:
        why = f": {_why(fault)}"
    else:
        if found is not None:
            return found
        why = ""
    near = nearest(words)
    sentence = f"“{_short(text)}” is no easing{why}."
    if near:
        raise Refused(f"{sentence} Did you mean {near}?", instead=near) from None
    raise Refused(sentence, mend=FORMS) from None


def _read(words: str) -> Ease | None:
    """The easing that words tell exactly; None where they have no form of one, a ValueError in words where its numbers
    are wrong."""
    if words in PRESETS:
        return PRESETS[words]
    if re.fullmatch(rf"{NUMBER}(?:[\s,]+{NUMBER}){{3}}", words):
        words = f"cubic-bezier({words})"
    found = re.fullmatch(r"([a-z-]+)\s*\((.*)\)", words)
    return _of_function(found[1], found[2]) if found else None


def nearest(words: str) -> str:
    """The easing that a text which is none most likely means, as it is written; empty where none is near.

    >>> nearest("ease out"), nearest("softlanding"), nearest("cubic bezier(1, 0, 0, 1)"), nearest("tide")
    ('ease-out', 'soft landing', 'cubic-bezier(1, 0, 0, 1)', '')
    """
    known = {re.sub(r"[^a-z]", "", name): name for name in PRESETS}
    plain = re.sub(r"[^a-z]", "", SAID_ELSEWHERE.get(words, words))
    found = re.fullmatch(r"([a-z \-_]+?)\s*\((.*)\)", words)
    if found:
        functions = {re.sub(r"[^a-z]", "", one.function): one.function for one in EASINGS}
        close = difflib.get_close_matches(re.sub(r"[^a-z]", "", found[1]), functions, 1, NEAR)
        return _readable(f"{functions[close[0]]}({found[2]})") if close else ""
    close = difflib.get_close_matches(plain, known, 1, NEAR) if len(plain) > 2 else []
    return known[close[0]] if close else ""


def _readable(text: str) -> str:
    try:
        return text if _read(text) is not None else ""
    except (ValueError, IndexError):
        return ""


def ease_text(ease: Ease) -> str:
    """An easing as text that `read_ease` takes back.

    >>> ease_text("ease-in"), ease_text(Overshoot(overshoot=12.0))
    ('ease-in', 'overshoot(12)')
    """
    return ease if isinstance(ease, str) else ease.text


def ease_name(ease: Ease) -> str:
    """The name of a preset that an easing is, or its text."""
    return next((name for name, preset in PRESETS.items() if preset == ease), ease_text(ease))


def ease_words(ease: Ease) -> str:
    """An easing in a few words, for the history: its name, or its text where that is short."""
    named = ease_name(ease)
    return named if isinstance(ease, str) or named != ease.text else ease.words


def _of_function(name: str, inner: str) -> Ease:
    kind = next((one for one in EASINGS if one.function == name), None)
    if kind is None:
        raise ValueError(f"there is no easing {name}()")
    return kind.read([part.strip() for part in inner.split(",")])


def _why(fault: Exception) -> str:
    """Why a text is no easing, in words."""
    if isinstance(fault, ValidationError):
        first = fault.errors(include_url=False)[0]
        name = next((str(part) for part in reversed(first["loc"]) if isinstance(part, str)), "")
        return f"{name} {fault_words(first)}".strip()
    return str(fault)


def _short(text: str) -> str:
    return text if len(text) <= 40 else text[:39] + "…"
