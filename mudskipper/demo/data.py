"""How the demo writes documents: scenes, layers, texts and keys as data."""

from __future__ import annotations

from typing import Any

from ..core.document.read import scene_of
from ..core.document.scene import SCHEMA, Scene


def scene(
    name: str, width: int, height: int, rate: list[int], length: int, ground: str, layers: Any, beats: Any
) -> Scene:
    """A scene document."""
    return scene_of({
        "schema": SCHEMA, "name": name, "width": width, "height": height, "frame_rate": rate, "length": length,
        "background": ground, "layers": layers, "beats": beats,
    })  # fmt: skip


def layer(name: str, start: int, length: int, content: dict[str, Any], **tracks: Any) -> dict[str, Any]:
    """A layer's data."""
    return {"name": name, "span": {"start": start, "length": length}, "content": content, **tracks}


def text(words: str, size: float, weight: int, fill: str, tracking: float = 0) -> dict[str, Any]:
    """A centred text's data."""
    font = {"family": "Figtree", "weight": weight}
    return {"kind": "text", "text": words, "font": font, "size": size, "tracking": tracking, "align": "centre",
            "fill": fill}  # fmt: skip


def key(frame: float, value: Any, ease: Any = "linear") -> dict[str, Any]:
    """A key's data."""
    return {"frame": frame, "value": value, "ease": ease}


def fade(start: float, end: float) -> dict[str, Any]:
    """Opacity from 0 to 100."""
    return {"rest": 100, "keys": [key(start, 0, "ease-out"), key(end, 100)]}
