"""The stations of a box: its nine points, and a text's baselines."""

from __future__ import annotations

STATIONS: dict[str, tuple[float, float]] = {
    "top left": (0.0, 0.0), "top": (0.5, 0.0), "top right": (1.0, 0.0),
    "left": (0.0, 0.5), "centre": (0.5, 0.5), "right": (1.0, 0.5),
    "bottom left": (0.0, 1.0), "bottom": (0.5, 1.0), "bottom right": (1.0, 1.0),
}  # fmt: skip

BASELINES = {
    f"{line} baseline {side}".strip(): (x, which)
    for which, line in enumerate(("first", "last"))
    for side, x in (("left", 0.0), ("", 0.5), ("right", 1.0))
}
"""Stations on the first and the last line: the fraction of the width, and which line."""
