"""Fills and strokes of animation JSON: colours and gradients."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...core.geometry.bezier import Floats
from .properties import frames_of, keys_in, moves, number, sampled, still, track

CAPS = {1: "butt", 2: "round", 3: "square"}
JOINS = {1: "miter", 2: "round", 3: "bevel"}
SHADE = 0.001
"""How far shares of a colour may be off."""
NO_LIGHT = "the highlights of radial gradients"
NO_DASHES = "dashes of more than one length"

Box = tuple[float, float, float, float]
"""left, top, width, height."""


def hexed(row: list[float]) -> str:
    """A colour of shares 0…1 as #rrggbbaa; files of old have 0…255."""
    shares = [one / 255 for one in row[:3]] if max(row[:3]) > 1.0 else list(row[:3])
    alpha = row[3] if len(row) > 3 else 1.0
    return "#" + "".join(f"{round(min(max(share, 0.0), 1.0) * 255):02x}" for share in (*shares, alpha))


def colour(paint: dict[str, Any], shift: float) -> Any:
    """The colour of a fill or a stroke as a track, its opacity in it."""
    given, opacity = paint.get("c"), paint.get("o")
    if not moves(opacity):
        share = still(opacity, 1, [100])[0] / 100
        return track(given, 3, [0, 0, 0], shift, lambda row: hexed([*row, share]), SHADE, mix="srgb")
    if not moves(given):
        shown = still(given, 3, [0, 0, 0])
        return track(opacity, 1, [100], shift, lambda row: hexed([*shown, row[0] / 100]), mix="srgb")
    frames = frames_of(given, opacity)
    rows = np.concatenate([sampled(given, 3, [0, 0, 0], frames), sampled(opacity, 1, [100], frames) / 100], axis=1)
    keys = [
        {"frame": float(frame) + shift, "value": hexed(row.tolist())} for frame, row in zip(frames, rows, strict=True)
    ]
    return {"rest": keys[0]["value"], "keys": keys, "mix": "srgb"}


def gradient(paint: dict[str, Any], shift: float, box: Box, notes: dict[str, None]) -> Any:
    """A gradient as a document has it: its places in percent of the box of what it fills, as that is at first."""
    count = int(paint["g"]["p"])
    ramp = paint["g"]["k"]
    share = still(paint.get("o"), 1, [100])[0] / 100
    colours = _ramp(still(ramp, 10_000, [0])[: _length(ramp)], count, share)
    stops = []
    for at, shown in colours:
        stops.append({"at": round(min(max(at, 0.0), 1.0) * 100, 4), "colour": shown})
    if moves(ramp):
        stops = _moving(ramp, count, share, shift)

    def percent(row: list[float]) -> list[float]:
        left, top, wide, high = box
        return [(row[0] - left) / (wide or 1.0) * 100, (row[1] - top) / (high or 1.0) * 100]

    begin, end = paint.get("s"), paint.get("e")
    if paint.get("t", 1) == 1:
        places = {
            "start": track(begin, 2, [0, 0], shift, percent), "end": track(end, 2, [0, 0], shift, percent),
        }  # fmt: skip
        return {"gradient": "linear", "stops": stops, **places}
    if still(paint.get("h"), 1, [0])[0]:
        notes[NO_LIGHT] = None
    (x, y), (u, v) = still(begin, 2, [0, 0]), still(end, 2, [0, 0])
    radius = float(np.hypot(u - x, v - y))
    return {
        "gradient": "radial", "stops": stops, "centre": track(begin, 2, [0, 0], shift, percent),
        "radius": [radius / (box[2] or 1.0) * 100, radius / (box[3] or 1.0) * 100],
    }  # fmt: skip


def _length(ramp: Any) -> int:
    keys = keys_in(ramp)
    return len(keys[0].value if keys else ramp["k"])


def _ramp(numbers: list[float], count: int, share: float) -> list[tuple[float, str]]:
    """Stops of a ramp: `count` times offset, red, green, blue, after which may stand pairs of offset and alpha."""
    colours = np.array(numbers[: count * 4], dtype=np.float64).reshape(count, 4)
    alphas = np.array(numbers[count * 4 :], dtype=np.float64)
    alphas = alphas[: len(alphas) // 2 * 2].reshape(-1, 2)
    offsets: Floats = colours[:, 0]
    if len(alphas):
        offsets = np.unique(np.concatenate([offsets, alphas[:, 0]]))
    rows = np.stack([np.interp(offsets, colours[:, 0], colours[:, axis]) for axis in (1, 2, 3)], axis=1)
    seen = np.interp(offsets, alphas[:, 0], alphas[:, 1]) if len(alphas) else np.ones(len(offsets))
    found = [
        (float(at), hexed([*row.tolist(), float(alpha) * share]))
        for at, row, alpha in zip(offsets, rows, seen, strict=True)
    ]
    return found if len(found) > 1 else [*found, *found]


def _moving(ramp: Any, count: int, share: float, shift: float) -> list[dict[str, Any]]:
    """Stops that move and change: as many as there are colours, with what is seen through at their places."""
    keys = keys_in(ramp)
    size = len(keys[0].value)

    def stop(at: int) -> dict[str, Any]:
        def shown(row: list[float]) -> str:
            own = row[at * 4 : at * 4 + 4]
            pairs = np.array(row[count * 4 : count * 4 + (size - count * 4) // 2 * 2]).reshape(-1, 2)
            alpha = float(np.interp(own[0], pairs[:, 0], pairs[:, 1])) if len(pairs) else 1.0
            return hexed([*own[1:], alpha * share])

        return {
            "at": track(ramp, size, [0], shift, lambda row: min(max(row[at * 4], 0.0), 1.0) * 100, SHADE),
            "colour": track(ramp, size, [0], shift, shown, SHADE, mix="srgb"),
        }

    return [stop(at) for at in range(count)]


def stroke(paint: dict[str, Any], shift: float, colour_or_gradient: Any, notes: dict[str, None]) -> dict[str, Any]:
    """A stroke as a document has it."""
    made = {
        "colour": colour_or_gradient, "width": number(paint.get("w"), 1.0, shift),
        "cap": CAPS.get(paint.get("lc", 1), "butt"), "join": JOINS.get(paint.get("lj", 1), "miter"),
        "mitre": min(max(float(paint.get("ml", 4) or 4), 1.0), 100.0),
    }  # fmt: skip
    dashes = paint.get("d") or []
    lengths = [one["v"] for one in dashes if one.get("n") in ("d", "g")]
    if lengths:
        if len(lengths) > 2:
            notes[NO_DASHES] = None
        offset = next((one["v"] for one in dashes if one.get("n") == "o"), None)
        made["dashes"] = {
            "dash": number(lengths[0], 10.0, shift), "gap": number(lengths[min(1, len(lengths) - 1)], 10.0, shift),
            "offset": number(offset, 0.0, shift),
        }  # fmt: skip
    return made
