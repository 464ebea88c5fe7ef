"""The functions of formulas; a new one is a file here and a line in the list, or an entry point of a package."""

from __future__ import annotations

from ....earlier_names import held_by
from .base import Call, Function
from .chance import CHANCE
from .moments import EASE, IF_BEFORE, STEPPED
from .places import ANGLE_TO, IN_LAYER, IN_SCENE
from .plain import PLAIN
from .words import WORDS

FUNCTIONS: list[Function] = [*PLAIN, *CHANCE, STEPPED, EASE, ANGLE_TO, IF_BEFORE, IN_SCENE, IN_LAYER, *WORDS]

__getattr__ = held_by(__name__.rpartition(".")[0], "random_numbers", "functions.shares")

__all__ = ["FUNCTIONS", "Call", "Function"]
