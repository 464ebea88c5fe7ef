"""Values of properties as a table, a row for each frame."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ...core.contents.assets import Assets
from ...core.document.scene import Layer, Scene
from ...core.geometry.bezier import Floats
from ...core.ground.errors import Refused
from ...core.resolve.formulas.scope import WRITTEN, slugs
from ...core.resolve.layers import ResolvedLayer
from ...core.resolve.resolved import resolve
from ...core.tracks.colour import ColourTrack
from ...core.tracks.motion import position_values

MOST_CELLS = 1_000_000
AXES = ("x", "y")


@dataclass(frozen=True)
class Table:
    """Columns by their heads, such as "Title.position.x"; each as many numbers, or colours #rrggbbaa, as there are
    frames. The first are the frame and the time in seconds."""

    heads: tuple[str, ...]
    columns: tuple[list[float | str], ...]

    @property
    def rows(self) -> Iterator[tuple[float | str, ...]]:
        """The rows below the head."""
        return zip(*self.columns, strict=True)


def table_of(scene: Scene, assets: Assets, first: int, stop: int, wanted: tuple[str, ...] = ()) -> Table:
    """The values of properties over frames first…stop (not included): of those wanted ("layer id", or "layer id" and a
    property's name in formulas, as "l1.rotation"), or of all that change. Refused where there are too many."""
    frames = np.arange(first, stop, dtype=np.float64)
    resolved = resolve(scene, frames, assets)
    seconds = (frames / scene.fps).round(6).tolist()
    heads: list[str] = ["frame", "time"]
    columns: list[list[float | str]] = [frames.astype(int).tolist(), seconds]
    for layer in scene.layers:
        names = _wanted(layer, wanted)
        if names is None:
            continue
        one = resolved.layers[layer.id]
        for slug, path in slugs(layer).items():
            if path == WRITTEN or (names and slug not in names):
                continue
            values = _values(one, path)
            if values is None or (not names and _rests(values)):
                continue
            for head, column in _columns(f"{layer.name}.{slug}", layer, path, values, len(frames)):
                heads.append(head)
                columns.append(column)
            if len(columns) * len(frames) > MOST_CELLS:
                raise Refused(
                    f"A table of more than {MOST_CELLS:,} cells would be the result.", where="values",
                    mend="Choose fewer layers, or fewer frames.",
                )  # fmt: skip
    if len(columns) == 2:
        raise Refused("Nothing moves in these frames.", where="values", mend="Select layers whose values are wanted.")
    return Table(tuple(heads), tuple(columns))


def _wanted(layer: Layer, wanted: tuple[str, ...]) -> set[str] | None:
    """The properties that are wanted of a layer, an empty set for all that change; None where none is."""
    if not wanted:
        return set()
    mine = [one.partition(".") for one in wanted if one.partition(".")[0] == layer.id]
    return {slug for _, _, slug in mine if slug} if mine else None


def _values(one: ResolvedLayer, path: str) -> Floats | None:
    if path == "position":
        return position_values(one.values)
    return one.values.get(path)


def _rests(values: Floats) -> bool:
    return len(values) == 1 or bool((values == values[0]).all())


def _columns(head: str, layer: Layer, path: str, values: Floats, count: int) -> Iterator[tuple[str, list[float | str]]]:
    rows = np.broadcast_to(values, (count, values.shape[1]))
    if isinstance(layer.tracks.get(path), ColourTrack):
        yield head, ["#" + bytes(np.clip(np.rint(row), 0, 255).astype(np.uint8)).hex() for row in rows]
    elif rows.shape[1] == 1:
        yield head, rows[:, 0].round(6).tolist()
    else:
        for axis, column in zip(AXES, rows.T, strict=False):
            yield f"{head}.{axis}", column.round(6).tolist()
