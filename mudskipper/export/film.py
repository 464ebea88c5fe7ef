"""What is seen and heard in a file: its size and rate, and its sound."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Film:
    """What is written: its size in pixels, frames a second, whether it is transparent, and its first frame."""

    size: tuple[int, int]
    rate: tuple[int, int]
    alpha: bool = False
    first: int = 0


@dataclass(frozen=True)
class Sound:
    """What is heard of a film: samples a second, how many there are, and blocks (n, 2) of them."""

    rate: int
    count: int
    blocks: Iterator[np.ndarray]
