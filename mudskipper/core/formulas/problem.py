"""What is wrong with a formula: in words, where in its text, and texts that mend it."""

from __future__ import annotations

from ..ground.base_model import Model


class Mend(Model):
    """A text to put in place of a formula, and what a button says that does."""

    label: str
    text: str


class FormulaProblem(Model):
    """What is wrong with a formula. Lines and columns count from 1; `end` is the first column after what is meant."""

    sentence: str
    line: int = 1
    column: int = 1
    end: int = 1
    mends: tuple[Mend, ...] = ()
    frames: tuple[int, ...] = ()
    """The scene frames at which it is wrong; all where none is named."""


class Faulty(Exception):
    """A formula that has no value."""

    def __init__(self, problem: FormulaProblem) -> None:
        super().__init__(problem.sentence)
        self.problem = problem


class TooMany(Faulty):
    """A formula that asks for more than is evaluated: whoever asked for it first has no value."""


class Circle(Faulty):
    """Formulas that need each other, as pairs of a layer's id and a path, in order."""

    def __init__(self, problem: FormulaProblem, members: tuple[tuple[str, str], ...]) -> None:
        super().__init__(problem)
        self.members = members
