"""Clips and masks of SVG as masks of ours, and the boxes of what they lie on."""

from __future__ import annotations

import math
from typing import Any
from xml.etree.ElementTree import Element

from .document import children, local, reference_in, target
from .outlines import Contour, box_of, outline_of
from .paints import Box, colour
from .styles import Style, Styles
from .units import FIXED, IDENTITY, Matrix, Viewport, length, matrix_of, multiply, number, tidy

SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
GROUPS = {"g", "a", "svg", "symbol", "switch"}
UNSEEN = {
    "defs",
    "clipPath",
    "mask",
    "linearGradient",
    "radialGradient",
    "style",
    "title",
    "desc",
    "metadata",
    "marker",
}
UNSEEN |= {"pattern", "filter", "symbol", "view", "stop"}
MOST_DEPTH = 60
MOST_POINTS = 5_000


class Clips:
    """Reads clips and masks of a file; what it cannot be true to goes into `notes`."""

    def __init__(self, ids: dict[str, Element], styles: Styles, notes: set[str]) -> None:
        self._ids, self._styles, self._notes = ids, styles, notes

    def of(self, element: Element, style: Style, m: Matrix, view: Viewport) -> list[list[dict[str, Any]]]:
        """The masks of an element's clip and mask, and of those that these are clipped by: each a list of its own."""
        found = []
        name = reference_in(style["clip-path"])
        seen: list[str] = []
        while name and name not in seen:
            seen.append(name)
            clip = self._ids.get(name)
            if clip is None or local(clip) != "clipPath":
                self._notes.add(f"the missing clip #{name}")
                break
            own = self._styles.of(clip, {})
            found.append(self._clip(clip, element, m, view))
            name = reference_in(own["clip-path"])
        if style["clip-path"] not in ("none", "") and not seen:
            self._notes.add("clips by a CSS shape")
        name = reference_in(style["mask"])
        mask = self._ids.get(name) if name else None
        if mask is not None and local(mask) == "mask":
            found += self._mask(mask, element, m, view)
        elif style["mask"] not in ("none", ""):
            self._notes.add(f"the missing mask {name or style['mask'][:30]}")
        return found

    def _units(self, holder: Element, key: str, element: Element, m: Matrix, view: Viewport) -> Matrix | None:
        """The matrix of what lies in a clip or a mask; None where the element it lies on has no box."""
        if holder.get(key, "userSpaceOnUse") != "objectBoundingBox":
            return m
        box = self.box_of(element, IDENTITY, {}, view, own=False)
        if box is None or box[2] <= box[0] or box[3] <= box[1]:
            return None
        return multiply(m, (box[2] - box[0], 0.0, 0.0, box[3] - box[1], box[0], box[1]))

    def _clip(self, clip: Element, element: Element, m: Matrix, view: Viewport) -> list[dict[str, Any]]:
        place = self._units(clip, "clipPathUnits", element, m, view)
        nothing = [mask_of("Clip", [])]
        if place is None:
            return nothing
        place = multiply(place, matrix_of(clip.get("transform")))
        style, made = self._styles.of(clip, {}), []
        for child in children(clip):
            for contours, rule, _ in self._outlines(child, place, style, view):
                made.append(mask_of("Clip", contours, rule))
        return made or nothing

    def _mask(self, mask: Element, element: Element, m: Matrix, view: Viewport) -> list[list[dict[str, Any]]]:
        place = self._units(mask, "maskContentUnits", element, m, view)
        if place is None:
            return [[mask_of("Mask", [])]]
        style = self._styles.of(mask, {})
        made: list[dict[str, Any]] = []
        by_alpha = style["mask-type"] == "alpha"
        for child in children(mask):
            for contours, rule, own in self._outlines(child, place, style, view):
                ink = colour(own["fill"], own["color"], number(own["fill-opacity"], 1.0) * number(own["opacity"], 1.0))
                if reference_in(own["fill"]):
                    self._notes.add("gradients in masks")
                    ink = "#ffffffff"
                if ink is None:
                    continue
                red, green, blue, alpha = bytes.fromhex(ink[1:])
                light = 1.0 if by_alpha else (0.2125 * red + 0.7154 * green + 0.0721 * blue) / 255
                dark = light < 0.5 and bool(made)
                strength = alpha / 255 * (1 - light if dark else light)
                made.append(mask_of("Mask", contours, rule, "subtract" if dark else "add", strength))
                if own["stroke"] != "none":
                    self._notes.add("strokes in masks")
        return [made or [mask_of("Mask", [])]]

    def _outlines(
        self, element: Element, m: Matrix, parent: Style, view: Viewport, depth: int = 0
    ) -> list[tuple[list[Contour], str, dict[str, str]]]:
        """The outlines in an element of a clip or a mask, with their rule and their style."""
        style = self._styles.of(element, parent)
        name = local(element)
        if style["display"] == "none" or depth > MOST_DEPTH or style["visibility"] != "visible":
            return []
        m = multiply(m, matrix_of(element.get("transform")))
        if name in SHAPES:
            contours = [one.through(m) for one in outline_of(element, view, 16.0)]
            rule = style["clip-rule"]
            return [(contours, rule, style)] if contours else []
        found = []
        if name == "use":
            other = self._ids.get(target(element)[1:])
            place = (1.0, 0.0, 0.0, 1.0, length(element.get("x"), view, "x"), length(element.get("y"), view, "y"))
            if other is None:
                self._notes.add(f"the missing {target(element)[:30] or 'reference'} in clips and masks")
            else:
                found += self._outlines(other, multiply(m, place), style, view, depth + 1)
        elif name in GROUPS:
            for child in children(element):
                found += self._outlines(child, m, style, view, depth + 1)
        elif name == "text":
            self._notes.add("text in clips and masks")
        return found

    def box_of(
        self, element: Element, m: Matrix, parent: Style, view: Viewport, *, own: bool = True, strokes: bool = False,
        depth: int = 0,
    ) -> Box | None:  # fmt: skip
        """left, top, right, bottom of the outlines in an element; without its `own` transform, in its pixels."""
        if depth > MOST_DEPTH:
            return None
        style = self._styles.of(element, parent)
        name = local(element)
        if style["display"] == "none" or (name in UNSEEN and depth):
            return None
        if own and depth:
            m = multiply(m, matrix_of(element.get("transform")))
        boxes: list[Box] = []
        if name in SHAPES:
            box = box_of([one.through(m) for one in outline_of(element, view, 16.0)])
            if box and strokes and style["stroke"] != "none":
                more = length(style["stroke-width"], view, "", 1.0) / 2 * math.hypot(*m[:2])
                box = (box[0] - more, box[1] - more, box[2] + more, box[3] + more)
            boxes += [box] if box else []
        elif name == "use":
            other = self._ids.get(target(element)[1:])
            if other is not None:
                place = (1.0, 0.0, 0.0, 1.0, length(element.get("x"), view, "x"), length(element.get("y"), view, "y"))
                box = self.box_of(other, multiply(m, place), style, view, strokes=strokes, depth=depth + 1)
                boxes += [box] if box else []
        else:
            for child in children(element):
                box = self.box_of(child, m, style, view, strokes=strokes, depth=depth + 1)
                boxes += [box] if box else []
        if not boxes:
            return None
        lows, highs = list(zip(*boxes, strict=True))[:2], list(zip(*boxes, strict=True))[2:]
        return min(lows[0]), min(lows[1]), max(highs[0]), max(highs[1])


def mask_of(
    name: str, contours: list[Contour], rule: str = "nonzero", mode: str = "add", strength: float = 1.0
) -> dict[str, Any]:
    """A mask of an outline, closed; of none where there is no outline."""
    points = [[tidy(n) for n in point] for contour in contours for point in contour.points]
    counts = [{"count": len(contour.points), "closed": True} for contour in contours if contour.points]
    if not counts:
        counts, points = [{"count": 1, "closed": True}], [[0.0] * 6]
    shape = {"shape": "path", "contours": counts, "points": points[:MOST_POINTS], "fill_rule": rule}
    made: dict[str, Any] = {"name": name, "shape": shape, "mode": mode}
    if strength < 1:
        made["transform"] = {"anchor": FIXED, "opacity": round(strength * 100, 4)}
    return made
