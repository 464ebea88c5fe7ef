"""Fonts from outside: read in a child process with limits, kept as plain font files by their digests."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

from ..core.ground.errors import Refused
from ..core.text.families import INSTALLED, Family, FontFile, Fonts, weights_of
from .digests import digest_of
from .font_reading import SECONDS

MOST_BYTES = 128 * 1024 * 1024
TAKEN = "TTF, OTF, TTC, WOFF and WOFF2"
SUFFIXES = (".ttf", ".otf", ".ttc", ".otc", ".woff", ".woff2")
SHORT = 24
"""Signs of a digest by which a font is known among those of a machine."""


@dataclass(frozen=True)
class OwnFace:
    """A face of a font that came from outside: the digest of its file, that file, and what was read of it (JSON)."""

    digest: str
    path: str
    facts: str


@contextmanager
def read_fonts(file: Path, name: str, folder: Path | None = None) -> Iterator[list[tuple[Path, dict[str, Any]]]]:
    """The faces of a font file, for the time of a block: each a plain font in a folder within a folder, and what must
    be known of it. Refused in words where it is none, or damaged."""
    mend = f"{TAKEN} files are taken in; get it again from where it came from."
    if file.stat().st_size > MOST_BYTES:
        raise Refused(f"A font file may hold at most {MOST_BYTES // 2**20} MB.", where=name, mend="Take a smaller one.")
    with tempfile.TemporaryDirectory(dir=folder, suffix=".part") as work:
        command = [sys.executable, "-m", "mudskipper.media.font_reading", str(file), work]
        try:
            child = subprocess.run(command, capture_output=True, timeout=2 * SECONDS)
        except subprocess.TimeoutExpired:
            raise Refused(f"It could not be read within {2 * SECONDS} seconds.", where=name, mend=mend) from None
        try:
            told = json.loads(child.stdout)
        except ValueError:
            raise Refused("It begins like a font but is damaged.", where=name, mend=mend) from None
        if isinstance(told, dict):
            raise Refused(told["refused"], where=name, mend=mend)
        yield [(Path(work) / one.pop("file"), one) for one in told]


@lru_cache(maxsize=64)
def fonts_of(faces: tuple[OwnFace, ...]) -> Fonts:
    """The fonts of a project that has these faces of its own; the same as long as they are, so that what was shaped
    with them is kept."""
    return Fonts(families_of(faces)) if faces else INSTALLED


def families_of(faces: Iterable[OwnFace]) -> list[Family]:
    """The families that faces make: those of one name are one."""
    named: dict[str, list[tuple[OwnFace, dict[str, Any]]]] = {}
    for face in faces:
        facts = json.loads(face.facts)
        named.setdefault(facts["family"], []).append((face, facts))
    return [_family(name, own) for name, own in named.items()]


def _family(name: str, own: list[tuple[OwnFace, dict[str, Any]]]) -> Family:
    files = tuple(
        FontFile(face.digest[:SHORT], Path(face.path), facts["italic"], facts["weight"]) for face, facts in own
    )
    axes = [facts["weights"] for _, facts in own if facts["weights"]]
    axis = (min(low for low, _ in axes), max(high for _, high in axes)) if axes else None
    fixed = weights_of((file for file in files if file.weight is not None), None)
    kinds, scripts = (
        tuple(dict.fromkeys(one for _, facts in own for one in facts[key])) for key in ("kinds", "scripts")
    )
    return Family(name, files, tuple(sorted({*(weights_of((), axis) if axis else ()), *fixed})), kinds, scripts)


def faces_in_folder(folder: Path, into: Path) -> list[OwnFace]:
    """The fonts that lie in a folder, read into another."""
    found = []
    for file in sorted(folder.iterdir()):
        if file.suffix.lower() in SUFFIXES:
            with read_fonts(file, file.name) as faces:
                for path, facts in faces:
                    digest = digest_of(path)
                    kept = into / f"{digest}.sfnt"
                    kept.write_bytes(path.read_bytes())
                    found.append(OwnFace(digest, str(kept), json.dumps(facts)))
    return found
