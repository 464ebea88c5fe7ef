"""Layers that begin one after another."""

from __future__ import annotations

import random
from typing import Annotated, Literal

from pydantic import Field

from ..ground.base_model import Ids, Whole
from .base import Edit


class Staggered(Edit):
    """An edit of layers of which each begins `stagger` frames after the one before it in an order."""

    layers: Ids
    stagger: Annotated[Whole, Field(ge=0, le=10_000)] = 0
    order: Literal["as given", "reversed", "from the middle", "from the ends", "random"] = "as given"
    seed: Whole = 1

    def places(self) -> list[int]:
        """How many layers begin before each."""
        count = len(self.layers)
        middle = (count - 1) / 2
        if self.order == "from the middle":
            ranks = [abs(i - middle) for i in range(count)]
        elif self.order == "from the ends":
            ranks = [-abs(i - middle) for i in range(count)]
        elif self.order == "random":
            ranks = [float(n) for n in random.Random(self.seed).sample(range(count), count)]
        else:
            ranks = [float(i if self.order == "as given" else -i) for i in range(count)]
        levels = sorted(set(ranks))
        return [levels.index(rank) for rank in ranks]
