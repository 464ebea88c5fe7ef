"""Subtitles: words, and from when to when they are to be read."""

from __future__ import annotations

import html
import re
from dataclasses import dataclass

import pysubs2

from ..core.ground.errors import Refused
from .text_files import text_of

ENDINGS = (".srt", ".vtt", ".ttml")
MOST_CUES = 5_000


MARKS = re.compile(r"\{\\[^{}]*\}")
"""Marks of style as some write them into SRT."""
TAGS = re.compile(r"</?[A-Za-z][^<>]*>|<[\d:.]+>")
HIDDEN = str.maketrans("{}\\", "\ue000\ue001\ue002")
"""Letters that the library of subtitles would take for marks of its own."""
SHOWN = str.maketrans("\ue000\ue001\ue002", "{}\\")


@dataclass(frozen=True)
class Cue:
    """Words from `start` to `end`, in seconds."""

    start: float
    end: float
    words: str


def read_subtitles(data: bytes, name: str) -> list[Cue]:
    """SRT, WebVTT or TTML in order of time; Refused in words where it is none of them."""
    text = text_of(data, name)
    try:
        read = pysubs2.SSAFile.from_string(MARKS.sub("", text).translate(HIDDEN))
        web = text.lstrip("\ufeff").startswith("WEBVTT")
        found = [
            Cue(one.start / 1000, one.end / 1000, plain)
            for one in read.events
            if one.end > one.start and (plain := _plain(one, web).strip())
        ]
    except Exception:
        found = []
    if not found:
        raise Refused(
            "There are no subtitles in it that can be read.", where=name, mend="Save them as SRT, WebVTT or TTML."
        )
    if len(found) > MOST_CUES:
        raise Refused(f"It holds {len(found):,} subtitles; {MOST_CUES:,} are the most.", where=name)
    return sorted(found, key=lambda one: (one.start, one.end))


def _plain(one: pysubs2.SSAEvent, web: bool) -> str:
    """The words of a cue without marks; WebVTT writes some letters as entities."""
    words = TAGS.sub("", one.plaintext.translate(SHOWN))
    return html.unescape(words) if web else words
