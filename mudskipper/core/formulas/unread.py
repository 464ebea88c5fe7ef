"""What is said of a text that is no formula: what stands where it breaks off, and what can stand there."""

from __future__ import annotations

import re

from .problem import FormulaProblem

SAID = {
    ";": "; ends nothing here: each value has a line of its own",
    "?": "? is written: one value if a test else another",
    ":": ": has no place here: a choice is written one value if a test else another",
    "&": "&& is written and",
    "|": "|| is written or",
    "!": "! is written not",
    "{": "{ has no place here: lines stand one below the other",
    "}": "} has no place here: lines stand one below the other",
    "^": "^ is written **",
    "<>": "<> is written !=",
    "=": "= gives a name, and == compares",
    "°": "° is left out: angles are in degrees where the property is",
    "$": "$ has no place here: names stand as they are",
    "×": "× is written *", "·": "· is written *", "÷": "÷ is written /", "−": "this − is written -",
    "“": "names and texts stand in straight quotes", "”": "names and texts stand in straight quotes",
    "²": "² is written ** 2", "³": "³ is written ** 3",
}  # fmt: skip
"""Marks of other languages, and what is said where one of them is what cannot be read."""
MESSAGES = {
    "'(' was never closed": "a bracket ( is never closed",
    "'[' was never closed": "a bracket [ is never closed",
    "'{' was never closed": SAID["{"],
    "unmatched ')'": "a bracket ) closes nothing",
    "unmatched ']'": "a bracket ] closes nothing",
    "unmatched '}'": SAID["}"],
    "unexpected indent": "it begins with a space",
    "invalid decimal literal": "a letter follows a number at once",
    "cannot assign to expression here": "only name = value gives a name",
}
OPENING = re.compile(r"[A-Za-z_]\w*|\d+(?:\.\d+)?|<>|\S")


def unread(text: str, error: SyntaxError) -> FormulaProblem:
    """What Python's parser did not take, in words, with its place."""
    line, column = max(error.lineno or 1, 1), max(error.offset or 1, 1)
    lines = text.split("\n")
    here = lines[line - 1] if line <= len(lines) else ""
    where = f"Line {line}" if "\n" in text else "This"
    end = max(error.end_offset or column + 1, column + 1)
    return FormulaProblem(
        sentence=f"{where} cannot be read: {_what(error.msg or '', here, column)}.", line=line, column=column, end=end
    )


def _what(message: str, line: str, column: int) -> str:
    if message.startswith("unterminated string"):
        return "a quote is never closed"
    if re.search("[\u00a0\u2007\u202f\u3000\u2028\u0085]", line):
        return "it has a space of another kind in it, as pages and documents write them"
    if message in MESSAGES:
        return MESSAGES[message]
    if re.search(r"\d\s*%\s*(?:$|[-+*/,;)])", line):
        number = re.search(r"(\d+(?:\.\d+)?)\s*%\s*(?:$|[-+*/,;)])", line)
        assert number is not None
        return f"{number[1]}% is written {number[1]}"
    for mark in ("?", ";", "&&", "||", "<>", "{", "!"):
        if mark in line and not (mark == "!" and "!=" in line):
            return SAID[mark] if mark in SAID else SAID[mark[0]]
    found = OPENING.match(line[column - 1 :].lstrip()) if line else None
    token = found[0] if found else ""
    if not token:
        return "it breaks off where a value is expected"
    if token in SAID:
        return SAID[token]
    if token in ("if", "else", "for", "while", "def", "class", "import", "return", "lambda"):
        return f"{token} has no place here: a choice is written one value if a test else another"
    if re.match(r"[\w.]", token):
        return f"{token} follows at once where an operator such as + or * is expected"
    if token in ")]":
        return f"{token} stands where a value is expected"
    return f"{token} stands where a value or a name is expected"
