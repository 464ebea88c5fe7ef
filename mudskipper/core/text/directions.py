"""In which direction the letters of a line are read (UAX 9): a package has the rules for levels, weak and neutral
letters; isolates and pairs of brackets, which came later, are added here."""

from __future__ import annotations

from functools import lru_cache
from typing import Any
from unicodedata import bidirectional

import regex
from bidi import algorithm as bidi
from fontTools.unicodedata import mirrored

# Strong letters from right to left, numbers of such scripts, and what sets directions by hand.
TURNED = regex.compile(r"[\p{Bidi_Class=R}\p{Bidi_Class=AL}\p{Bidi_Class=AN}\u202a-\u202e\u2066-\u2069\u200f\u061c]")
FIRST = "\u2066\u2067\u2068"
"""What begins an isolate: from the left, from the right, as its first strong letter is read."""
LAST = "\u2069"
NEUTRAL = "\ufffc"
"""What stands for the ends of an isolate in the text around it."""
REMOVED = regex.compile(r"[\u202a-\u202e\p{Bidi_Class=BN}]")
SPACE = regex.compile(r"[\s\u2066-\u2069\u202a-\u202e\p{Bidi_Class=BN}]*$")
OPENING = regex.compile(r"\p{Ps}")
CLOSING = regex.compile(r"\p{Pe}")
MOST_OPEN = 63
"""Brackets that may be open at once (BD16)."""
STRONG = {"L": "L", "R": "R", "EN": "R", "AN": "R"}


def level_of(paragraph: str) -> int:
    """The level of a paragraph: 1 where its first strong letter is read from the right, else 0 (P2 and P3)."""
    if not TURNED.search(paragraph):
        return 0
    return int(bidi.get_base_level("".join(map(_known, _outside(paragraph)[0]))))


def levels_of(line: str, base: int | None = None) -> list[int]:
    """The embedding level of each letter, in a paragraph of a level (`level_of`; None where the line is all of it).
    What is not seen is of the level of what stands before it."""
    if not base and not TURNED.search(line):
        return [0] * len(line)
    base = level_of(line) if base is None else base
    levels = _levels(line, base)
    for at, letter in enumerate(line):
        if REMOVED.match(letter):
            levels[at] = levels[at - 1] if at else base
    # White space at the end of a line stands at its end (L1).
    end = SPACE.search(line)
    assert end is not None
    levels[end.start() :] = [base] * (len(line) - end.start())
    return levels


def _outside(text: str) -> tuple[str, list[tuple[int, int]]]:
    """A text with all that is isolated in it taken out, but for its ends; and where what was taken out begins and ends
    (BD9). What is not closed goes to the end."""
    letters, inside = list(text), []
    depth = start = 0
    for at, letter in enumerate(text):
        if letter in FIRST:
            if not depth:
                start = at + 1
            depth += 1
        elif letter == LAST and depth:
            depth -= 1
            if not depth:
                inside.append((start, at))
    if depth:
        inside.append((start, len(text)))
    letters = [NEUTRAL if letter in FIRST or letter == LAST else letter for letter in text]
    for low, high in reversed(inside):
        del letters[low:high]
    return "".join(letters), inside


def _levels(text: str, base: int) -> list[int]:
    """The level of each letter of a text within a level; of what is removed (X9) that level."""
    outer, inside = _outside(text)
    explicit, found = _resolved(outer, base)
    levels: list[int] = []
    taken = 0
    for low, high in inside:
        count = low - len(levels)
        levels += found[taken : taken + count]
        own = explicit[taken + count - 1]
        taken += count
        first = text[low - 1]
        within = text[low:high]
        from_right = level_of(within) if first == FIRST[2] else first == FIRST[1]
        levels += _levels(within, (own + 1) | 1 if from_right else (own + 2) & ~1)
    return levels + found[taken:]


def _resolved(text: str, base: int) -> tuple[list[int], list[int]]:
    """The levels of the letters of a text without isolates: as they are embedded, and as they are read."""
    storage = bidi.get_empty_storage()
    storage["base_level"], storage["base_dir"] = base, "LR"[base % 2]
    bidi.get_embedding_levels("".join(map(_known, text)), storage, False, False)
    for at, letter in enumerate(storage["chars"]):
        letter["at"], letter["ch"] = at, text[at]
    bidi.explicit_embed_and_overrides(storage, False)
    explicit, found = [base] * len(text), [base] * len(text)
    for letter in storage["chars"]:
        explicit[letter["at"]] = letter["level"]
    bidi.resolve_weak_types(storage, False)
    for run in storage["runs"]:
        _pair(storage["chars"][run["start"] : run["start"] + run["length"]], run["sor"])
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    for letter in storage["chars"]:
        found[letter["at"]] = letter["level"]
    return explicit, found


def _pair(letters: list[dict[str, Any]], before: str) -> None:
    """Let brackets that belong together be read in one direction (N0): that of the text around where a letter between
    them is, else that of what stands before them where all between are."""
    open_: list[tuple[str, int]] = []
    pairs = []
    for at, letter in enumerate(letters):
        sign = letter["ch"]
        other = mirrored(ord(sign))
        if letter["type"] != "ON" or other is None:
            continue
        if OPENING.match(sign):
            if len(open_) == MOST_OPEN:
                return
            open_.append((_same(chr(other)), at))
        elif CLOSING.match(sign):
            for depth in range(len(open_) - 1, -1, -1):
                if open_[depth][0] == _same(sign):
                    pairs.append((open_[depth][1], at))
                    del open_[depth:]
                    break
    for first, last in sorted(pairs):
        own = "LR"[letters[first]["level"] % 2]
        within = {STRONG.get(letter["type"]) for letter in letters[first + 1 : last]} - {None}
        if not within:
            continue
        way = own
        if own not in within:
            strong = (STRONG[one["type"]] for one in reversed(letters[:first]) if one["type"] in STRONG)
            if next(strong, before) != own:
                way = "RL"["RL".index(own) - 1]
        for at in (first, last):
            letters[at]["type"] = way
            for letter in letters[at + 1 :]:
                if letter["orig"] != "NSM":
                    break
                letter["type"] = way


def _same(sign: str) -> str:
    """A bracket, or the one that is the same as it."""
    return {"\u2329": "\u3008", "\u232a": "\u3009"}.get(sign, sign)


@lru_cache(maxsize=8_192)
def _known(letter: str) -> str:
    """A letter that has a direction: one that is newer than the tables of directions is taken as one of its script."""
    if bidirectional(letter):
        return letter
    return "\u05d0" if TURNED.match(letter) else "a"
