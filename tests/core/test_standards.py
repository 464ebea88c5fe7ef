"""Texts against the test files of Unicode's standards, as Debian's `unicode-data` has them (version 15)."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from mudskipper.core.text.breaking import chances
from mudskipper.core.text.clusters import clusters
from mudskipper.core.text.directions import levels_of

FILES = Path("/usr/share/unicode")


def rows(name: str) -> Iterator[str]:
    for line in (FILES / name).read_text().splitlines():
        row = line.split("#")[0].strip()
        if row:
            yield row


@pytest.mark.parametrize("step", [5, pytest.param(1, marks=pytest.mark.thorough)])
def test_directions_are_those_of_the_standard(step: int) -> None:
    """UAX 9 with isolates and pairs of brackets: the levels of 91,000 lines, but of those with tabs or ends of
    paragraphs, which no line of a text has."""
    wrong = []
    tried = 0
    for row in list(rows("BidiCharacterTest.txt"))[::step]:
        codes, way, _, told, _ = row.split(";")
        line = "".join(chr(int(code, 16)) for code in codes.split())
        if any(letter in "\t\n\r\x1c\x1d\x1e\x1f\x85\u2029" for letter in line):
            continue
        tried += 1
        levels = levels_of(line, {"0": 0, "1": 1, "2": None}[way])
        if any(want != "x" and int(want) != level for want, level in zip(told.split(), levels, strict=True)):
            wrong.append((row, levels))
    assert tried > 80_000 / step
    assert not wrong, f"{len(wrong)}: {wrong[:3]}"


@pytest.mark.parametrize(
    ("name", "places", "apart"),
    [
        # Version 15 breaks before the bracket U+2329 and after commas and closing brackets before numbers; 16 does not.
        ("LineBreakTest", lambda text: list(chances(text)), 60),
        ("GraphemeBreakTest", lambda text: [stop for _, stop in clusters(text)], 1),
    ],
)
def test_lines_and_letters_end_where_the_standard_ends_them(
    name: str, places: Callable[[str], list[int]], apart: int
) -> None:
    wrong = []
    tried = 0
    for row in rows(f"auxiliary/{name}.txt"):
        text, ends = "", []
        for sign in row.split():
            if sign == "÷":
                ends.append(len(text))
            elif sign != "×":
                text += chr(int(sign, 16))
        tried += 1
        if places(text) != [end for end in ends if end]:
            wrong.append(row)
    assert tried > 600
    assert len(wrong) <= apart, wrong[:5]
