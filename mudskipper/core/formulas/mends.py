"""Texts that mend a formula: other languages understood and translated, brackets closed, names put right, several
faults of one text at once. Each text that is offered can be read, and means what was written."""

from __future__ import annotations

import re

from .foreign import translated
from .problem import FormulaProblem, Mend
from .reader import Program, read_alone

ROUNDS = 5
"""How many faults of one text are mended one after another."""
SHORT = 40


def explained(text: str, problem: FormulaProblem) -> FormulaProblem:
    """What is wrong with a text, with the texts that mend it: each of them can be read."""
    mends = [mend for mend in problem.mends if isinstance(read_alone(mend.text), Program)]
    if not mends and (found := mended(text)) is not None and found != text:
        mends.append(Mend(label=label_of(found), text=found))
    return problem.model_copy(update={"mends": tuple(mends)})


def label_of(text: str) -> str:
    """What a button says that puts a text in place of a formula."""
    return f"Write {text}" if len(text) <= SHORT and "\n" not in text else "Write it so"


def mended(text: str, rounds: int = ROUNDS) -> str | None:
    """A text that can be read in the place of one that cannot; None where none is known."""
    found = read_alone(text)
    if isinstance(found, Program):
        return text
    if rounds == 0:
        return None
    for other in _candidates(text, found):
        if other != text and other.strip() and (done := mended(other, rounds - 1)) is not None:
            return done
    return None


def _candidates(text: str, problem: FormulaProblem) -> list[str]:
    """Texts that may be what was meant, the surest first."""
    known = [mend.text for mend in problem.mends]
    foreign = translated(text)
    closed = bracketed(text)
    return [*([foreign] if foreign else []), *known, closed, quoted(text)]


def bracketed(text: str) -> str:
    """A text with the brackets that are open closed at the end of its line, and those that close nothing left out."""
    pairs = {")": "(", "]": "["}
    lines = []
    for line in text.split("\n"):
        open_ones: list[str] = []
        kept = []
        for letter in line:
            if letter in "([":
                open_ones.append(letter)
            elif letter in pairs:
                if not open_ones or open_ones[-1] != pairs[letter]:
                    continue
                open_ones.pop()
            kept.append(letter)
        closing = "".join(")" if one == "(" else "]" for one in reversed(open_ones))
        lines.append("".join(kept).rstrip(" +-*/,") + closing)
    return "\n".join(lines)


def quoted(text: str) -> str:
    """A text in which names of layers that stand bare are in quotes."""
    text = re.sub(r"(layer|sound)\(\s*([A-Za-z][\w ]*?)\s*\)", r'\1("\2")', text)
    return re.sub(r"scene\[\s*([A-Za-z][\w ]*?)\s*\]", r'scene["\1"]', text)
