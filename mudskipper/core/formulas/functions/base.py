"""A function of formulas, and one call of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ...geometry.bezier import Floats
from ..entry import Entry
from ..environment import Environment, Run
from ..texts import Texts
from ..values import alike, numbers, plain, texts


@dataclass(frozen=True)
class Call:
    """One call where a formula is evaluated. `free` says that its value goes whole into that of the formula
    (`flow.free_calls`), so that on a point each axis may have a number of its own."""

    here: Environment
    arguments: Sequence[Run]
    named: Mapping[str, Run]
    free: bool

    def value(self, index: int) -> Any:
        """An argument: an array (n | 1, d), or a text."""
        return plain(self.arguments[index](self.here))

    def number(self, index: int) -> Floats:
        """An argument as an array (n | 1, d); Faulty where it is a text."""
        return numbers(self.value(index))

    def text(self, index: int) -> Texts | None:
        """An argument as texts; None where it is none."""
        return texts(self.value(index))

    @property
    def numbers(self) -> list[Floats]:
        """All arguments as arrays."""
        return [self.number(index) for index in range(len(self.arguments))]


@dataclass(frozen=True, kw_only=True)
class Function(Entry):
    """A function: `run` gives its value, an array (n | 1, d) or Texts; Faulty in words where there is none."""

    run: Callable[[Call], Any]
    least: int = 1
    most: int = 1
    """How many arguments it takes."""
    named: tuple[str, ...] = ()
    """Arguments that may be given by name."""
    passes: slice | None = None
    """The arguments that go whole into its value, each number of a pair by itself; None where none do."""
    random: bool = False
    """Whether its value looks random."""
    fails: str = ""
    """How it may come to have no value: what there is then, in words."""
    is_function = True


EACH = slice(None)


def each(
    name: str, count: int, sums: Callable[..., Any], sentence: str, example: str, written: str, *, unit: str = "",
    most: int = 0, fails: str = "", passes: slice | None = EACH,
) -> Function:  # fmt: skip
    """A function of arrays (n | 1, d) that works on each number of its arguments by itself."""

    def run(call: Call) -> Floats:
        return np.asarray(sums(*alike(*call.numbers)))

    return Function(
        name=name, written=written, sentence=sentence, example=example, unit=unit, run=run, least=count,
        most=most or count, passes=passes, fails=fails,
    )  # fmt: skip
