"""The language of formulas: a text read, or what is wrong with it and what mends it."""

from __future__ import annotations

from functools import lru_cache

from .mends import explained
from .problem import Faulty, FormulaProblem
from .reader import Program, plain_lines, read_alone


@lru_cache(maxsize=4_096)
def read(text: str) -> Program | FormulaProblem:
    """A formula, or what is wrong with its text, with the texts that mend it."""
    found = read_alone(text)
    return found if isinstance(found, Program) else explained(plain_lines(text), found)


def program_of(text: str) -> Program:
    """A formula; Faulty where it cannot be read."""
    found = read(text)
    if isinstance(found, FormulaProblem):
        raise Faulty(found)
    return found
