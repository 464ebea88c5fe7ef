"""Easings as text: those of CSS Easing Functions Level 2, and plain words for the rest."""

from __future__ import annotations

import re
from itertools import pairwise
from typing import Any

from pydantic import ValidationError

from .easing import Bezier, Bounce, Ease, Overshoot, Points, Spring, Steps
from .errors import Refused, fault_words

SOFT_LANDING = Bezier(bezier=(0.1, 0.8, 0.3, 1.0))
PRESETS: dict[str, Ease] = {
    "linear": "linear", "ease": "ease", "ease-in": "ease-in", "ease-out": "ease-out", "ease-in-out": "ease-in-out",
    "soft landing": SOFT_LANDING, "overshoot": Overshoot(overshoot=12.0),
    "bounce": Bounce.model_validate({"bounce": {"count": 3, "damping": 0.6}}),
    "spring": Spring.model_validate({"spring": {"response": 0.35, "damping": 0.45}}), "hold": "hold",
}  # fmt: skip
FORMS = (
    "Write a name (linear, ease, ease-in, ease-out, ease-in-out, hold, soft landing), cubic-bezier(x1, y1, x2, y2), "
    "steps(n, jump-end), linear(0, 0.5 30%, 1), overshoot(12), bounce(3, 0.6) or spring(0.35, 0.45)."
)
_KINDS: dict[str, type[Bezier | Steps | Points | Overshoot | Bounce | Spring]] = {
    "bezier": Bezier, "steps": Steps, "points": Points, "overshoot": Overshoot, "bounce": Bounce, "spring": Spring,
}  # fmt: skip
_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?"


def read_ease(text: str) -> Ease:
    """The easing that a text tells; Refused with the forms there are. Four bare numbers are a cubic-bezier."""
    told = " ".join(text.lower().strip().rstrip(";").split())
    if told in PRESETS:
        return PRESETS[told]
    if re.fullmatch(rf"{_NUMBER}(?:[\s,]+{_NUMBER}){{3}}", told):
        told = f"cubic-bezier({told})"
    found = re.fullmatch(r"([a-z-]+)\s*\((.*)\)", told)
    try:
        if found:
            return _of_function(found[1], found[2])
    except (ValueError, IndexError) as fault:
        why = _why(fault)
        raise Refused(f"“{_short(text)}” is no easing: {why}.", mend=FORMS) from None
    raise Refused(f"“{_short(text)}” is no easing.", mend=FORMS)


def ease_text(ease: Ease) -> str:
    """An easing as text that `read_ease` takes back."""
    if isinstance(ease, str):
        return ease
    if isinstance(ease, Bezier):
        return "cubic-bezier({:g}, {:g}, {:g}, {:g})".format(*ease.bezier)
    if isinstance(ease, Steps):
        return f"steps({ease.steps}, jump-{ease.jump})"
    if isinstance(ease, Points):
        return "linear({})".format(", ".join(f"{share:g} {u * 100:g}%" for u, share in ease.points))
    if isinstance(ease, Overshoot):
        return f"overshoot({ease.overshoot:g})"
    if isinstance(ease, Bounce):
        return f"bounce({ease.bounce.count}, {ease.bounce.damping:g})"
    return f"spring({ease.spring.response:g}, {ease.spring.damping:g})"


def ease_name(ease: Ease) -> str:
    """The name of a preset that an easing is, or its text."""
    return next((name for name, preset in PRESETS.items() if preset == ease), ease_text(ease))


def ease_words(ease: Ease) -> str:
    """An easing in a few words, for the history: its name, or its text where that is short."""
    if isinstance(ease, Points):
        return f"linear() with {len(ease.points)} points"
    return ease_name(ease)


def _of_function(name: str, inner: str) -> Ease:
    parts = [part.strip() for part in inner.split(",")]
    if name == "steps":
        jump = parts[1] if len(parts) > 1 else "end"
        jump = {"start": "start", "end": "end"}.get(jump, jump.removeprefix("jump-"))
        return _made({"steps": _whole(parts[0], "steps() takes a whole number of steps"), "jump": jump})
    if name == "linear":
        return _made({"points": _points(parts)})
    numbers = [_number(part) for part in (parts if len(parts) > 1 else inner.split())]
    wanted = {"cubic-bezier": 4, "overshoot": 1, "bounce": 2, "spring": 2}
    if name not in wanted:
        raise ValueError(f"there is no easing {name}()")
    if len(numbers) != wanted[name]:
        raise ValueError(f"{name}() takes {wanted[name]} numbers, and {len(numbers)} were given")
    if name == "cubic-bezier":
        if not (0 <= numbers[0] <= 1 and 0 <= numbers[2] <= 1):
            raise ValueError("x1 and x2 of a cubic-bezier lie within 0 and 1")
        return _made({"bezier": numbers})
    if name == "overshoot":
        return _made({"overshoot": numbers[0]})
    if name == "bounce":
        count = _whole(parts[0], "bounce() takes a whole number of bounces")
        return _made({"bounce": {"count": count, "damping": numbers[1]}})
    return _made({"spring": {"response": numbers[0], "damping": numbers[1]}})


def _points(parts: list[str]) -> list[tuple[float, float]]:
    """CSS linear(): shares with percentages, those left out spread evenly between their neighbours."""
    shares: list[float] = []
    times: list[float | None] = []
    for part in parts:
        words = part.split()
        marks: list[float | None] = [_number(word[:-1]) / 100 for word in words if word.endswith("%")]
        plain = [_number(word) for word in words if not word.endswith("%")]
        if len(plain) != 1:
            raise ValueError("each point of linear() is one number, with one or two percentages")
        (share,) = plain
        shares += [share] * max(len(marks), 1)
        times += marks or [None]
    if len(shares) < 2:
        raise ValueError("linear() takes two points at least")
    times[0] = 0.0 if times[0] is None else times[0]
    times[-1] = 1.0 if times[-1] is None else times[-1]
    known = [index for index, time in enumerate(times) if time is not None]
    for left, right in pairwise(known):
        start, end = times[left] or 0.0, times[right] or 0.0
        for index in range(left + 1, right):
            times[index] = start + (end - start) * (index - left) / (right - left)
    return [(float(time or 0.0), share) for time, share in zip(times, shares, strict=True)]


def _number(text: str) -> float:
    """A number; a ValueError in words where it is none."""
    if not re.fullmatch(_NUMBER, text):
        raise ValueError(f"“{text}” is no number" if text else "a number is missing")
    return float(text)


def _whole(text: str, what: str) -> int:
    number = _number(text)
    if number != int(number):
        raise ValueError(what)
    return int(number)


def _why(fault: Exception) -> str:
    """Why a text is no easing, in words."""
    if isinstance(fault, ValidationError):
        first = fault.errors(include_url=False)[0]
        name = next((str(part) for part in reversed(first["loc"]) if isinstance(part, str)), "")
        return f"{name} {fault_words(first)}".strip()
    return str(fault)


def _made(data: dict[str, Any]) -> Ease:
    return _KINDS[next(iter(data))].model_validate(data)


def _short(text: str) -> str:
    return text if len(text) <= 40 else text[:39] + "…"
