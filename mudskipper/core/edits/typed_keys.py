"""Keys typed into a table: rows are moments, columns properties, their parts, times and easings."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Callable, Iterable
from functools import partial
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field

from ..document.properties import label_of, remade, track_of, with_track, within
from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..easings.text import read_ease
from ..ground.base_model import Flag, LayerId, Model
from ..ground.errors import Refused
from ..ground.time import timecode
from ..ground.typed_number import typed_number
from ..ground.typed_time import typed_time
from ..moves.keys import key_data, without_keys
from ..tracks.base import SAME, KeyFrame, Track, tidy_frame
from ..tracks.colour import ColourTrack
from ..tracks.evaluate import key_at, value_at
from ..tracks.kinds import TextTrack
from ..tracks.outline import OutlineTrack
from .base import Edit, EditContext, label_in, local_frame, name_of, unlocked
from .values_and_keys import PropertyName, refuse_unplaced

MOST_CELLS = 20_000
"""Cells that are typed at once at most."""


HEX = re.compile("[0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8}")
COLUMNS = {"time": "the time of the keys", "after": "the time before the keys", "ease": "the easing"}


class TypedCell(Model):
    """What was typed into a cell: its row by the frame of the scene, its column by what it tells.

    A `value` is that of a property, of a part of a pair or of all of it; none deletes the key. A `time` is that of the
    row, `after` the time from the row before it; an `ease` is that of all keys of the row, or of the one of a property.
    `at` says the row by its time as it is typed, in place of `frame`: one may not be there yet.
    """

    column: Literal["value", "time", "after", "ease"] = "value"
    frame: KeyFrame = 0.0
    at: Annotated[str, Field(strict=True, max_length=40)] = ""
    property: PropertyName = ""
    part: Literal[0, 1] | None = None
    text: Annotated[str, Field(strict=True, max_length=2_000)]


class TypeKeys(Edit):
    """Write keys of a layer as they are typed into a table of them: values such as `120`, `+10`, `*1.1` or `#d9482f`,
    times, and easings in words.

    A value where there is no key makes one. With `ripple` later rows go along with one that is moved in time. All cells
    are taken, or none.
    """

    edit: Literal["type_keys"] = "type_keys"
    layer: LayerId
    cells: Annotated[tuple[TypedCell, ...], Field(min_length=1, max_length=MOST_CELLS)]
    ripple: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        moved = self._moved(layer, scene)
        rows = list(moved)
        made = _timed(layer, scene, moved)
        columns: dict[str, list[TypedCell]] = {"value": [], "ease": []}
        for cell in self.cells:
            if cell.column not in columns:
                continue
            if cell.at:
                frame = float(_told(partial(typed_time, cell.at, scene.frame_rate), "Time of a new row"))
            else:
                row = _row_of(cell.frame, rows)
                frame = cell.frame if row is None else moved[row]
            local_frame(layer, scene, frame)
            columns[cell.column].append(cell.model_copy(update={"frame": tidy_frame(frame)}))
        return scene.with_layer(_eased(_valued(made, scene, columns["value"], context), scene, columns["ease"]))

    def _moved(self, layer: Layer, scene: Scene) -> dict[float, float]:
        """Where the rows of the layer stand, by where they stood, in order; empty where no time was typed."""
        typed = [cell for cell in self.cells if cell.column in ("time", "after")]
        if not typed:
            return {}
        start = layer.span.start
        rows = sorted({tidy_frame(key.frame + start) for track in layer.tracks.values() for key in track.keys})
        given: dict[float, TypedCell] = {}
        for cell in typed:
            row = _row_of(cell.frame, rows)
            if row is None:
                raise Refused(
                    f"'{layer.name}' has no key at frame {cell.frame:g}; it may have been moved in another window.",
                    mend="Nothing was changed.",
                )
            given[row] = cell
        moved: dict[float, float] = {}
        shift = 0.0
        for number, row in enumerate(rows):
            here = given.get(row)
            moved[row] = row + (shift if self.ripple else 0.0)
            if here is not None:
                after = number > 0 and here.column == "after"
                now = row - (rows[number - 1] if after else 0.0)
                moved[row] = (moved[rows[number - 1]] if after else 0.0) + _at(here, now, scene)
                shift = moved[row] - row
        return moved

    def words(self, scene: Scene) -> str:
        count, first = len(self.cells), self.cells[0]
        what = f"{count:,} cells of the keys"
        if count == 1:
            what = (
                label_in(scene, self.layer, first.property).lower()
                if first.column == "value"
                else COLUMNS[first.column]
            )
            what += f" at frame {first.frame:g}"
        return f"Typed {what} of {name_of(scene, self.layer)}"


def _row_of(frame: float, rows: list[float]) -> float | None:
    """The row at a frame, of rows in order; None where there is none."""
    near = rows[max(bisect_left(rows, frame) - 1, 0) :][:2]
    return next((row for row in near if abs(row - frame) < SAME), None)


def _timed(layer: Layer, scene: Scene, moved: dict[float, float]) -> Layer:
    """The layer with its keys where its rows were moved to; Refused where two keys meet, or outside the span."""
    start = layer.span.start
    for name, track in layer.tracks.items():
        places = [tidy_frame(moved.get(tidy_frame(key.frame + start), key.frame + start) - start) for key in track.keys]
        if places == [key.frame for key in track.keys]:
            continue
        for key, place in zip(track.keys, places, strict=True):
            if place != key.frame:
                local_frame(layer, scene, place + start)
        twice = next((a for a, b in pairwise(sorted(places)) if b - a < SAME), None)
        if twice is not None:
            when = timecode(twice + start, scene.frame_rate)
            raise Refused(
                f"Two keys of {label_of(name, layer).lower()} would stand at {when}.", where="time",
                mend="Type another time, or delete one of the two first.",
            )  # fmt: skip
        keys = [key.model_copy(update={"frame": place}) for key, place in zip(track.keys, places, strict=True)]
        layer = with_track(layer, name, remade(track, name, keys=tuple(sorted(keys, key=lambda key: float(key.frame)))))
    return layer


def _valued(layer: Layer, scene: Scene, cells: Iterable[TypedCell], context: EditContext) -> Layer:
    """The layer with values as they were typed, each from what was there before any of them."""
    columns: dict[str, list[TypedCell]] = {}
    for cell in cells:
        columns.setdefault(cell.property, []).append(cell)
    for name, typed in columns.items():
        refuse_unplaced(layer, name)
        first = track = track_of(layer, name)
        label = label_of(name, layer)
        there = {key.frame: key for key in first.keys}
        gone: set[float] = set()
        values: dict[float, Any] = {}
        for cell in typed:
            local = tidy_frame(cell.frame - layer.span.start)
            key = there.get(local) or key_at(first, local)
            if not cell.text.strip():
                if key is not None:
                    gone.add(key.frame)
                continue
            at = key.frame if key is not None else local
            now = values.get(at, value_at(first, local, scene.fps) if key is None else key.value)
            said = _said(scene, cell, label)
            values[at] = _value(first, now, cell, said)
            gone.discard(at)
        here: list[str] = []
        keys: dict[float, Any] = dict(there)
        for at, value in values.items():
            was = key_data(there[at]) if at in there else {"frame": float(at), "ease": "linear"}
            keys[at] = {**was, "value": within(layer, name, value, here)}
        context.notices.extend(dict.fromkeys(here))
        if values:
            track = remade(first, name, keys=tuple(keys[at] for at in sorted(keys)))
        gone &= {key.frame for key in track.keys}
        layer = with_track(layer, name, without_keys(track, name, gone) if gone else track)
    return layer


def _eased(layer: Layer, scene: Scene, cells: Iterable[TypedCell]) -> Layer:
    easings: dict[str, dict[float, Ease]] = {}
    tracks = {
        name: (track, {key.frame: key for key in track.keys}) for name, track in layer.tracks.items() if track.keys
    }
    for cell in cells:
        local = tidy_frame(cell.frame - layer.span.start)
        ease = _told(partial(read_ease, cell.text), _said(scene, cell, "Easing"))
        found = False
        for name, (track, there) in tracks.items():
            key = (there.get(local) or key_at(track, local)) if cell.property in ("", name) else None
            if key is not None:
                found = True
                easings.setdefault(name, {})[key.frame] = ease
        if not found:
            raise Refused(
                f"{_said(scene, cell, 'Easing')}: there is no key to ease.", where="ease", mend="Type a value first."
            )
    for name, given in easings.items():
        track = track_of(layer, name)
        keys = tuple(k.model_copy(update={"ease": given[k.frame]}) if k.frame in given else k for k in track.keys)
        layer = with_track(layer, name, remade(track, name, keys=keys))
    return layer


def _at(cell: TypedCell, now: float, scene: Scene) -> float:
    what = "Time" if cell.column == "time" else "Time from the one before"
    return float(_told(partial(typed_time, cell.text, scene.frame_rate, now), _said(scene, cell, what)))


def _told(read: Callable[[], Any], where: str) -> Any:
    """What was read; a refusal says in which cell."""
    try:
        return read()
    except Refused as no:
        raise Refused(f"{where}: {no.sentence}", where="cells", mend=no.mend, instead=no.instead) from None


def _said(scene: Scene, cell: TypedCell, label: str) -> str:
    part = "" if cell.part is None else f" {'xy'[cell.part]}"
    return f"{label}{part} at {timecode(cell.frame, scene.frame_rate)}"


def _value(track: Track, now: Any, cell: TypedCell, said: str) -> Any:
    """The value that a text makes of the one that is there."""
    text = cell.text.strip()
    short = text if len(text) <= 40 else f"{text[:40]}…"
    if isinstance(track, TextTrack | OutlineTrack):
        raise Refused(
            f"{said} is no number that is typed.", where="cells", mend="Edit it on the stage or in the panel."
        )
    if isinstance(track, ColourTrack):
        digits = text.removeprefix("#").lower()
        if not HEX.fullmatch(digits):
            raise Refused(f"{said}: “{short}” is no colour.", where="cells", mend="Write one as #f2b544.")
        whole = "".join(2 * digit for digit in digits) if len(digits) < 6 else digits
        return f"#{whole:f<8}"
    if track.dims == 1 and cell.part is None:
        number = typed_number(text, float(now))
        if number is not None:
            return track.merged(number, now, said)
        raise Refused(f"{said}: “{short}” is no number.", where="cells", mend="Write one as 120, +10 or *1.1.")
    if track.dims == 1:
        raise Refused(f"{said}: it has no parts.", where="cells")
    if cell.part is not None:
        number = typed_number(text, float(now[cell.part]))
        if number is None:
            raise Refused(f"{said}: “{short}” is no number.", where="cells", mend="Write one as 120, +10 or *1.1.")
        return track.merged((number, None) if cell.part == 0 else (None, number), now, said)
    parts = [part for part in text.replace("×", " ").replace(";", " ").split() if part not in ("x", ",")]
    parts = text.split(",") if len(parts) != 2 and text.count(",") == 1 else [part.strip(",") for part in parts]
    numbers = [typed_number(part, float(at)) for part, at in zip(parts, now, strict=False)]
    if len(parts) != 2 or None in numbers:
        raise Refused(f"{said}: “{short}” is no pair of numbers.", where="cells", mend="Write one as 120, 80.")
    return track.merged((numbers[0], numbers[1]), now, said)
