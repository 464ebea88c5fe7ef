"""Texts that mend a formula: other languages understood and translated, brackets and marks put in."""

from __future__ import annotations

import re

from .problem import FormulaProblem, Mend

NAMES = {
    "Math.PI": "pi", "Math.E": "exp(1)", "true": "1", "false": "0", "True": "1", "False": "0", "time": "t",
    "lerp": "mix", "deg": "degrees", "rad": "radians", "ceiling": "ceil", "PI": "pi", "TAU": "tau",
}  # fmt: skip
"""Words of other languages, and what they are here."""
WORD = r"(?<![\w.\"'])"


def translated(text: str) -> str:
    """A text of another language as a formula, as far as its marks tell."""
    found = (
        re.sub(r"//[^\n]*$|/\*.*?\*/", "", text, flags=re.M | re.S) if re.search(r"//\s*[A-Za-z]|/\*", text) else text
    )
    found = re.sub(rf"{WORD}(?:var|let|const|float|return)\s+", "", found)
    found = re.sub(r"Math\.(?=[a-z])", "", found)
    for word, ours in NAMES.items():
        found = re.sub(rf"{WORD}{re.escape(word)}(?!\w|\s*=[^=])", ours, found)
    found = re.sub(r"\s*&&\s*", " and ", found)
    found = re.sub(r"\s*\|\|\s*", " or ", found).replace("!==", "!=").replace("===", "==")
    found = re.sub(r"!(?!=)\s*", "not ", found)
    found = re.sub(r"(?<![\w)\]])\[([^\[\]]+,[^\[\]]+)\]", r"(\1)", found)
    found = re.sub(r"(?<=[\w)\]])\s*\^\s*(?=[\w(])", " ** ", found)
    found = re.sub(
        r"([^?\n=]+)\?([^:\n]+):([^\n]+)", lambda m: f"{m[2].strip()} if {m[1].strip()} else {m[3].strip()}", found
    )
    found = re.sub(r"(\d)\s*°", r"\1", found)
    found = re.sub(r"(\d+(?:\.\d+)?)\s*%(?!\s*[\w(])", r"\1", found)
    found = re.sub(r"(?<=\d),(?=\d+\s*(?:[*/+\-]|$))(?![^()]*\))", ".", found)
    found = found.replace("×", "*").replace("·", "*").replace("÷", "/").replace("−", "-").replace("π", "pi")
    found = found.replace("“", '"').replace("”", '"').replace("’", "'").replace("²", "**2")
    found = re.sub(r";[ \t]*(?=\n|$)", "", found)
    found = re.sub(r";[ \t]*", "\n", found)
    found = re.sub(r"(?<![\w.])(\d+(?:\.\d+)?)(?=[A-Za-z_(](?!\d*\b[eE]))(?![eE][+\-]?\d)", r"\1 * ", found)
    return "\n".join(line.strip() for line in found.split("\n") if line.strip())


def _choice(found: re.Match[str]) -> str:
    """test ? yes : no"""
    return f"{found[2].strip()} if {found[1].strip()} else {found[3].strip()}"


def bracketed(text: str) -> str:
    """A text with the brackets that are open closed at the end of its line, and those that close nothing left out."""
    lines = []
    for line in text.split("\n"):
        depth, kept = 0, []
        for letter in line:
            if letter == "(":
                depth += 1
            elif letter == ")":
                if depth == 0:
                    continue
                depth -= 1
            kept.append(letter)
        lines.append("".join(kept).rstrip(" +-*/,") + ")" * depth)
    return "\n".join(lines)


def quoted(text: str) -> str:
    """A text in which names that are given to layer(…) stand in quotes."""
    return re.sub(r"layer\(\s*([A-Za-z][\w ]*?)\s*\)", r'layer("\1")', text)


def explained(text: str, problem: FormulaProblem) -> FormulaProblem:
    """What is wrong with a text, with the texts that mend it: each of them can be read."""
    from .language import Program, read

    mends = [mend for mend in problem.mends if isinstance(read(mend.text), Program)]
    if not mends and not text.startswith(_TRIED):
        foreign = translated(text)
        for label, other in (
            ("Write it so", foreign), ("Close the brackets", bracketed(text)), ("Put the name in quotes", quoted(text)),
            ("Write it so", bracketed(quoted(foreign))),
        ):  # fmt: skip
            if other != text and other.strip() and isinstance(_plain_read(other), Program):
                mends.append(Mend(label=label, text=other))
                break
    return problem.model_copy(update={"mends": tuple(mends)})


_TRIED = "\0"


def _plain_read(text: str) -> object:
    """A text read without looking for what mends it."""
    from .language import _Reader
    from .problem import Faulty

    try:
        return _Reader(text).program()
    except Faulty as faulty:
        return faulty.problem
