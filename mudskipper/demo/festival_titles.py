"""A programme whose lines come in one after another: a dozen cascades in four scripts, and a plate that grows."""

from __future__ import annotations

from typing import Any

from ..core.contents.assets import NO_MEDIA
from ..core.document.scene import Scene
from ..core.edits import apply_edits
from ..core.edits.plates import PutPlate
from ..core.edits.recipes import ApplyRecipe
from ..core.recipes import GrowFromEdge
from .data import layer, scene, text

LENGTH = 300
SOFT = {"bezier": [0.1, 0.8, 0.3, 1.0]}
LEFT, MIDDLE, RIGHT = 400, 960, 1520


def _line(words: str, size: float, weight: int, fill: str, *cascades: dict[str, Any], **fields: Any) -> dict[str, Any]:
    return text(words, size, weight, fill) | {"cascades": list(cascades)} | fields


def _in(start: float, total: float, each: float, **fields: Any) -> dict[str, Any]:
    return {"start": start, "each": each, "spread": "total", "amount": total, "ease": SOFT, **fields}


def _out(start: float, total: float, each: float, **fields: Any) -> dict[str, Any]:
    return {"way": "out", "start": start, "each": each, "spread": "total", "amount": total, "ease": "ease-in", **fields}


def festival_titles() -> Scene:
    """A dozen ways for letters, words and lines to come, to pass and to go."""
    ink, sun, mist = "#fff8eaff", "#ffd23fff", "#bfe3dcff"
    rise = {"name": "rise", "offset": [0, 80], "offset_in": "%", "opacity": 0}
    title = _line(
        "Low Tide Week", 190, 800, ink,
        _in(6, 40, 24, name="flip", turn_x=90, distance=700, opacity=0, anchor="baseline"),
        {"name": "wave", "way": "through", "start": 120, "each": 22, "amount": 3, "offset": [0, -26], "fill": sun,
         "ease": "ease-in-out"},
        _out(262, 34, 16, name="fall", offset=[0, 200], turn_z=30, opacity=0, order="random", seed=4),
    )  # fmt: skip
    ring = {"shape": "ellipse", "size": [1560, 440]}
    around = _line(
        "nine days on the mudflats · boats, birds and brine ·", 54, 600, mist,
        _in(40, 70, 20, name="along", scale=[0, 0], turn_z=-90, order="from the middle", anchor="baseline"),
        align="left",
    )  # fmt: skip
    counted = _line(
        "312 crabs", 96, 800, sun, _in(60, 40, 16, name="scramble", scramble=True, order="random"), align="left"
    )
    written = _line(
        "at dusk", 96, 400, ink, _in(70, 60, 34, name="write itself", part=0, ease="ease-in-out"),
        font={"family": "Pacifico", "weight": 400},
        stroke={"colour": ink, "width": 2.5, "cap": "round", "join": "round", "part": {}},
    ) | {"fill": None}  # fmt: skip
    stretched = _line(
        "WIDE WATER", 84, 400, mist,
        _in(80, 36, 20, name="stretch", opacity=0,
            axes=[{"tag": "wdth", "name": "Width", "low": 62, "high": 125, "value": 62}]),
        font={"family": "Archivo", "weight": 500},
    )  # fmt: skip
    arabic = _line("أسبوع الجزر", 84, 700, ink, _in(90, 40, 18, **rise))
    hindi = _line("ज्वार का सप्ताह", 84, 700, ink, _in(100, 40, 20, name="spin", scale=[0, 0], turn_y=180, distance=500))
    typed = _line(
        "Bring boots 🥾", 72, 600, sun, _in(110, 45, 0, name="typewriter", opacity=0, caret=True), align="left"
    )
    blurred = _line(
        "fog, then gulls,\nthen everyone", 60, 500, mist,
        _in(100, 50, 24, name="blur", unit="line", blur=14, opacity=0, tracking=200),
    )  # fmt: skip
    gathered = _line(
        "mud", 130, 900, sun,
        _in(84, 40, 30, name="gather", offset=[320, 320], turn_z=200, opacity=0, scatter=100, order="random"),
    )  # fmt: skip
    speaker = _line(
        "Ines Okafor-Lind, who has counted them for twelve years", 44, 600, "#12303aff",
        _in(14, 40, 14, **(rise | {"unit": "word"})), align="left",
    )  # fmt: skip
    layers = [
        layer("Ring", 0, LENGTH, {"kind": "shape", "items": [ring]}, id="ring", position=[960, 350]),
        layer("Around", 0, LENGTH, around | {"path": {"layer": "ring", "start": 81, "side": "above"}}, carrier="ring",
              anchor={"rest": [0, 0], "pinned": False}, position=[0, 0]),
        layer("Title", 0, LENGTH, title, position=[960, 330]),
        layer("Crabs", 0, LENGTH, counted, position=[LEFT, 590]),
        layer("Dusk", 0, LENGTH, written, position=[MIDDLE, 590]),
        layer("Water", 0, LENGTH, stretched, position=[RIGHT, 590]),
        layer("Arabic", 0, LENGTH, arabic, position=[LEFT, 720]),
        layer("Hindi", 0, LENGTH, hindi, position=[MIDDLE, 720]),
        layer("Boots", 0, LENGTH, typed, position=[RIGHT, 720]),
        layer("Fog", 0, LENGTH, blurred, position=[LEFT, 860]),
        layer("Mud", 0, LENGTH, gathered, position=[RIGHT, 860]),
        layer("Speaker", 120, LENGTH - 120, speaker, anchor=[0, 0.5], position=[200, 985]),
    ]  # fmt: skip
    made = scene("Festival titles", 1920, 1080, [30, 1], LENGTH, "#12454fff", layers, [])
    (name,) = [one for one in made.layers if one.name == "Speaker"]
    plated = apply_edits(made, [PutPlate(layer=name.id, padding=(34, 18, 34, 18), frame=150)], NO_MEDIA).scene
    (plate,) = [one for one in plated.layers if one.carrier == name.id]
    grows = ApplyRecipe(layers=(plate.id,), recipe=GrowFromEdge(station="left", length=18), frame=120)
    return apply_edits(plated, [grows], NO_MEDIA).scene
