"""Harbour window: a picture panned and zoomed behind a round window, shown in a word, and a dial of rays about it."""

from __future__ import annotations

from typing import Any

from ..core.document.scene import Scene
from .data import fade, key, layer, scene, text

DUSK, FOAM = "#0e3f45ff", "#f6f1e7ff"
FIXED = {"rest": [0, 0], "pinned": False}


def harbour_window(picture: str) -> Scene:
    """A poster of the harbour, its parts each seen through something else."""
    photo = {"kind": "picture", "asset": picture}
    port = {"name": "Porthole", "shape": {"shape": "ellipse", "size": [850, 850], "at": [1200, 600]}, "feather": 2}
    pan = {
        "offset": {"rest": [0, 0], "keys": [key(0, [-90, -30], "ease-in-out"), key(120, [60, 20])]},
        "zoom": {"rest": 100, "keys": [key(0, 150, "ease-in-out"), key(120, 124)]},
        "about": [62, 56],
    }
    ray: dict[str, Any] = {
        "shape": "rectangle", "name": "Ray", "size": [16, 54], "corners": 8, "at": [0, -330], "fill": "#f2b544ff",
        "transform": {
            "anchor": FIXED,
            "rotation": {"rest": 0, "keys": [key(0, 0), key(150, 45)]},
        },
        "repeat": {
            "copies": {"rest": 24, "keys": [key(0, 1, "ease-out"), key(36, 24)]}, "turn": 15, "fade": 99,
        },
    }  # fmt: skip
    glass = {"shape": "ellipse", "size": [572, 572], "stroke": {"colour": DUSK, "width": 22}}
    layers = [
        layer("Dial", 0, 150, {"kind": "shape", "items": [ray]}, anchor=FIXED, position=[960, 592]),
        layer("Harbour", 0, 150, photo, anchor={"rest": [1200, 600], "pinned": False}, position=[960, 592],
              scale=[66, 66],
              masks=[port], framing=pan),
        layer("Frame", 0, 150, {"kind": "shape", "items": [glass]}, position=[960, 592]),
        layer("Word", 0, 150, text("HARBOUR", 250, 850, "#ffffffff", tracking=20), position=[960, 130], visible=False,
              scale={"rest": [100, 100], "keys": [key(0, [92, 92], "ease-out"), key(30, [100, 100])]}),
        layer("Harbour in the word", 6, 144, photo, position=[960, 230], matte={"layer": "harbour-word"},
              opacity=fade(0, 20)),
        layer("At dusk", 18, 132, text("AT DUSK · LOW TIDE WEEK", 44, 600, DUSK, tracking=160), position=[960, 998],
              opacity=fade(0, 16)),
    ]  # fmt: skip
    layers[3]["id"] = "harbour-word"
    return scene("Harbour window", 1920, 1080, [30, 1], 150, FOAM, layers, [{"frame": 36, "label": "dial closed"}])
