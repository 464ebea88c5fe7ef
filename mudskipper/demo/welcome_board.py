"""A title in eight scripts over one plate that fits each of them."""

from __future__ import annotations

from ..core.contents.assets import NO_MEDIA
from ..core.document.scene import Scene
from ..core.edits import apply_edits
from ..core.edits.findings import LeaveFinding
from ..core.edits.plates import PutPlate
from .data import fade, key, layer, scene, text

WELCOMES = [
    "Welcome", "أهلاً وسهلاً", "ברוכים הבאים", "स्वागत है", "ยินดีต้อนรับ", "வரவேற்பு", "స్వాగతం", "Καλώς ήρθατε",
]  # fmt: skip
EACH = 45
"""Frames that each of them stands."""


def welcome_board() -> Scene:
    """One text, whose words a formula chooses, and its plate."""
    length = EACH * len(WELCOMES)
    words = "".join(f'"{one}" if frame < {EACH * (n + 1)} else ' for n, one in enumerate(WELCOMES[:-1]))
    content = {**text(WELCOMES[0], 150, 700, "#fff8eaff"), "written": {"formula": f'{words}"{WELCOMES[-1]}"'}}
    waves = {"shape": "ellipse", "size": [2600, 900], "fill": "#1d5f6aff"}
    sand = {"shape": "ellipse", "size": [2400, 620], "fill": "#5c4636ff"}
    layers = [
        layer("Water", 0, length, {"kind": "shape", "items": [waves]},
              position={"rest": [960, 1010], "keys": [key(0, [930, 1010], "ease-in-out"), key(length, [990, 1010])]}),
        layer("Mud", 0, length, {"kind": "shape", "items": [sand]}, position=[1420, 1260]),
        layer("Welcome", 0, length, content, position=[960, 470]),
        layer("Where", 0, length, text("at the old jetty", 56, 500, "#fbf3e2ff"), position=[960, 690],
              opacity=fade(0, 20)),
    ]  # fmt: skip
    board = scene("Welcome board", 1920, 1080, [30, 1], length, "#f7d09aff", layers, [])
    (title,) = [one for one in board.layers if one.name == "Welcome"]
    plated = apply_edits(board, [PutPlate(layer=title.id, padding=(90, 40, 90, 40))], NO_MEDIA).scene
    (plate,) = [one for one in plated.layers if one.carrier == title.id]
    # It changes its width at once, as the words do.
    return apply_edits(plated, [LeaveFinding(layer=plate.id, check="jump", leave=True)], NO_MEDIA).scene
