"""A row of the table as a scene: its cells read, its texts mended, its slots filled."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..contents.assets import Assets
from ..document.properties import with_track
from ..document.scene import Layer, Scene
from ..document.slots import Row, RowMend, Slot
from ..ground.errors import Refused
from ..ground.file_name import file_name
from ..tracks.base import Track
from .base import Asked
from .filling import holders, with_value
from .landed import landed, landing

SIZES = re.compile(r"content\.(?:size|leading|parts\.\d+\.(?:size|leading))")
FIELD = re.compile(r"\{([^{}]{1,200})\}")
MOST_FILE_NAME = 90
"""Letters, which leaves room for a number."""


@dataclass(frozen=True)
class Trouble:
    """What needs a look in a row, in words; of which slot, and what can be done: `size` percent of its letters at which
    it fits, whether two `lines` may help."""

    slot: str
    sentence: str
    size: float | None = None
    lines: bool = False


def scene_of_row(scene: Scene, row: Row, asked: Asked, assets: Assets) -> tuple[Scene, list[Trouble]]:
    """The scene with a row in its slots, and what of it could not be read; such a slot is as in the scene."""
    troubles = []
    here = scene
    for slot in scene.slots:
        text = row.text_of(slot.id)
        if text is None:
            continue
        try:
            here = _filled(here, slot, text, row.mend_of(slot.id), asked, assets)
        except Refused as refusal:
            troubles.append(Trouble(slot.id, str(refusal).removeprefix(f"{refusal.where}: ")))
    known = {slot.id for slot in scene.slots}
    if any(cell.slot not in known and cell.text for cell in row.cells):
        troubles.append(Trouble("", "It has cells of a slot that is gone."))
    return here, troubles


def _filled(scene: Scene, slot: Slot, text: str, mend: RowMend, asked: Asked, assets: Assets) -> Scene:
    found = holders(scene, slot, assets)
    kind = found[0].kind if found else None
    if kind is not None and not text.strip() and kind.name not in ("text", "yes or no"):
        return scene
    value = kind.read(text, asked) if kind is not None else text
    if mend.lines and isinstance(value, str):
        value = on_two_lines(value)
    scene = with_value(scene, slot, value, assets)
    if mend.size < 100:
        for one in found:
            if one.layer.content.words is not None:
                scene = scene.with_layer(with_smaller(scene.layer(one.layer.id), mend.size / 100))
    return scene


def with_smaller(layer: Layer, factor: float) -> Layer:
    """A text with all its letters smaller by a factor."""
    for path, track in layer.tracks.items():
        if SIZES.fullmatch(path) and isinstance(track, Track):
            now = landing(track)
            layer = with_track(layer, path, landed(track, max(now * factor, 0.1), in_ratio=True))
    return layer


def on_two_lines(text: str) -> str:
    """A text with a break at the space nearest to its middle; one that has breaks, or no space, stays.

    >>> on_two_lines("Prof. Marguerite Quellstrand")
    'Prof. Marguerite\\nQuellstrand'
    """
    spaces = [place for place, letter in enumerate(text) if letter == " "]
    if "\n" in text or not spaces:
        return text
    middle = (len(text) - 1) / 2
    at = min(spaces, key=lambda place: abs(place - middle))
    return f"{text[:at].rstrip()}\n{text[at + 1 :].lstrip()}"


def twice(rows: Sequence[Row]) -> dict[str, int]:
    """Of each row that has the cells of an earlier one, the number of that (from 1), by its id. Empty cells do not
    count, nor do rows without any."""
    seen: dict[tuple[tuple[str, str], ...], int] = {}
    found = {}
    for number, row in enumerate(rows, 1):
        key = tuple(sorted((cell.slot, cell.text.strip().casefold()) for cell in row.cells if cell.text.strip()))
        first = seen.setdefault(key, number)
        if key and first != number:
            found[row.id] = first
    return found


def file_names(pattern: str, scene: Scene, rows: Sequence[Row]) -> list[str]:
    """What the files of rows are called by a pattern in which names of slots stand in braces, as do `row` (its number)
    and `scene`; two that would be called the same get numbers. Refused in words where the pattern names none.

    >>> file_names("{row} {scene}", Scene(name="Opener", width=8, height=8, length=1), [Row(), Row()])
    ['1 Opener', '2 Opener']
    """
    by_name = {slot.name.casefold(): slot.id for slot in scene.slots}
    unknown = [name for name in FIELD.findall(pattern) if name.strip().casefold() not in {*by_name, "row", "scene"}]
    if unknown:
        raise Refused(
            f"There is no slot “{unknown[0]}”.", where="pattern",
            mend=f"Write {', '.join(f'{{{name}}}' for name in ['row', 'scene', *(one.name for one in scene.slots)])}.",
        )  # fmt: skip
    wide = len(str(len(rows)))
    taken: set[str] = set()
    names = []
    for number, row in enumerate(rows, 1):

        def told(found: re.Match[str], row: Row = row, number: int = number) -> str:
            name = found[1].strip().casefold()
            if name in by_name:
                return " ".join((row.text_of(by_name[name]) or "").split())
            return str(number).zfill(wide) if name == "row" else scene.name

        stem = FIELD.sub(told, pattern).strip(" –-_.") or f"{scene.name} {number}"
        stem = file_name(stem, MOST_FILE_NAME).strip(" –-_.")
        name, count = stem, 1
        while name.casefold() in taken:
            count += 1
            name = f"{stem} {count}"
        taken.add(name.casefold())
        names.append(name)
    return names
