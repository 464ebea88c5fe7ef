"""A formula that fails, or has no value at some frame."""

from __future__ import annotations

from typing import ClassVar

from ..document.properties import label_of
from ..document.scene import Scene
from ..edits.formulas import SetFormula
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding


class Formula(Check):
    """A formula that fails: its property is what it is without it."""

    name: ClassVar[str] = "formula"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        for path, problem in one.problems.items():
            edits = tuple(SetFormula(layer=one.layer.id, property=path, text=mend.text) for mend in problem.mends[:1])
            first = problem.frames[0] if problem.frames else max(one.layer.span.start, 0)
            label = label_of(path, one.layer).lower()
            return Finding(
                check=self.name, layer=one.layer.id, frame=min(first, scene.length - 1), figure=float(problem.line),
                sentence=f"The formula of {label} of '{one.layer.name}': {problem.sentence}",
                edits=edits,
            )  # fmt: skip
        return None
