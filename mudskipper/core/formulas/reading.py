"""A formula read, and what mends one that cannot be."""

from __future__ import annotations

from functools import lru_cache

from .language import Program, plain_lines, read_alone
from .mends import explained
from .problem import Faulty, FormulaProblem


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
