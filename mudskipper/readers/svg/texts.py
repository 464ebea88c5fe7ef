"""Text of SVG: each run that has a place of its own."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any
from xml.etree.ElementTree import Element

from .document import local, reference_in
from .paints import colour
from .styles import Style
from .units import FARTHEST, Matrix, Viewport, along, at, length, number, numbers, similar

WEIGHTS = {"normal": 400, "bold": 700, "bolder": 700, "lighter": 300}
Styled = Callable[[Element, Style], dict[str, str]]


def texts_of(
    element: Element, m: Matrix, style: Style, view: Viewport, styled: Styled, notes: set[str]
) -> list[dict[str, Any]]:
    """The runs of a text element: what they say, where their first baseline begins, and how they are set."""
    runs: list[dict[str, Any]] = []

    def place(one: Element, own: Style) -> None:
        em = length(own["font-size"], view, "y", 16.0)
        x, y = (next(iter(numbers(one.get(key))), None) for key in ("x", "y"))
        if one is element or x is not None or y is not None:
            last = runs[-1] if runs else {"x": 0.0, "y": 0.0}
            start = (last["x"] if x is None else x, last["y"] if y is None else y)
            runs.append(_run(own, start, em, view, notes))
        shift = length(one.get("dx"), view, "x", 0.0, em), length(one.get("dy"), view, "y", 0.0, em)
        if any(shift) and not runs[-1]["text"]:
            runs[-1]["x"] += shift[0]
            runs[-1]["y"] += shift[1]

    def walk(one: Element, own: Style) -> None:
        place(one, own)
        runs[-1]["text"] += one.text or ""
        for child in one:
            if local(child) in ("tspan", "a"):
                walk(child, styled(child, own))
            elif local(child) == "textPath":
                notes.add("text on a path")
            runs[-1]["text"] += child.tail or ""

    walk(element, style)
    if style["visibility"] != "visible":
        return []
    grows = similar(m)
    if grows is None:
        notes.add("text that is stretched")
        grows = math.sqrt(abs(m[0] * m[3] - m[1] * m[2]))
    turn = math.degrees(math.atan2(*along(m, 1.0, 0.0)[::-1]))
    kept = []
    for run in runs:
        run["text"] = " ".join(run["text"].split())
        size = run["size"] * grows
        # Letters without a size are not seen (SVG 2, 11.4), nor is what lies too far away for any canvas.
        if run["text"] and run["fill"] and 0 < size <= FARTHEST:
            x, y = at(m, run["x"], run["y"])
            if not max(abs(x), abs(y)) <= FARTHEST:
                continue
            sizes = {"size": size, "spacing": run["spacing"] * grows}
            kept.append(run | sizes | {"x": x, "y": y, "rotation": round(turn, 6)})
    return kept


def _run(style: Style, start: tuple[float, float], em: float, view: Viewport, notes: set[str]) -> dict[str, Any]:
    if reference_in(style["fill"]):
        notes.add("gradients of text")
    if style["stroke"] != "none":
        notes.add("strokes of text")
    ink = "#000000ff" if reference_in(style["fill"]) else None
    weight = style["font-weight"]
    return {
        "text": "", "x": start[0], "y": start[1], "size": em,
        "spacing": length(style["letter-spacing"], view, "", 0.0, em),
        "family": style["font-family"], "weight": WEIGHTS.get(weight, round(number(weight, 400.0))),
        "italic": style["font-style"] != "normal", "opacity": 1.0,
        "align": {"middle": "centre", "end": "right"}.get(style["text-anchor"], "left"),
        "fill": ink or colour(style["fill"], style["color"], number(style["fill-opacity"], 1.0)),
    }  # fmt: skip
