"""Shore crab: a crab of shapes that sidles along the tideline, its claw opening about its joint."""

from __future__ import annotations

from typing import Any

from ..core.document.scene import Scene
from .data import fade, key, layer, scene, text

SHELL, DEEP, DARK = "#d9482fff", "#a83220ff", "#4a1a12ff"
LINE = {"colour": DARK, "width": 9, "join": "round"}
FIXED = {"rest": [0, 0], "pinned": False}


def shore_crab() -> Scene:
    """The crab, in front of an evening sky and wet sand."""
    sky = gradient("linear", [0, 0], [0, 100], (0, "#f2b544ff"), (55, "#f7d09aff"), (100, "#fbf3e2ff"))
    sand = gradient("linear", [50, 0], [50, 100], (0, "#8a6a4fff"), (40, "#c9a27eff"), (100, "#e6cfa9ff"))
    sun = {"gradient": "radial", "stops": [stop(0, "#fffaf0ff"), stop(45, "#fff0c8ff"), stop(100, "#fff0c800")]}
    layers = [
        layer("Sky", 0, 180, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [1920, 760], "fill": sky}]}, position=[960, 380]),
        layer("Sun", 0, 180, {"kind": "shape", "items": [
            {"shape": "ellipse", "size": [560, 560], "fill": sun}]}, position=[1400, 330]),
        layer("Wet sand", 0, 180, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [1920, 360], "fill": sand}]}, position=[960, 900]),
        layer("Crab", 0, 180, {"kind": "shape", "items": crab()}, anchor=FIXED,
              position={"rest": [700, 700], "keys": [
                  key(0, [560, 704], "ease-in-out"), key(60, [700, 700], "hold"), key(110, [700, 700], "ease-in-out"),
                  key(170, [880, 704])]},
              rotation={"rest": 0, "keys": [key(0, -2, "ease-in-out"), key(12, 2)], "after": "bounce"}),
        layer("Crab title", 8, 172, text("Shore crab", 150, 850, "#0e3f45ff", tracking=-8), position=[560, 250],
              opacity=fade(0, 16)),
    ]  # fmt: skip
    return scene("Shore crab", 1920, 1080, [30, 1], 180, "#fbf3e2ff", layers, [{"frame": 66, "label": "claw opens"}])


def crab() -> list[dict[str, Any]]:
    """Legs behind, a shell, eyes on stalks, and two claws in groups of their own; the right one opens."""
    legs = [leg(side, number) for side in (-1, 1) for number in range(3)]
    shade = {"gradient": "radial", "centre": [42, 30], "radius": [75, 80],
             "stops": [stop(0, "#f07a55ff"), stop(60, SHELL), stop(100, DEEP)]}  # fmt: skip
    shell = {"shape": "path", "name": "Shell", "contours": [{"count": 6, "closed": True}], "points": [
        [-230, -10, -10, 60, 20, -70], [-120, -118, -50, 10, 60, -14], [120, -118, -60, -14, 50, 10],
        [230, -10, -20, -70, 10, 60], [130, 96, 60, -10, -70, 22], [-130, 96, 70, 22, -60, -10],
    ], "fill": shade, "stroke": LINE}  # fmt: skip
    return [*legs, eye(-1), eye(1), shell, claw("Left claw", -1), claw("Right claw", 1)]


def leg(side: int, number: int) -> dict[str, Any]:
    """A leg that steps about its hip."""
    swing = 7 if number % 2 else -7
    hip = [side * (150 + 24 * number), 50 + 10 * number]
    return {
        "shape": "path", "name": f"Leg {'right' if side > 0 else 'left'} {number + 1}", "contours": [{"count": 3}],
        "points": [[0, 0, 0, 0, side * 40, -50], [side * 120, 20, side * -30, -50, side * 20, 40],
                   [side * 150, 128, side * 10, -40, 0, 0]],
        "stroke": {"colour": DEEP, "width": 24, "cap": "round", "join": "round"},
        "transform": {
            "anchor": FIXED, "position": hip,
            "rotation": {"rest": 0, "keys": [key(0, -swing, "ease-in-out"), key(9, swing)], "after": "bounce"},
        },
    }  # fmt: skip


def eye(side: int) -> dict[str, Any]:
    """An eye on its stalk."""
    return {"shape": "group", "name": f"Eye {'right' if side > 0 else 'left'}", "items": [
        {"shape": "line", "start": [0, 0], "end": [side * 14, -74], "stroke": {**LINE, "width": 20, "cap": "round"}},
        {"shape": "ellipse", "size": [58, 58], "at": [side * 16, -92], "fill": "#fffaf0ff", "stroke": LINE},
        {"shape": "ellipse", "name": "Pupil", "size": [22, 26], "at": [side * 16 + 8, -90], "fill": "#1b2628ff"},
    ], "transform": {"anchor": FIXED, "position": [side * 74, -108]}}  # fmt: skip


def claw(name: str, side: int) -> dict[str, Any]:
    """An arm and a pincer of two fingers; the upper finger of the right one opens about its joint."""
    snap = [
        key(60, 0, {"overshoot": 25}), key(74, -34, "ease-in"), key(84, 2, "ease-out"),
        key(90, 0, {"overshoot": 25}), key(100, -26, "ease-in"), key(108, 0),
    ]  # fmt: skip
    upper = {
        "shape": "path", "name": "Upper finger", "contours": [{"count": 4, "closed": True}],
        "points": [[0, 0, 0, 40, -6, -70], [70, -96, -50, -6, 60, 6], [176, -30, -8, -52, -28, -10],
                   [86, -14, 28, -8, -34, 10]],
        "fill": SHELL, "stroke": LINE,
        "transform": {"anchor": FIXED, "position": [118, -30],
                      "rotation": {"rest": 0, "keys": snap if side > 0 else []}},
    }  # fmt: skip
    lower = {
        "shape": "path", "name": "Lower finger", "contours": [{"count": 4, "closed": True}],
        "points": [[0, -8, -10, 20, 30, -14], [90, -14, -24, -4, 30, 2], [172, -32, -30, 20, 4, 46],
                   [60, 58, 60, 4, -54, -6]],
        "fill": DEEP, "stroke": LINE, "transform": {"anchor": FIXED, "position": [112, -12]},
    }  # fmt: skip
    arm = {
        "shape": "path", "name": "Arm", "contours": [{"count": 2}],
        "points": [[0, 0, 0, 0, 20, -60], [128, -20, -50, 26, 0, 0]],
        "stroke": {"colour": DEEP, "width": 44, "cap": "round", "join": "round"},
    }  # fmt: skip
    return {"shape": "group", "name": name, "items": [arm, lower, upper], "transform": {
        "anchor": FIXED, "position": [side * 190, -40], "scale": [side * 100, 100],
        "rotation": {"rest": 0, "keys": [key(0, -4, "ease-in-out"), key(30, 6)], "after": "bounce"},
    }}  # fmt: skip


def gradient(kind: str, start: list[float], end: list[float], *stops: tuple[float, str]) -> dict[str, Any]:
    """A gradient's data."""
    return {"gradient": kind, "start": start, "end": end, "stops": [stop(at, colour) for at, colour in stops]}


def stop(at: float, colour: str) -> dict[str, Any]:
    """A stop's data."""
    return {"at": at, "colour": colour}
