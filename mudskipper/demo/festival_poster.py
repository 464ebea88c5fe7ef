"""A poster in motion: a title with gradient and stroke, a word whose width is keyed, words round a ring."""

from __future__ import annotations

from ..core.document.scene import Scene
from .data import fade, key, layer, scene, text

LENGTH = 300
SUN = {
    "gradient": "linear", "start": [50, 0], "end": [50, 100],
    "stops": [{"at": 0, "colour": "#ffe08aff"}, {"at": 100, "colour": "#f26b4eff"}],
}  # fmt: skip
ABOUT = (
    "Every tide leaves a different shore. Walk it with Ines Okafor-Lind, who has counted crabs here for twelve years, "
    "and see what the mud keeps."
)


def festival_poster() -> Scene:
    """What can be done with the letters of a title."""
    ring = {"shape": "ellipse", "size": [620, 620], "stroke": {"colour": "#fbf3e259", "width": 3}}
    moon = {"shape": "ellipse", "size": [420, 420], "fill": "#fbf3e2ff"}
    crater = {"shape": "ellipse", "size": [90, 90], "fill": "#e6dcc4ff", "at": [70, -60]}
    title = text("Low Tide", 215, 400, "#fff8eaff") | {
        "font": {"family": "Pacifico", "weight": 400}, "fill": SUN, "stroke_behind": True, "align": "left",
        "stroke": {"colour": "#12303aff", "width": 18, "join": "round"},
    }  # fmt: skip
    wide = {"rest": 62, "keys": [key(10, 62, "ease-in-out"), key(60, 125, "linear")]}
    heavy = {"rest": 300, "keys": [key(10, 300, "ease-in-out"), key(60, 800, "linear")]}
    week = text("week", 170, 400, "#fff8eaff") | {
        "font": {"family": "Archivo", "weight": 400}, "case": "upper", "align": "left", "tracking": 60,
        "axes": [
            {"tag": "wdth", "name": "Width", "low": 62, "high": 125, "value": wide},
            {"tag": "wght", "name": "Weight", "low": 100, "high": 900, "value": heavy},
        ],
    }  # fmt: skip
    name = ABOUT.index("Ines")
    about = text(ABOUT, 42, 500, "#dcebe6ff") | {
        "align": "justify", "line_height": 140, "block": {"width": 820, "hanging": True},
        "parts": [
            {"start": name, "stop": name + len("Ines Okafor-Lind"), "font": {"family": "Figtree", "weight": 800},
             "fill": "#ffd23fff"},
            {"start": 0, "stop": len("Every tide"), "case": "small capitals", "tracking": 80},
        ],
    }  # fmt: skip
    words = text("mudflats at dawn · boats at noon · crabs at dusk · ", 75, 600, "#fbf3e2ff") | {"align": "left"}
    turn = {"rest": 0, "keys": [key(0, 0, "linear"), key(LENGTH, 100, "linear")]}
    layers = [
        layer("Moon", 0, LENGTH, {"kind": "shape", "items": [moon, crater]}, position=[1440, 540]),
        layer("Ring", 0, LENGTH, {"kind": "shape", "items": [ring]}, id="ring", position=[1440, 540]),
        layer("Programme", 0, LENGTH, words | {"path": {"layer": "ring", "start": turn}}, carrier="ring",
              anchor={"rest": [0, 0], "pinned": False}, position=[0, 0]),
        layer("About", 0, LENGTH, about, position=[580, 830], opacity=fade(30, 60)),
        layer("Week", 0, LENGTH, week, anchor=[0, 1], position=[170, 620]),
        layer("Title", 0, LENGTH, title, anchor=[0, 0.5], position=[150, 300]),
    ]  # fmt: skip
    return scene("Festival poster", 1920, 1080, [30, 1], LENGTH, "#12454fff", layers, [])
