"""What is seen and heard in a file: its size and rate, and its sound."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from .choices import PLAIN, Choices


@dataclass(frozen=True)
class Film:
    """What is written: its size in pixels, frames a second, whether it is transparent, the number of its first frame,
    how many frames it has (0 where that is not asked), and what was chosen."""

    size: tuple[int, int]
    rate: tuple[int, int]
    alpha: bool = False
    first: int = 0
    count: int = 0
    choices: Choices = PLAIN

    @property
    def seconds(self) -> float:
        """How long it runs."""
        return self.count * self.rate[1] / self.rate[0]


@dataclass(frozen=True)
class Sound:
    """What is heard of a film: samples a second, how many there are, and blocks (n, 2) of them."""

    rate: int
    count: int
    blocks: Iterator[np.ndarray]
