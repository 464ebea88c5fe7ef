"""Harbour at dusk: a film with its head trimmed off, a lower third on it, and a blow on the lighthouse's flash."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ..core.scene import Scene
from .data import fade, key, layer, scene, text
from .harbour import FLASH

FILM = Path(__file__).with_name("harbour_at_dusk.mp4")
HEAD = 15
"""Frames of the film that come out of black."""
TITLE = 8
LANDING = {"bezier": [0.1, 0.8, 0.3, 1]}


def harbour_at_dusk(clip: str) -> Scene:
    """A harbour film under a lower third."""
    flash = FLASH - HEAD
    film = {"kind": "clip", "asset": clip, "time": {"start": HEAD / 30}}
    # Counted from the title's start.
    hit = flash - TITLE
    blow: dict[str, Any] = {
        "rotation": {"rest": 0, "keys": [key(hit - 5, 0), key(hit - 2, 3), key(hit, -8), key(hit + 4, 4),
                                         key(hit + 9, 0)]},
        "scale": {"rest": [100, 100], "keys": [key(hit - 5, [100, 100]), key(hit - 2, [95, 95]),
                                               key(hit, [122, 122], LANDING), key(hit + 14, [100, 100])]},
    }  # fmt: skip
    plate = {"shape": "rectangle", "size": [900, 150], "corners": 26, "fill": "#fff8eaff"}
    edge = {"shape": "rectangle", "size": [18, 150], "corners": 9, "fill": "#f2b544ff"}
    grow = {"rest": [100, 100], "keys": [key(0, [0, 100], LANDING), key(14, [100, 100])]}
    rise = {"rest": [100, 100], "keys": [key(0, [100, 0], LANDING), key(10, [100, 100])]}
    layers = [
        layer("Harbour film", 0, 210, film, position=[960, 540]),
        layer("Lantern night", TITLE, 210 - TITLE, text("Lantern night", 190, 850, "#fff8eaff", tracking=-10),
              position=[960, 300], opacity=fade(0, 14), **blow),
        layer("Plate", 24, 150, {"kind": "shape", "items": [plate]}, anchor=[0, 0.5], position=[120, 880], scale=grow),
        layer("Edge", 20, 154, {"kind": "shape", "items": [edge]}, anchor=[0.5, 1], position=[120, 955], scale=rise),
        layer("Where and when", 34, 140, {**text("The old jetty\nFriday, an hour after dusk", 46, 650, "#0e3f45ff"),
                                          "align": "left", "line_height": 130},
              anchor=[0, 0.5], position=[164, 880], opacity=fade(0, 10)),
    ]  # fmt: skip
    return scene("Harbour at dusk", 1920, 1080, [30, 1], 210, "#000000ff", layers, [{"frame": flash, "label": "flash"}])
