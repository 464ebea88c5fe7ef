"""Resolved layers and their drawing operations as MessagePack: columns are blocks of float32, little-endian.

{"wire", "revision", "from", "to", "order": [layer id], "layers": {id: {"group": {…}, "columns": [[width, bytes]], …}},
"outlines": {name: [verbs, bytes]}}. A layer's "items" are its shapes by their addresses, as layers without a group. An
operand of an operation that is a column is its index in `columns`. A page that knows another `wire` loads itself again.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import msgpack
import numpy as np

from ..core.draw.operations import glyph_runs
from ..core.draw.written import written
from ..core.resolve.drawing import layer_group
from ..core.resolve.formulas.scope import WRITTEN
from ..core.resolve.items import items_resolved
from ..core.resolve.layers import ResolvedLayer
from ..core.resolve.resolved import Resolved
from ..core.resolve.speeds import speeds as speeds_of
from ..core.text.fonts import outline
from .wire import version

NEVER = np.zeros((1, 1))
WIRE = version()
"""The form of these messages; the page has the same (`api/wire.ts`)."""


def pack_resolved(
    resolved: Resolved, only: set[str] | None, known: set[str], *, speeds: bool = False, **head: Any
) -> bytes:
    """The layers named in `only` (or all); outlines named in `known` are left out, and new ones added to it.

    With `speeds` each layer has a column of them for every property that changes.
    """
    names: list[str] = []
    fast = speeds_of(resolved, only) if speeds else {}
    layers = {
        layer_id: _layer(layer, resolved, names, fast.get(layer_id, {}))
        for layer_id, layer in resolved.layers.items()
        if only is None or layer_id in only
    }
    fresh = [name for name in dict.fromkeys(names) if name not in known]
    known.update(fresh)
    outlines = {}
    for name in fresh:
        shape = outline(name)
        outlines[name] = [shape.verbs, np.array(shape.coordinates, dtype="<f4").tobytes()]
    frames = resolved.frames
    message = {
        **head,
        "wire": WIRE,
        "from": int(frames[0]) if len(frames) else 0,
        "to": int(frames[-1]) + 1 if len(frames) else 0,
        "order": [layer.id for layer in resolved.scene.layers],
        "layers": layers,
        "outlines": outlines,
    }
    packed: bytes = msgpack.packb(message)
    return packed


def _layer(
    resolved: ResolvedLayer, all_layers: Resolved, names: list[str], speeds: Mapping[str, np.ndarray]
) -> dict[str, Any]:
    context, scene = all_layers.context, all_layers.scene
    columns: list[list[Any]] = []
    # A shape has the numbers of its layer under other names: each array, and each block, goes into the message once.
    arrays: dict[int, tuple[np.ndarray, int]] = {}
    blocks: dict[tuple[int, bytes], int] = {}

    def put(array: np.ndarray) -> int:
        if id(array) in arrays:
            return arrays[id(array)][1]
        block = np.ascontiguousarray(array, dtype="<f4")
        key = block.shape[1], block.tobytes()
        if key not in blocks:
            blocks[key] = len(columns)
            columns.append([*key])
        arrays[id(array)] = array, blocks[key]
        return blocks[key]

    def item_entry(item: ResolvedLayer) -> dict[str, Any]:
        return {
            "values": {name: put(array) for name, array in item.values.items()},
            "visible": group["visible"] if item.visible is resolved.visible else put(NEVER),
            "matrix": put(item.matrix),
            "inner": put(item.matrix),
            "box": put(item.box),
            "content": put(item.content_box),
            "anchor": put(item.anchor),
            "fraction": put(item.fraction),
            "baselines": put(item.baselines),
        }

    around = context.around(resolved.layer, resolved.frames)
    drawn = layer_group(resolved, context, (scene.width, scene.height))
    names.extend(name for run in glyph_runs(drawn) for name in run.names)
    group = written(drawn, put)
    items = items_resolved(resolved, around)
    source = resolved.layer.content.shown_frames(resolved.inner, around)
    return {
        "group": group,
        "items": {address: item_entry(item) for address, item in items.items()},
        # The page has no use for the letters of a text: its glyphs are among the operations.
        "values": {name: put(array) for name, array in resolved.values.items() if name != WRITTEN},
        "speeds": {name: put(array) for name, array in speeds.items()},
        "visible": group["visible"],
        "matrix": group["matrix"],
        "inner": put(resolved.content_matrix) if resolved.framed is not None else group["matrix"],
        "box": put(resolved.box),
        "content": put(resolved.content_box),
        "anchor": put(resolved.anchor),
        "fraction": put(resolved.fraction),
        "baselines": put(resolved.baselines),
        "bases": {name: put(array) for name, array in resolved.bases.items()},
        "problems": {path: problem.sentence for path, problem in resolved.problems.items()},
        "carrier": resolved.layer.carrier,
        "source": None if source is None else put(source),
        "columns": columns,
    }
