"""The font families that are installed: packages of open fonts, whole files each with its licence.

A package says by an entry point of the group `fontpkg.family` that it holds a family; its `metadata.json` names the
files, their styles and the axes of those that are variable. Any package of that kind is found.
"""

from __future__ import annotations

import json
import logging
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, cached_property
from importlib.metadata import entry_points
from importlib.util import find_spec
from pathlib import Path
from types import MappingProxyType

import uharfbuzz as hb

GROUP = "fontpkg.family"
PLAIN = "Figtree"
"""The family of a new text, and what stands in for one that is not here."""
FALLBACKS = (
    "Noto Sans", "Noto Sans Arabic", "Heebo", "Noto Sans Devanagari", "Noto Sans Thai", "Noto Sans Tamil",
    "Noto Sans Telugu", "Noto Sans Khmer", "Noto Serif",
)  # fmt: skip
"""In which order families are looked through for a letter that a text's own has not; after them all others by name."""
log = logging.getLogger("mudskipper.core")


@dataclass(frozen=True, eq=False)
class FontFile:
    """A file of a family: `weight` is None where it has an axis of weights."""

    path: Path
    italic: bool
    weight: int | None

    @cached_property
    def face(self) -> hb.Face:
        """The file opened; only what is read of it is loaded."""
        return hb.Face(hb.Blob.from_file_path(str(self.path)))

    @cached_property
    def letters(self) -> frozenset[int]:
        """The code points that it has letters for."""
        return frozenset(self.face.unicodes)


@dataclass(frozen=True, eq=False)
class Family:
    """A family by its name: `slug` is that of its package, `axes` the least and the largest value of each axis, `kinds`
    what it is counted among, such as serif or display, and `scripts` those it has letters for, such as arabic."""

    name: str
    slug: str
    files: tuple[FontFile, ...]
    axes: Mapping[str, tuple[float, float]]
    kinds: tuple[str, ...]
    scripts: tuple[str, ...]

    @property
    def italic(self) -> bool:
        """Whether it has an italic."""
        return any(file.italic for file in self.files)

    @property
    def lightest(self) -> int:
        """Its least weight, as CSS counts them."""
        return self.weights[0]

    @property
    def heaviest(self) -> int:
        """Its largest weight."""
        return self.weights[-1]

    @cached_property
    def weights(self) -> tuple[int, ...]:
        """Its weights; of an axis each hundred and both ends."""
        if "wght" in self.axes:
            low, high = (round(end) for end in self.axes["wght"])
            return tuple(sorted({low, high, *range(-(-low // 100) * 100, high + 1, 100)}))
        return tuple(sorted({file.weight or 400 for file in self.files}))

    def file(self, weight: float, italic: bool) -> FontFile:
        """The file that is nearest to a weight and a slant."""
        style = [file for file in self.files if file.italic == italic] or list(self.files)
        return min(style, key=lambda file: (file.weight is not None) and abs(file.weight - weight))

    @property
    def letters(self) -> frozenset[int]:
        """The code points that it has letters for."""
        return self.file(400, False).letters


@cache
def families() -> Mapping[str, Family]:
    """The installed families by their names, in alphabetical order."""
    found: dict[str, Family] = {}
    for point in entry_points(group=GROUP):
        try:
            one = _family(point.value.partition(":")[0], point.name)
        except Exception:
            log.exception("the fonts of %s could not be read, and are not known", point.value)
        else:
            found.setdefault(one.name, one)
    return MappingProxyType(dict(sorted(found.items())))


def _family(package: str, slug: str) -> Family:
    spec = find_spec(package)
    if spec is None or not spec.submodule_search_locations:
        raise FileNotFoundError(package)
    folder = Path(next(iter(spec.submodule_search_locations)))
    about = json.loads((folder / "metadata.json").read_text())
    axes = {axis["tag"]: (float(axis["min"]), float(axis["max"])) for axis in about.get("axes") or ()}
    files = tuple(
        FontFile(
            folder / file["path"],
            file["style"] != "normal",
            None if file["variable"] and "wght" in axes else int(file["weight"] or 400),
        )
        for file in about["files"]
    )
    kinds = tuple(kind.lower().replace("_", " ") for kind in about.get("category") or ())
    scripts = tuple(one for one in about.get("subsets") or () if one != "menu" and not one.endswith("-ext"))
    return Family(about["family"], slug, files, MappingProxyType(axes), kinds, scripts)


def family_of(name: str) -> Family:
    """The family of a name, or what stands in for it."""
    known = families()
    return known.get(name) or known.get(PLAIN) or next(iter(known.values()))


@cache
def in_turn(name: str) -> tuple[Family, ...]:
    """The families in which a letter is looked for, the text's own first."""
    known = families()
    own = family_of(name)
    first = ["Noto Serif"] if "serif" in own.kinds else []
    order = dict.fromkeys([own.name, *first, *FALLBACKS, *known])
    return tuple(known[one] for one in order if one in known)
