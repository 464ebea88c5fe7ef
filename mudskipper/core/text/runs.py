"""A line of text cut into what is shaped as one: letters of one direction, one script and one face, in the order in
which they stand on the line (UAX 9, UAX 24, UAX 29)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby

import regex
from fontTools import unicodedata

from .clusters import clusters
from .directions import levels_of
from .fonts import OPTICAL, Face, Style

Marks = tuple[tuple[int, int], ...]
"""Where stretches of a text end, and the part that each is of: `((3, 0), (8, 1))`."""

PLAIN = regex.compile(r"[\u0020-\u007e\u00a0-\u02af\u1e00-\u1eff\u2010-\u2027\u2030-\u205e\u20a0-\u20bf]*")
UNSPACED = regex.compile(r"[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}]")
"""Letters of scripts that are written without spaces, and spread evenly where a line is widened."""
EMOJI = regex.compile(r"\p{Emoji_Presentation}|\ufe0f")
"""What is shown in colours where a font has it so (UTS 51)."""
UNSEEN = regex.compile(r"\p{Default_Ignorable_Code_Point}")
"""Code points that ask for no letter of their own (UAX 44)."""
UPRIGHT = regex.compile(
    r"[\p{Han}\p{Hiragana}\p{Katakana}\p{Hangul}\p{Bopomofo}\p{Yi}\u3000-\u303f\ufe10-\ufe1f\ufe30-\ufe4f\uff01-\uff60"
    r"\uffe0-\uffe7\p{Emoji_Presentation}]"
)
"""Letters that stand upright in vertical lines (UAX 50)."""
LANGUAGES = {
    "Arab": "ar", "Hebr": "he", "Deva": "hi", "Thai": "th", "Taml": "ta", "Telu": "te", "Khmr": "km", "Grek": "el",
    "Cyrl": "ru", "Hira": "ja", "Kana": "ja", "Hani": "ja", "Hang": "ko", "Beng": "bn", "Geor": "ka", "Armn": "hy",
}  # fmt: skip


@dataclass(frozen=True)
class TextRun:
    """Letters `start`…`stop` (not included) of a line, in the order in which they are read, shaped by one face with
    some features on (True) or off, kerned by their shapes where `optical`."""

    face: Face
    start: int
    stop: int
    script: str
    level: int
    features: tuple[tuple[str, bool], ...] = ()
    optical: bool = False
    upright: bool = False

    @property
    def direction(self) -> str:
        """`ltr` or `rtl`, or `ttb` where letters stand upright below one another."""
        if self.upright:
            return "ttb"
        return "rtl" if self.level % 2 else "ltr"

    @property
    def language(self) -> str:
        """The language that is written most in its script; English in what has several."""
        return LANGUAGES.get(self.script, "en")


def runs_of(line: str, marks: Marks, styles: tuple[Style, ...], base: int | None = None) -> list[TextRun]:
    """The runs of a line from left to right: `marks` say which of the styles its letters are in, and `base` is as in
    `levels_of`."""
    if not line:
        return []
    of = _styles_of(line, marks, styles)
    own = of[0]
    if not base and all(one is own for one in of) and PLAIN.fullmatch(line):
        face = own.face
        if all(ord(letter) in face.letters for letter in set(line)):
            return [TextRun(face, 0, len(line), "Latn", 0, _switched(own), OPTICAL in own.features)]
    levels, scripts, faces = levels_of(line, base), scripts_of(line), _faces_of(line, of)
    stands = _upright(line) if own.vertical else [False] * len(line)
    cut = []
    for _, places in groupby(
        range(len(line)),
        key=lambda at: (levels[at], scripts[at], faces[at].key, of[at].features, of[at].sized, stands[at]),
    ):
        at = list(places)
        own = of[at[0]]
        run = TextRun(
            faces[at[0]],
            at[0],
            at[-1] + 1,
            scripts[at[0]],
            levels[at[0]],
            _switched(own),
            OPTICAL in own.features,
            stands[at[0]],
        )
        cut.append(run)
    return _turned(cut)


def _styles_of(line: str, marks: Marks, styles: tuple[Style, ...]) -> list[Style]:
    """The style of each letter; letters that are one cluster are in that of the first."""
    found: list[Style] = []
    for end, part in marks:
        found += [styles[part]] * (min(end, len(line)) - len(found))
    found += [styles[0]] * (len(line) - len(found))
    if any(one is not found[0] for one in found):
        for start, stop in clusters(line):
            found[start:stop] = [found[start]] * (stop - start)
    return found


def _upright(line: str) -> list[bool]:
    """Which letters stand upright in a vertical line."""
    return [UPRIGHT.match(line, start) is not None for start, stop in clusters(line) for _ in range(start, stop)]


def _switched(style: Style) -> tuple[tuple[str, bool], ...]:
    return tuple((tag.removeprefix("-"), not tag.startswith("-")) for tag in style.features if tag != OPTICAL)


def scripts_of(line: str) -> list[str]:
    """The script of each letter; what belongs to several goes with what stands before it, at the start with what comes
    after (UAX 24)."""
    own = [_script(letter) for letter in line]
    first = next((script for script in own if script), "Latn")
    found: list[str] = []
    for script in own:
        found.append(script or (found[-1] if found else first))
    return found


@lru_cache(maxsize=8_192)
def _script(letter: str) -> str:
    script = unicodedata.script(letter)
    return "" if script in ("Zyyy", "Zinh", "Zzzz") else script


def _faces_of(line: str, of: list[Style]) -> list[Face]:
    """The face of each letter: of each cluster the first that has all of it; what none has stays with the first."""
    found: list[Face] = []
    for start, stop in clusters(line):
        found += [_face(line[start:stop], of[start])] * (stop - start)
    return found


@lru_cache(maxsize=16_384)
def _face(cluster: str, style: Style) -> Face:
    wanted = [ord(letter) for letter in UNSEEN.sub("", cluster)]
    turns = style.fonts.in_turn(style.font.family)
    if EMOJI.search(cluster):
        turns = (*turns[: turns[0].files[0].coloured], *style.fonts.coloured, *turns)
    for family in turns:
        face = style.face_in(family)
        if all(code in face.letters for code in wanted):
            return face
    return style.face


def missing_in(text: str, style: Style) -> list[str]:
    """The letters, as clusters, that no family at hand has."""
    found = dict.fromkeys(text[start:stop] for start, stop in clusters(text) if not text[start:stop].isspace())
    return [one for one in found if not _has(_face(one, style), one)]


def _has(face: Face, cluster: str) -> bool:
    return all(ord(letter) in face.letters for letter in UNSEEN.sub("", cluster))


def _turned(cut: list[TextRun]) -> list[TextRun]:
    """Runs as they stand from left to right: from the highest level down, what lies side by side at a level or above is
    turned round (L2)."""
    levels = [run.level for run in cut]
    odd = [level for level in levels if level % 2]
    for level in range(max(levels, default=0), min(odd, default=1) - 1, -1):
        turned: list[TextRun] = []
        for high, part in groupby(cut, key=lambda run, level=level: run.level >= level):  # type: ignore[misc]
            side = list(part)
            turned += reversed(side) if high else side
        cut = turned
    return cut
