"""Resolved layers and their drawing operations as MessagePack: columns are blocks of float32, little-endian.

{"revision", "from", "to", "order": [layer id], "layers": {id: {"ops": […], "columns": [[width, bytes]], …}},
"outlines": {name: [verbs, bytes]}}. An operation's operand that is a column is its index in `columns`.
"""

from __future__ import annotations

from dataclasses import fields
from typing import Any

import msgpack
import numpy as np

from ..core.box import text_setting
from ..core.content import PictureInfo, TextContent
from ..core.drawlist import GlyphsOp, layer_operations
from ..core.resolve import Resolved, ResolvedLayer
from ..core.text.fonts import outline


def pack_resolved(
    resolved: Resolved, assets: dict[str, PictureInfo], only: set[str] | None, known: set[str], **head: Any
) -> bytes:
    """The layers named in `only` (or all); outlines named in `known` are left out, and new ones added to it."""
    names: list[str] = []
    layers = {
        layer_id: _layer(layer, assets, names, (resolved.scene.width, resolved.scene.height))
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
        "from": int(frames[0]) if len(frames) else 0,
        "to": int(frames[-1]) + 1 if len(frames) else 0,
        "order": [layer.id for layer in resolved.scene.layers],
        "layers": layers,
        "outlines": outlines,
    }
    packed: bytes = msgpack.packb(message)
    return packed


def _baselines(resolved: ResolvedLayer) -> np.ndarray:
    """The first and last baseline of a text in content pixels (1 | n, 2); (1, 0) for other contents."""
    content = resolved.layer.content
    if not isinstance(content, TextContent):
        return np.zeros((1, 0))
    values = {name.removeprefix("content."): v for name, v in resolved.values.items() if name.startswith("content.")}
    setting = text_setting(content, values)
    return np.asarray(setting.box[:, 1:2] + setting.baselines)


def _layer(
    resolved: ResolvedLayer, assets: dict[str, PictureInfo], names: list[str], size: tuple[int, int]
) -> dict[str, Any]:
    columns: list[list[Any]] = []

    def put(array: np.ndarray) -> int:
        block = np.ascontiguousarray(array, dtype="<f4")
        columns.append([block.shape[1], block.tobytes()])
        return len(columns) - 1

    operations = []
    for operation in layer_operations(resolved, assets, size):
        told: dict[str, Any] = {"op": type(operation).__name__.removesuffix("Op").lower()}
        for field in fields(operation):
            value = getattr(operation, field.name)
            told[field.name] = put(value) if isinstance(value, np.ndarray) else value
        operations.append(told)
        if isinstance(operation, GlyphsOp):
            names.extend(operation.names)
    return {
        "ops": operations,
        "values": {name: put(array) for name, array in resolved.values.items()},
        "visible": operations[0]["visible"],
        "matrix": operations[0]["matrix"],
        "box": put(resolved.box),
        "anchor": put(resolved.anchor),
        "fraction": put(resolved.fraction),
        "baselines": put(_baselines(resolved)),
        "columns": columns,
    }
