"""What every easing is: progress over the time of a stretch, how it is cut in two, and its text."""

from __future__ import annotations

import re
from abc import abstractmethod
from typing import ClassVar, Self

import numpy as np

from ..geometry.bezier import Floats
from ..ground.base_model import Model

FINE = 256
"""The straight pieces by which a smooth easing is followed, where no easing of its own kind can say a part of it."""
NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?"
Breaks = list[tuple[float, float]]
"""Times and progress; two at one time are a jump."""


class Easing(Model):
    """How a value travels from one key to the next: progress at u, from 0 at u = 0, over the time 0…1."""

    function: ClassVar[str]
    """Its name as text: `function(…)`."""

    @abstractmethod
    def progress(self, u: Floats) -> Floats:
        """Progress at u (n,), within 0…1."""

    @abstractmethod
    def slope(self, end: int) -> float:
        """d progress / du at u = `end`, 0 or 1, from within."""

    @property
    @abstractmethod
    def text(self) -> str:
        """The easing as text that `read` takes back."""

    @property
    def words(self) -> str:
        """The easing in a few words."""
        return self.text

    @classmethod
    @abstractmethod
    def read(cls, parts: list[str]) -> Self:
        """The easing of what stands in the brackets of its text; ValueError in words."""

    @property
    def jumps(self) -> bool:
        """Whether it may go from one value to another in no time."""
        return False

    @property
    def stays_between(self) -> bool:
        """Whether it is known to stay between the two keys."""
        return False

    def breaks(self, start: float, end: float) -> Breaks:
        """Times and progress that follow it between two times by straight lines and jumps."""
        times = np.union1d(np.linspace(start, end, min(self.pieces, 1_900) + 1), self.kinks(start, end))
        return [(float(u), float(v)) for u, v in zip(times, self.progress(times), strict=True)]

    @property
    def pieces(self) -> int:
        """How many straight pieces follow all of it within 0.1 % of the way."""
        return FINE

    def kinks(self, start: float, end: float) -> Floats:
        """Times between two at which it must be followed besides."""
        return np.zeros(0)


def numbers(function: str, parts: list[str], count: int) -> list[float]:
    """Exactly `count` numbers, parted by commas or spaces; ValueError in words otherwise."""
    given = parts if len(parts) > 1 else parts[0].split()
    found = [number(part) for part in given]
    if len(found) != count:
        was = "was" if len(found) == 1 else "were"
        raise ValueError(f"{function}() takes {count} numbers, and {len(found)} {was} given")
    return found


def number(text: str) -> float:
    """A number; a ValueError in words where it is none."""
    if not re.fullmatch(NUMBER, text):
        raise ValueError(f"“{text}” is no number" if text else "a number is missing")
    return float(text)


def whole(text: str, what: str) -> int:
    """A whole number; `what` says what was expected."""
    found = number(text)
    if found != int(found):
        raise ValueError(what)
    return int(found)
