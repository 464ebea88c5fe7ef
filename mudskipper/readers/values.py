"""Values of a table as edits: each property that it names gets keys."""

from __future__ import annotations

import math
from typing import Any

from ..core.document.scene import Layer, Scene
from ..core.ground.errors import Refused
from ..core.resolve.formulas.scope import WRITTEN, slugs
from ..core.tracks.motion import SplitPosition
from .tables import TableFile


def value_edits(table: TableFile, scene: Scene, name: str, near: float) -> tuple[list[dict[str, Any]], list[str]]:
    """Edits that write the columns of a table as keys, and what could not be, a sentence each.

    Heads are as an export writes them, such as "Title.position.x"; "frame" (or "time" in seconds) says when. Refused
    where there is no such column, or no column names a property.
    """
    frames = _frames(table, scene, name)
    layers = {layer.name: layer for layer in scene.layers}
    found: dict[tuple[str, str], dict[str, int]] = {}
    left: list[str] = []
    for place, head in enumerate(table.heads):
        if head.lower() in ("frame", "time"):
            continue
        named = _property(head, layers)
        if named is None:
            left.append(f"“{head}” names no property of a layer here.")
            continue
        layer, path, axis = named
        found.setdefault((layer.id, path), {})[axis] = place
    edits = []
    for (layer_id, path), places in found.items():
        layer = scene.layer(layer_id)
        if path == "position" and isinstance(layer.position, SplitPosition):
            parts = [(f"position.{axis}", [place]) for axis, place in places.items() if axis]
        elif set(places) in ({""}, {"x", "y"}):
            parts = [(path, [places[axis] for axis in sorted(places)])]
        else:
            (only,) = places
            left.append(f"“{layer.name}” needs x and y of {path}, and only {only} is there.")
            continue
        for prop, columns in parts:
            rows = [(frame, [row[place] for place in columns]) for frame, row in zip(frames, table.rows, strict=True)]
            whole = [(frame, cells) for frame, cells in rows if all(cell != "" for cell in cells)]
            if not whole:
                continue
            values: list[Any] = [
                cells[0] if isinstance(cells[0], str) and cells[0].startswith("#") else cells for _, cells in whole
            ]
            wrong = next(
                (cell for _, cells in whole for cell in cells if isinstance(cell, str) and cell[:1] != "#"), None
            )
            if wrong is not None:
                raise Refused(f"“{wrong}” is no number.", where=f"{name}: {table.heads[columns[0]]}")
            edits.append({
                "edit": "keys_from_values", "layer": layer_id, "property": prop, "near": near,
                "frames": [frame for frame, _ in whole], "values": values,
            })  # fmt: skip
    if not edits:
        raise Refused(
            "No column names a property of a layer of this scene.", where=name,
            mend='Write the heads as an export does, such as "Title.rotation".',
        )  # fmt: skip
    return edits, left


def _frames(table: TableFile, scene: Scene, name: str) -> list[float]:
    heads = [head.lower() for head in table.heads]
    if "frame" not in heads and "time" not in heads:
        raise Refused('It has no column "frame", or "time" in seconds.', where=name)
    by_frame = "frame" in heads
    cells = [row[heads.index("frame" if by_frame else "time")] for row in table.rows]
    found = []
    for number, cell in enumerate(cells):
        if isinstance(cell, str) or not math.isfinite(cell):
            raise Refused(f"“{cell}” is no time.", where=f"{name}: row {number + 2}")
        found.append(cell if by_frame else round(cell * scene.fps, 6))
    if found != sorted(set(found)):
        raise Refused("Its rows must stand in order of time, one for each.", where=name)
    return found


def _property(head: str, layers: dict[str, Layer]) -> tuple[Layer, str, str] | None:
    """The layer, the path of the property and the axis that a head names."""
    for axis in ("x", "y", ""):
        rest = head.removesuffix(f".{axis}") if axis and head.endswith(f".{axis}") else head if not axis else None
        if rest is None:
            continue
        name, _, slug = rest.rpartition(".")
        layer = layers.get(name)
        path = slugs(layer).get(slug) if layer else None
        if layer is not None and path is not None and path != WRITTEN:
            return layer, path, axis
    return None
