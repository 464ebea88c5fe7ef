"""Outlines of animation JSON: paths, and the rectangles, ellipses and stars that it has, as points."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ...core.geometry.bezier import Floats
from .properties import frames_of, keys_in, moves, sampled

ROUND = 0.5519
"""The length of handles that make a quarter of a circle, in radii, as players of the format have it."""
Outline = tuple[list[dict[str, Any]], Any]
"""Contours, and a track of points, as a document has them."""


def drawn(shape: dict[str, Any], shift: float) -> Outline | None:
    """A path of any kind as contours and points; None where it has no points, or another number of them in time."""
    if shape["ty"] == "sh":
        return _path(shape.get("ks", {}), shift)
    make = {"rc": _rectangle, "el": _ellipse, "sr": _star}[shape["ty"]]
    props = {name: shape.get(name) for name, _, _ in PARTS[shape["ty"]]}
    frames = frames_of(*props.values())
    values = {name: sampled(props[name], dims, default, frames) for name, dims, default in PARTS[shape["ty"]]}
    backwards = shape.get("d") == 3
    rows = []
    for at in range(len(frames)):
        one = make({name: value[at] for name, value in values.items()}, shape)
        # The other way round, from the same point; what arrived leaves then.
        turned = np.concatenate([one[:1], one[:0:-1]])[:, [0, 1, 4, 5, 2, 3]] if backwards else one
        rows.append(turned)
    if len({len(row) for row in rows}) != 1:
        return None
    contours = [{"count": len(rows[0]), "closed": True}]
    if not any(moves(prop) for prop in props.values()):
        return contours, {"rest": rows[0].tolist()}
    keys = [
        {"frame": float(frame) + shift, "value": row.tolist(), "ease": "linear"}
        for frame, row in zip(frames, rows, strict=True)
    ]
    return contours, {"rest": keys[0]["value"], "keys": keys}


PARTS: dict[str, list[tuple[str, int, list[float]]]] = {
    "rc": [("p", 2, [0, 0]), ("s", 2, [0, 0]), ("r", 1, [0])],
    "el": [("p", 2, [0, 0]), ("s", 2, [0, 0])],
    "sr": [
        ("p", 2, [0, 0]), ("pt", 1, [5]), ("r", 1, [0]), ("or", 1, [0]), ("os", 1, [0]), ("ir", 1, [0]), ("is", 1, [0])
    ],
}  # fmt: skip
"""The properties of each kind that its outline is made of."""


def _path(prop: dict[str, Any], shift: float) -> Outline | None:
    keys = keys_in(prop)
    shapes = [_one(key.value) for key in keys] if keys else [_one(prop.get("k"))]
    first = shapes[0]
    if any(len(one["v"]) != len(first["v"]) or not one["v"] for one in shapes):
        return None
    contours = [{"count": len(first["v"]), "closed": bool(first.get("c", False))}]
    points = [_points(one) for one in shapes]
    if not keys:
        return contours, {"rest": points[0]}
    made = []
    for key, value in zip(keys, points, strict=True):
        a, b, c, d = key.curves[0]
        ease = "hold" if key.held else "linear" if a == b and c == d else {"bezier": [a, b, c, d]}
        made.append({"frame": key.frame + shift, "value": value, "ease": ease})
    return contours, {"rest": points[0], "keys": made}


def _one(value: Any) -> dict[str, Any]:
    found = value[0] if isinstance(value, list) else value
    if not isinstance(found, dict):
        raise TypeError("a path that is none")
    return found


def _points(one: dict[str, Any]) -> list[list[float]]:
    """x, y, the handle on which it arrives, that on which it leaves; from the point both."""
    nothing = [[0.0, 0.0]] * len(one["v"])
    return [
        [float(number) for number in (*at[:2], *arrives[:2], *leaves[:2])]
        for at, arrives, leaves in zip(one["v"], one.get("i") or nothing, one.get("o") or nothing, strict=True)
    ]


def _rectangle(values: dict[str, Floats], shape: dict[str, Any]) -> Floats:
    """From the right top corner down, as players draw it."""
    (x, y), (wide, high) = values["p"], values["s"] / 2
    radius = min(float(values["r"][0]), wide, high)
    if radius <= 0:
        corners = [(x + wide, y - high), (x + wide, y + high), (x - wide, y + high), (x - wide, y - high)]
        return np.array([[*corner, 0, 0, 0, 0] for corner in corners], dtype=np.float64)
    k = radius * ROUND
    return np.array([
        [x + wide, y - high + radius, 0, -k, 0, 0], [x + wide, y + high - radius, 0, 0, 0, k],
        [x + wide - radius, y + high, k, 0, 0, 0], [x - wide + radius, y + high, 0, 0, -k, 0],
        [x - wide, y + high - radius, 0, k, 0, 0], [x - wide, y - high + radius, 0, 0, 0, -k],
        [x - wide + radius, y - high, -k, 0, 0, 0], [x + wide - radius, y - high, 0, 0, k, 0],
    ], dtype=np.float64)  # fmt: skip


def _ellipse(values: dict[str, Floats], shape: dict[str, Any]) -> Floats:
    """From the top, clockwise."""
    (x, y), (wide, high) = values["p"], values["s"] / 2
    i, j = wide * ROUND, high * ROUND
    return np.array([
        [x, y - high, -i, 0, i, 0], [x + wide, y, 0, -j, 0, j], [x, y + high, i, 0, -i, 0], [x - wide, y, 0, j, 0, -j],
    ], dtype=np.float64)  # fmt: skip


def _star(values: dict[str, Floats], shape: dict[str, Any]) -> Floats:
    """A star (`sy` 1) or a polygon (2), from the top, clockwise; roundness is a share of the way to the next corner."""
    (x, y), star = values["p"], shape.get("sy") == 1
    count = max(int(values["pt"][0]), 2) * (2 if star else 1)
    step = math.tau / count
    radii = [(float(values["or"][0]), float(values["os"][0]) / 100)]
    if star:
        radii.append((float(values["ir"][0]), float(values["is"][0]) / 100))
    # A handle is a share of a quarter of the way round, over the corners of one kind.
    rows = []
    angle = -math.pi / 2 + math.radians(float(values["r"][0]))
    for at in range(count):
        radius, roundness = radii[at % len(radii)]
        around = math.tau * radius / (count * (2 if star else 4)) * roundness
        way = (-math.sin(angle) * around, math.cos(angle) * around)
        rows.append([
            x + radius * math.cos(angle), y + radius * math.sin(angle), -way[0], -way[1], way[0], way[1]
        ])  # fmt: skip
        angle += step
    return np.array(rows, dtype=np.float64)


def joined(outlines: list[Outline]) -> Outline | None:
    """Several outlines as one that is filled as a whole; None where their keys do not stand together."""
    tracks = [points for _, points in outlines]
    keyed = [points for points in tracks if "keys" in points]
    contours = [contour for some, _ in outlines for contour in some]
    rest = [point for points in tracks for point in points["rest"]]
    if not keyed:
        return contours, {"rest": rest}
    times = [(key["frame"], key["ease"]) for key in keyed[0]["keys"]]
    if any([(key["frame"], key["ease"]) for key in points["keys"]] != times for points in keyed):
        return None
    keys = []
    for at, (frame, ease) in enumerate(times):
        value = [p for one in tracks for p in (one["keys"][at]["value"] if "keys" in one else one["rest"])]
        keys.append({"frame": frame, "value": value, "ease": ease})
    return contours, {"rest": keys[0]["value"], "keys": keys}


def moved(outline: Outline, matrix: Floats) -> Outline:
    """An outline under a matrix (6,)."""
    a, b, c, d, e, f = (float(one) for one in matrix)

    def under(points: list[list[float]]) -> list[list[float]]:
        return [
            [a * x + c * y + e, b * x + d * y + f, a * i + c * j, b * i + d * j, a * o + c * q, b * o + d * q]
            for x, y, i, j, o, q in points
        ]

    contours, points = outline
    keys = [{**key, "value": under(key["value"])} for key in points.get("keys", ())]
    return contours, {"rest": under(points["rest"]), **({"keys": keys} if keys else {})}
