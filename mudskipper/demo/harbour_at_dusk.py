"""Harbour at dusk: a film with its head trimmed off, a scene of its own as the lower third on it, and a blow on the
lighthouse's flash."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ..core.document.scene import MotionBlur, Scene
from .data import fade, key, layer, scene, text
from .harbour import FLASH

FILM = Path(__file__).with_name("harbour_at_dusk.mp4")
HEAD = 15
"""Frames of the film that come out of black."""
TITLE = 8
LANDING = {"bezier": [0.1, 0.8, 0.3, 1]}


def lower_third() -> Scene:
    """A strip that drops in from behind its own edge: a carrier carries its plate, its edge and two texts."""
    plate = {"shape": "rectangle", "size": [900, 150], "corners": 26, "fill": "#fff8eaff"}
    edge = {"shape": "rectangle", "size": [18, 150], "corners": 9, "fill": "#f2b544ff"}
    drop = {"rest": [0, 75], "keys": [key(0, [0, -85], LANDING), key(22, [0, 75], "hold"), key(132, [0, 75], "ease-in"),
                                      key(150, [0, -85])]}  # fmt: skip
    grow = {"rest": [100, 100], "keys": [key(0, [40, 100], LANDING), key(26, [100, 100])]}
    layers = [
        {**layer("Drop", 0, 150, {"kind": "carrier"}, position=drop), "id": "drop"},
        layer("Plate", 0, 150, {"kind": "shape", "items": [plate]}, anchor=[0, 0.5], position=[0, 0], scale=grow,
              carrier="drop", unchecked=["coverage"]),
        layer("Edge", 0, 150, {"kind": "shape", "items": [edge]}, anchor=[0, 0.5], position=[0, 0], carrier="drop"),
        layer("Where", 8, 142, {**text("The old jetty", 50, 750, "#0e3f45ff"), "align": "left"}, anchor=[0, 0.5],
              position=[48, -28], opacity=fade(0, 12), carrier="drop"),
        layer("When", 12, 138, {**text("Friday, an hour after dusk", 40, 550, "#0e3f45ff"), "align": "left"},
              anchor=[0, 0.5], position=[48, 34], opacity=fade(0, 12), carrier="drop"),
    ]  # fmt: skip
    return scene("Lower third", 900, 150, [30, 1], 150, "#00000000", layers, [])


def harbour_at_dusk(clip: str, strip: str) -> Scene:
    """A harbour film under a lower third, which is the scene `strip`."""
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
    layers = [
        layer("Harbour film", 0, 210, film, position=[960, 540]),
        layer("Lantern night", TITLE, 210 - TITLE, text("Lantern night", 190, 850, "#fff8eaff", tracking=-10),
              position=[960, 300], opacity=fade(0, 14), **blow),
        layer("Lower third", 24, 150, {"kind": "scene", "asset": strip}, anchor=[0, 0.5], position=[120, 880]),
    ]  # fmt: skip
    made = scene("Harbour at dusk", 1920, 1080, [30, 1], 210, "#000000ff", layers, [{"frame": flash, "label": "flash"}])
    # The blow smears.
    return made.model_copy(update={"motion_blur": MotionBlur()})
