"""Font families: those that are installed, packages of open fonts, whole files each with its licence; and with them
those that a project has of its own.

A package says by an entry point of the group `fontpkg.family` that it holds a family; its `metadata.json` names the
files and their styles. Any package of that kind is found.
"""

from __future__ import annotations

import json
import logging
import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache, cached_property
from importlib.metadata import entry_points
from importlib.util import find_spec
from pathlib import Path
from types import MappingProxyType

import uharfbuzz as hb

GROUP = "fontpkg.family"
BESIDE = Path(__file__).parents[2] / "fonts"
"""Font files of packages of other registries, taken from there when the application is built."""
PLAIN = "Figtree"
"""The family of a new text, and what stands in for one that is not here."""
FALLBACKS = (
    "Noto Sans", "Noto Sans Arabic", "Heebo", "Noto Sans Devanagari", "Noto Sans Thai", "Noto Sans Tamil",
    "Noto Sans Telugu", "Noto Sans Khmer", "Noto Serif",
)  # fmt: skip
"""In which order families are looked through for a letter that a text's own has not; after them all others by name."""
log = logging.getLogger("mudskipper.core")


AXES = {
    "wght": "Weight", "wdth": "Width", "slnt": "Slant", "ital": "Italic", "opsz": "Optical size", "GRAD": "Grade",
}  # fmt: skip
"""What the axes are called that are registered by the standard (OpenType 1.9, fvar), or are in every other font."""


NO_LANGUAGE = 0xFFFF
"""A script's own features, whatever the language (`HB_OT_LAYOUT_DEFAULT_LANGUAGE_INDEX`)."""


@dataclass(frozen=True)
class Axis:
    """An axis of a variable font: by its tag, its least, its own and its largest value."""

    tag: str
    name: str
    low: float
    rest: float
    high: float

    @property
    def step(self) -> float:
        """How finely its values are told apart: a power of two, 2,048 or more of them from end to end."""
        return float(2.0 ** math.floor(math.log2(max(self.high - self.low, 1e-6) / 2048)))

    def kept(self, value: float) -> float:
        """A value brought within its ends, and as fine as they are told apart."""
        return min(max(round(value / self.step) * self.step, self.low), self.high)


@dataclass(frozen=True)
class Instance:
    """A style that the maker of a variable font gave a name to: its axes' values by their tags."""

    name: str
    values: Mapping[str, float]


@dataclass(frozen=True, eq=False)
class FontFile:
    """A file of a family. `key` tells it apart from all others on this machine; `weight` is None where it has an axis
    of weights."""

    key: str
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

    @cached_property
    def hangs(self) -> float | None:
        """From how high above the baseline, in ems, letters hang in a line that runs down; None where it says so for
        each of them (`vmtx`, `VORG`)."""
        if {"vmtx", "VORG"} & {str(tag) for tag in self.face.table_tags}:
            return None
        metrics = self.face.reference_table("OS/2").data
        ascender = int.from_bytes(metrics[68:70], "big", signed=True) if len(metrics) >= 70 else 0
        return float(ascender or 0.88 * self.face.upem) / float(self.face.upem)

    @cached_property
    def coloured(self) -> bool:
        """Whether it has letters in colours of their own."""
        return bool(self.face.has_color_layers or self.face.has_color_paint)

    @cached_property
    def axes(self) -> tuple[Axis, ...]:
        """Its axes, but those that its maker wants hidden; none where it is not variable."""
        shown = (one for one in self.face.axis_infos if not one.flags & 1)
        return tuple(
            Axis(one.tag, self._called(one.tag, one.name_id), one.min_value, one.default_value, one.max_value)
            for one in shown
        )

    @cached_property
    def features(self) -> frozenset[str]:
        """The features of its letters and of how they stand, in any script."""
        face = self.face
        found: set[str] = set()
        for table in ("GSUB", "GPOS"):
            for index in range(len(face.get_table_script_tags(table))):
                found.update(map(str, face.get_language_feature_tags(table, index, NO_LANGUAGE)))
        return frozenset(found)

    def _called(self, tag: str, name: int) -> str:
        return AXES.get(tag) or str(self.face.get_name(name) or tag).strip()[:40] or tag

    @cached_property
    def instances(self) -> tuple[Instance, ...]:
        """Its named styles."""
        tags = [one.tag for one in self.face.axis_infos]
        return tuple(
            Instance(
                str(self.face.get_name(one.subfamily_name_id) or "")[:80],
                dict(zip(tags, one.design_coords, strict=False)),
            )
            for one in self.face.named_instances
        )


@dataclass(frozen=True, eq=False)
class Family:
    """A family by its name: `weights` are those that it has, of an axis each hundred and both ends, `kinds` what it is
    counted among, such as serif or display, and `scripts` those it has letters for, such as arabic."""

    name: str
    files: tuple[FontFile, ...]
    weights: tuple[int, ...]
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

    def file(self, weight: float, italic: bool) -> FontFile:
        """The file that is nearest to a weight and a slant."""
        style = [file for file in self.files if file.italic == italic] or list(self.files)
        return min(style, key=lambda file: (file.weight is not None) and abs(file.weight - weight))

    @property
    def letters(self) -> frozenset[int]:
        """The code points that it has letters for."""
        return self.file(400, False).letters


def weights_of(files: Iterable[FontFile], axis: tuple[float, float] | None) -> tuple[int, ...]:
    """The weights of files, or along an axis from end to end."""
    if axis is None:
        return tuple(sorted({file.weight or 400 for file in files}))
    low, high = (round(end) for end in axis)
    return tuple(sorted({low, high, *range(-(-low // 100) * 100, high + 1, 100)}))


@cache
def installed() -> Mapping[str, Family]:
    """The installed families by their names, in alphabetical order."""
    found: dict[str, Family] = {}
    for point in entry_points(group=GROUP):
        try:
            one = _family(point.value.partition(":")[0], point.name)
        except Exception:
            log.exception("the fonts of %s could not be read, and are not known", point.value)
        else:
            found.setdefault(one.name, one)
    for file in sorted(BESIDE.glob("*.ttf")):
        one = _single(file)
        found.setdefault(one.name, one)
    _FILES.update({file.key: file for family in found.values() for file in family.files})
    return MappingProxyType(dict(sorted(found.items())))


def _family(package: str, slug: str) -> Family:
    spec = find_spec(package)
    if spec is None or not spec.submodule_search_locations:
        raise FileNotFoundError(package)
    folder = Path(next(iter(spec.submodule_search_locations)))
    about = json.loads((folder / "metadata.json").read_text())
    axis = next(((one["min"], one["max"]) for one in about.get("axes") or () if one["tag"] == "wght"), None)
    files = tuple(
        FontFile(
            f"{slug}-{number}", folder / file["path"], file["style"] != "normal",
            None if file["variable"] and axis else int(file["weight"] or 400),
        )
        for number, file in enumerate(about["files"])
    )  # fmt: skip
    kinds = tuple(kind.lower().replace("_", " ") for kind in about.get("category") or ())
    scripts = tuple(one for one in about.get("subsets") or () if one != "menu" and not one.endswith("-ext"))
    return Family(about["family"], files, weights_of(files, axis), kinds, scripts)


def _single(path: Path) -> Family:
    file = FontFile(path.stem, path, False, 400)
    kinds = ("emoji",) if file.coloured else ()
    return Family(str(file.face.get_name(1) or path.stem), (file,), (400,), kinds, kinds)


_FILES: dict[str, FontFile] = {}


def file_of(key: str) -> FontFile:
    """A font file by its key; KeyError where it is neither installed nor any project's here."""
    if key not in _FILES:
        installed()
    return _FILES[key]


class Fonts:
    """The families that the texts of a project are set in: its own, and those that are installed. One of its own stands
    before one of the same name."""

    def __init__(self, own: Iterable[Family] = ()) -> None:
        self.own: Mapping[str, Family] = {one.name: one for one in own}
        _FILES.update({file.key: file for one in self.own.values() for file in one.files})
        self._turns: dict[str, tuple[Family, ...]] = {}

    @property
    def families(self) -> Mapping[str, Family]:
        """All of them by their names."""
        return {**installed(), **self.own}

    def family(self, name: str) -> Family | None:
        """The family of a name; None where it is not here."""
        return self.own.get(name) or installed().get(name)

    def family_of(self, name: str) -> Family:
        """The family of a name, or what stands in for it."""
        return self.family(name) or installed().get(PLAIN) or next(iter(installed().values()))

    def in_turn(self, name: str) -> tuple[Family, ...]:
        """The families in which a letter is looked for, the text's own first."""
        found = self._turns.get(name)
        if found is None:
            own = self.family_of(name)
            first = ["Noto Serif"] if "serif" in own.kinds else []
            known = self.families
            coloured = [one.name for one in self.coloured]
            order = dict.fromkeys([own.name, *first, *FALLBACKS, *self.own, *coloured, *known])
            found = self._turns[name] = tuple(known[one] for one in order if one in known)
        return found

    @cached_property
    def coloured(self) -> tuple[Family, ...]:
        """Those with letters in colours of their own, the project's first."""
        return tuple(one for one in (*self.own.values(), *installed().values()) if one.files[0].coloured)


INSTALLED = Fonts()
"""Those of a project that has none of its own."""
