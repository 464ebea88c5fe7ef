"""Reading fonts in a child process with limits: of each face in a file the plain font, and what must be known of it.

`python -m mudskipper.media.font_reading FILE FOLDER` writes a file a face into the folder and a JSON list of facts to
standard output. Whatever is wrong with the file ends the child, not the server.
"""

from __future__ import annotations

import json
import math
import resource
import sys
from collections import Counter
from pathlib import Path
from typing import Any

import uharfbuzz as hb
from fontTools import unicodedata
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTCollection, TTFont

SECONDS = 60
MEMORY = 1_400 * 1024**2
MOST_FACES = 32
MOST_GLYPHS = 2_000
"""How many glyphs are tried."""
MOST_POINTS = 1_000_000
"""Font units beyond which nothing of a letter lies."""
KINDS = {b"\x00\x01\x00\x00", b"OTTO", b"true", b"ttcf", b"wOFF", b"wOF2"}
RESTRICTED = 0x0002
"""The licence bit that forbids to embed a font (OpenType 1.9, OS/2 `fsType`)."""
SCRIPTS = {
    "Latn": "latin", "Grek": "greek", "Cyrl": "cyrillic", "Arab": "arabic", "Hebr": "hebrew", "Deva": "devanagari",
    "Thai": "thai", "Taml": "tamil", "Telu": "telugu", "Khmr": "khmer", "Hira": "japanese", "Hang": "korean",
    "Hani": "chinese", "Beng": "bengali", "Geor": "georgian", "Armn": "armenian", "Ethi": "ethiopic",
}  # fmt: skip
ENOUGH = 20
"""Letters from which on a font is for a script."""


class NoFont(Exception):
    """Why a file is no font that can be used."""


def faces_in(path: Path, folder: Path) -> list[dict[str, Any]]:
    """The faces of a font file, each written as a plain font into the folder; `NoFont` says what is wrong."""
    with path.open("rb") as file:
        kind = file.read(4)
    if kind not in KINDS:
        raise NoFont("This is no font.")
    whole = kind not in (b"ttcf", b"wOFF", b"wOF2")
    fonts = list(TTCollection(path, lazy=True).fonts) if kind == b"ttcf" else [TTFont(path, lazy=True)]
    if len(fonts) > MOST_FACES:
        raise NoFont(f"It holds {len(fonts)} faces, and at most {MOST_FACES} are taken in.")
    found = []
    for number, font in enumerate(fonts):
        out = folder / f"{number}.sfnt"
        facts = _facts(font, path.stem)
        if whole:
            out.write_bytes(path.read_bytes())
        else:
            font.flavor = None
            font.recalcTimestamp = False
            font.save(out, reorderTables=False)
        _drawn(out)
        found.append({**facts, "file": out.name})
    return found


def _facts(font: TTFont, called: str) -> dict[str, Any]:
    if not {"glyf", "CFF ", "CFF2"} & set(font.keys()):
        raise NoFont("It holds no outlines, as pictures of letters alone do.")
    letters = font.getBestCmap() or {}
    if not any(not chr(code).isspace() for code in letters):
        raise NoFont("It has no letters that can be typed.")
    names, os2 = font["name"], font.get("OS/2")
    family = next(
        (str(names.getDebugName(number) or "").strip() for number in (16, 1) if names.getDebugName(number)), ""
    )
    family = "".join(letter for letter in family if letter.isprintable()).strip()[:100]
    axes = {axis.axisTag: [axis.minValue, axis.maxValue] for axis in font["fvar"].axes} if "fvar" in font else {}
    italic = bool(os2 and os2.fsSelection & 1) or bool("head" in font and font["head"].macStyle & 2)
    weight = int(os2.usWeightClass) if os2 else 400
    counts = Counter(unicodedata.script(chr(code)) for code in letters)
    return {
        "family": family or called.strip()[:100] or "Font", "italic": italic,
        "weight": None if "wght" in axes else min(max(weight if weight > 9 else weight * 100, 1), 1000),
        "weights": axes.get("wght"), "kinds": _kinds(font, os2),
        "scripts": [name for script, name in SCRIPTS.items() if counts[script] >= ENOUGH],
        "embeds": not (os2 and os2.fsType & 0x000F == RESTRICTED),
    }  # fmt: skip


def _kinds(font: TTFont, os2: Any) -> list[str]:
    """What a family is counted among, by its classification (OS/2 `panose`)."""
    panose = getattr(os2, "panose", None)
    kinds = []
    if panose is not None and panose.bFamilyType == 3:
        kinds.append("handwriting")
    elif panose is not None and panose.bFamilyType == 4:
        kinds.append("display")
    elif panose is not None and panose.bFamilyType == 2 and panose.bSerifStyle:
        kinds.append("serif" if 2 <= panose.bSerifStyle <= 10 else "sans serif")
    if "post" in font and font["post"].isFixedPitch:
        kinds.append("monospace")
    return kinds


def _drawn(path: Path) -> None:
    """Shape and draw with a font as texts do; `NoFont` where that cannot be done."""
    face = hb.Face(hb.Blob.from_file_path(str(path)))
    upem = int(face.upem)
    if not 16 <= upem <= 16_384 or not face.glyph_count:
        raise NoFont("It is damaged: its letters have no size.")
    font = hb.Font(face)
    codes = sorted(face.unicodes)
    buffer = hb.Buffer()
    buffer.add_codepoints(codes[:: max(len(codes) // MOST_GLYPHS, 1)])
    buffer.guess_segment_properties()
    hb.shape(font, buffer)
    if any(abs(place.x_advance) > MOST_POINTS for place in buffer.glyph_positions):
        raise NoFont("It is damaged: a letter has no end.")
    extents = font.get_font_extents("ltr")
    if not 0 < extents.ascender - extents.descender <= 20 * upem:
        raise NoFont("It is damaged: its lines have no height.")
    seen = 0
    for glyph in range(0, face.glyph_count, max(face.glyph_count // MOST_GLYPHS, 1)):
        pen = BoundsPen(None)
        font.draw_glyph_with_pen(glyph, pen)
        if pen.bounds:
            seen += 1
            if not all(math.isfinite(end) and abs(end) <= MOST_POINTS for end in pen.bounds):
                raise NoFont("It is damaged: a letter reaches out of all bounds.")
    if not seen:
        raise NoFont("None of its letters is drawn.")


def main() -> None:
    """Read a file, or say what is wrong with it."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    try:
        found: Any = faces_in(Path(sys.argv[1]), Path(sys.argv[2]))
    except NoFont as no:
        found = {"refused": str(no)}
    except MemoryError:
        found = {"refused": "It needs more memory than fonts are given."}
    except Exception:
        found = {"refused": "It begins like a font but is damaged."}
    json.dump(found, sys.stdout)


if __name__ == "__main__":
    main()
