"""The stations of a box: its nine points, and the baselines of a text's lines."""

from __future__ import annotations

STATIONS: dict[str, tuple[float, float]] = {
    "top left": (0.0, 0.0), "top": (0.5, 0.0), "top right": (1.0, 0.0),
    "left": (0.0, 0.5), "centre": (0.5, 0.5), "right": (1.0, 0.5),
    "bottom left": (0.0, 1.0), "bottom": (0.5, 1.0), "bottom right": (1.0, 1.0),
}  # fmt: skip

SIDES = (("left", 0.0), ("", 0.5), ("right", 1.0))
MOST_LINES = 24
"""Lines of a text whose baselines are stations, the first ones and the last."""


def baseline_stations(count: int) -> dict[str, tuple[float, int]]:
    """Stations on the lines of a text that has so many: the fraction of the width, and which line.

    >>> [name for name in baseline_stations(3) if name.endswith("left")]
    ['first baseline left', 'line 2 baseline left', 'last baseline left']
    """
    lines = {"first": 0, **{f"line {at + 1}": at for at in range(1, min(count, MOST_LINES) - 1)}, "last": count - 1}
    named = {f"{line} baseline {side}".strip(): (x, at) for line, at in lines.items() for side, x in SIDES}
    return named if count else {}
