"""The elements of a file as shapes, groups, masks and texts."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any
from xml.etree.ElementTree import Element

from .clips import GROUPS, MOST_DEPTH, MOST_POINTS, SHAPES, UNSEEN, Clips, mask_of
from .document import Unreadable, by_ids, children, local, target
from .outlines import Contour, box_of, outline_of, radii
from .paints import Box, Paints
from .styles import Style, Styles
from .texts import texts_of
from .units import (
    FIXED,
    IDENTITY,
    Matrix,
    Viewport,
    fitted,
    length,
    matrix_of,
    multiply,
    number,
    similar,
    tidy,
    turned,
    view_box,
)

CALLED = {"image": "embedded pictures", "foreignObject": "foreign content", "filter": "filters"}
MOST_SHAPES = 5_000
MOST_TEXTS = 2_000
MOST_GROUPS = 14
"""How deep groups may lie in one another; a layer takes one more, for masks."""


@dataclass
class Found:
    """What came of an element: shapes, the first at the back, and the texts in it."""

    items: list[dict[str, Any]] = field(default_factory=list)
    texts: list[dict[str, Any]] = field(default_factory=list)


class Tree:
    """Reads the tree of a file; what it cannot be true to goes into `notes`."""

    def __init__(self, root: Element) -> None:
        self.root = root
        self.notes: set[str] = set()
        self._ids = by_ids(root)
        self._styles = Styles(root, self.notes)
        self._paints = Paints(self._ids, self._styles, self.notes)
        self._clips = Clips(self._ids, self._styles, self.notes)
        self._count = 0
        self._texts = 0
        self.reach: list[Box] = []
        """What each shape takes up in the art, its stroke counted."""

    def style(self, element: Element, parent: Style) -> dict[str, str]:
        """The properties of an element."""
        return self._styles.of(element, parent)

    def read(self, element: Element, m: Matrix, parent: Style, view: Viewport, uses: tuple[Element, ...] = ()) -> Found:
        """What an element shows, under a matrix from its parent's pixels to those of the art."""
        name = local(element)
        if name in UNSEEN and not (uses and name == "symbol" and uses[-1] is element):
            return Found()
        if len(uses) > MOST_DEPTH:
            self.notes.add("references that lead in a circle")
            return Found()
        style = self._styles.of(element, parent)
        if style["display"] == "none":
            return Found()
        if name not in ("symbol", "svg"):
            m = multiply(m, matrix_of(element.get("transform") or _css_transform(style)))
        for key in ("filter", "mix-blend-mode"):
            if style[key] not in ("none", "normal", ""):
                self.notes.add("filters" if key == "filter" else "blend modes")
        if name in SHAPES:
            found = Found(self._shape(element, m, style, view))
        elif name == "text":
            found = Found(texts=texts_of(element, m, style, view, self.style, self.notes))
            self._texts += len(found.texts)
            if self._texts > MOST_TEXTS:
                raise Unreadable(
                    f"It would make more than {MOST_TEXTS:,} layers of text.",
                    "Turn its texts into outlines, or divide it between several files.",
                )
        elif name == "use":
            found = self._used(element, m, style, view, uses)
        elif name in GROUPS:
            found = self._group(element, m, style, view, uses)
        else:
            self.notes.add(CALLED.get(name, f"{name} elements"))
            return Found()
        return self._wrapped(element, found, m, style, view)

    # Groups and references

    def _group(self, element: Element, m: Matrix, style: Style, view: Viewport, uses: tuple[Element, ...]) -> Found:
        name = local(element)
        inner, frame = view, (0.0, 0.0, 0.0, 0.0)
        if name in ("svg", "symbol") and element is not self.root:
            entered = self._entered(element, m, view, uses)
            if entered is None:
                return Found()
            m, inner, frame = entered
        kept = list(children(element))
        if name == "switch":
            kept = [one for one in kept if not one.get("requiredExtensions")][:1]
        found = Found()
        for child in kept:
            part = self.read(child, m, style, inner, uses)
            found.items += part.items
            found.texts += part.texts
        if name in ("svg", "symbol") and element is not self.root and style["overflow"] not in ("visible", "auto"):
            found.items = self._cropped(element, found.items, m, frame, inner)
        return found

    def _entered(
        self, element: Element, m: Matrix, view: Viewport, uses: tuple[Element, ...]
    ) -> tuple[Matrix, Viewport, tuple[float, float, float, float]] | None:
        """The matrix and the viewport within a nested one, and the edge of that in its pixels: left, top, width and
        height; None where it has no size."""
        user = uses[-2] if len(uses) > 1 and local(element) == "symbol" else element
        x, y = (length(element.get(key), view, key) if user is element else 0.0 for key in ("x", "y"))
        width, height = (
            length(user.get(key, element.get(key, "100%")), view, axis, 0.0)
            for key, axis in (("width", "x"), ("height", "y"))
        )
        place = fitted(element.get("viewBox"), element.get("preserveAspectRatio"), width, height)
        if place is None or width <= 0 or height <= 0:
            return None
        box = view_box(element.get("viewBox"))
        # Its viewBox may leave some of it free, or reach beyond it (SVG 2, 8.2, 8.6): it is cut off at the viewport.
        edge = (-place[4] / place[0], -place[5] / place[3], width / place[0], height / place[3])
        inner = Viewport(*(box[2:] if box else (width, height)))
        return multiply(multiply(m, (1, 0, 0, 1, x, y)), place), inner, edge

    def _cropped(
        self, element: Element, items: list[dict[str, Any]], m: Matrix, frame: tuple[float, ...], view: Viewport
    ) -> list[dict[str, Any]]:
        """Items that are cut off at the edge of their viewport, where they reach past it."""
        x, y, w, h = frame
        box = self._clips.box_of(element, IDENTITY, self._styles.of(element, {}), view, strokes=True)
        inside = box is None or (box[0] >= x - 0.01 and box[1] >= y - 0.01 and box[2] <= x + w + 0.01)
        if not items or (inside and (box is None or box[3] <= y + h + 0.01)):
            return items
        corners = [[x, y], [x + w, y], [x + w, y + h], [x, y + h]]
        edge = Contour([[*corner, 0.0, 0.0, 0.0, 0.0] for corner in corners], True)
        return [_grouped(items, masks=[mask_of("Viewport", [edge.through(m)])])]

    def _used(self, element: Element, m: Matrix, style: Style, view: Viewport, uses: tuple[Element, ...]) -> Found:
        name = target(element)
        other = self._ids.get(name[1:]) if name.startswith("#") else None
        if other is None:
            self.notes.add(f"the missing element {name or '#'}")
            return Found()
        if other in uses:
            self.notes.add("references that lead in a circle")
            return Found()
        place = (1.0, 0.0, 0.0, 1.0, length(element.get("x"), view, "x"), length(element.get("y"), view, "y"))
        return self.read(other, multiply(m, place), style, view, (*uses, element, other))

    def _wrapped(self, element: Element, found: Found, m: Matrix, style: Style, view: Viewport) -> Found:
        """What an element shows with its opacity, its clip and its mask."""
        opacity = min(max(number(style["opacity"], 1.0), 0.0), 1.0)
        for text in found.texts:
            text["opacity"] *= opacity
        items = found.items
        if items:
            name = _name_of(element)
            masks = self._clips.of(element, style, m, view)
            plain = local(element) in SHAPES and len(items) == 1
            if opacity < 1 and plain and "transform" not in items[0]:
                items[0]["transform"] = {"anchor": FIXED, "opacity": round(opacity * 100, 4)}
                opacity = 1.0
            if opacity < 1 or masks[:1] or (len(items) > 1 and not plain and element is not self.root):
                items = [_grouped(items, name, masks[0] if masks else [], opacity)]
            elif len(items) == 1 and not items[0].get("name"):
                # A group of one is that one, under its name.
                items[0]["name"] = name
            for more in masks[1:]:
                items = [_grouped(items, masks=more)]
            if masks and found.texts:
                self.notes.add("clips and masks of text")
        return Found(items, found.texts)

    # Shapes

    def _shape(self, element: Element, m: Matrix, style: Style, view: Viewport) -> list[dict[str, Any]]:
        if style["visibility"] in ("hidden", "collapse"):
            return []
        em = length(style["font-size"], view, "y", 16.0)
        contours = outline_of(element, view, em)
        user = box_of(contours)
        if user is None or not all(math.isfinite(n) for n in m):
            return []
        self._count += 1
        if self._count > MOST_SHAPES:
            raise Unreadable(
                f"It would make more than {MOST_SHAPES:,} shapes.", "Simplify it, or divide it between several files."
            )
        if any(style[key] != "none" for key in ("marker-start", "marker-mid", "marker-end")):
            self.notes.add("markers")
        stroked = style["stroke"].strip().lower() != "none" and length(style["stroke-width"], view, "", 1.0, em) > 0
        grows = similar(m)
        moved = [contour.through(m) for contour in contours]
        box = box_of(moved)
        assert box is not None
        wide = length(style["stroke-width"], view, "", 1.0, em) / 2 if stroked else 0.0
        more = wide * max(math.hypot(*m[:2]), math.hypot(*m[2:4]))
        self.reach.append((box[0] - more, box[1] - more, box[2] + more, box[3] + more))
        if stroked and grows is None:
            return self._stretched(element, m, style, view, contours, user, em)
        # Dashes begin where SVG's outlines do.
        plain = not stroked or style["stroke-dasharray"] == "none"
        outline = self._kept(element, m, moved, box, view, em, plain=plain)
        if outline is None:
            return []
        inks = self._inks(style, view, em, user, m, box, grows or 1.0, stroked)
        return self._painted(element, outline, style, inks)

    def _kept(
        self, element: Element, m: Matrix, moved: list[Contour], box: Box, view: Viewport, em: float, *, plain: bool
    ) -> dict[str, Any] | None:
        """An outline in the pixels of the art, with its box there, as a shape of ours."""
        upright = plain and m[1] == m[2] == 0 and m[0] > 0 and m[3] > 0
        middle = [tidy((box[0] + box[2]) / 2), tidy((box[1] + box[3]) / 2)]
        size = [tidy(box[2] - box[0]), tidy(box[3] - box[1])]
        name = local(element)
        if name == "rect" and upright:
            width, height = (
                length(element.get(key), view, axis, 0.0, em) for key, axis in (("width", "x"), ("height", "y"))
            )
            rx, ry = radii(element, view, em, width, height)
            if abs(rx * m[0] - ry * m[3]) < 1e-6:
                return {"shape": "rectangle", "at": middle, "size": size, "corners": tidy(rx * m[0])}
        if name in ("circle", "ellipse") and upright:
            return {"shape": "ellipse", "at": middle, "size": size}
        if name == "line":
            ends = [[tidy(n) for n in point[:2]] for point in moved[0].points]
            return {"shape": "line", "start": ends[0], "end": ends[1]}
        return self._path(moved)

    def _path(self, contours: list[Contour]) -> dict[str, Any] | None:
        points = [[tidy(n) for n in point] for contour in contours for point in contour.points]
        if len(points) > MOST_POINTS:
            self.notes.add(f"paths of more than {MOST_POINTS:,} points")
            return None
        counts = [{"count": len(contour.points), "closed": contour.closed} for contour in contours]
        return {"shape": "path", "contours": counts, "points": points}

    def _stretched(
        self, element: Element, m: Matrix, style: Style, view: Viewport, contours: list[Contour], user: Box, em: float
    ) -> list[dict[str, Any]]:
        """A stroked outline under a matrix that stretches: its stroke is stretched with it, by its transform."""
        outline = self._path(contours)
        if outline is None:
            return []
        first, sx, sy, last = turned(m)
        inks = self._inks(style, view, em, user, IDENTITY, user, 1.0, True)
        items = self._painted(element, outline, style, inks)
        own: dict[str, Any] = {
            "anchor": FIXED, "position": [tidy(m[4]), tidy(m[5])], "rotation": round(first, 6),
            "scale": [round(sx * 100, 6), round(sy * 100, 6)],
        }  # fmt: skip
        if abs(last) < 1e-6 and len(items) == 1:
            return [items[0] | {"transform": own}]
        inner = [item | {"transform": {"anchor": FIXED, "rotation": round(last, 6)}} for item in items]
        return [_grouped(inner, _name_of(element)) | {"transform": own}]

    def _inks(
        self, style: Style, view: Viewport, em: float, user: Box, m: Matrix, box: Box, grows: float, stroked: bool
    ) -> tuple[Any | None, dict[str, Any] | None]:
        """What an outline is filled and stroked with."""
        fill = self._paints.of(style["fill"], style["fill-opacity"], style, user, m, box, view)
        if not stroked:
            return fill, None
        ink = self._paints.of(style["stroke"], style["stroke-opacity"], style, user, m, box, view)
        if ink is None:
            return fill, None
        if style["vector-effect"] == "non-scaling-stroke" and abs(grows - 1) > 1e-6:
            self.notes.add("strokes that do not scale")
        width = length(style["stroke-width"], view, "", 1.0, em) * grows
        join = style["stroke-linejoin"]
        stroke: dict[str, Any] = {
            "colour": ink, "width": tidy(min(width, 10_000)),
            "cap": style["stroke-linecap"] if style["stroke-linecap"] in ("round", "square") else "butt",
            "join": join if join in ("round", "bevel") else "miter",
            "mitre": min(max(number(style["stroke-miterlimit"], 4.0), 1.0), 100.0),
        }  # fmt: skip
        lengths = [length(one, view, "", -1.0, em) for one in style["stroke-dasharray"].replace(",", " ").split()]
        if lengths and min(lengths) >= 0 and sum(lengths) > 0:
            lengths = lengths * 2 if len(lengths) % 2 else lengths
            if any(one != lengths[i % 2] for i, one in enumerate(lengths)):
                self.notes.add("dashes of several lengths")
            offset = length(style["stroke-dashoffset"], view, "", 0.0, em)
            dash, gap = (tidy(one * grows) for one in lengths[:2])
            stroke["dashes"] = {"dash": dash, "gap": gap, "offset": tidy(offset * grows)}
        return fill, stroke

    def _painted(
        self, element: Element, outline: dict[str, Any], style: Style, inks: tuple[Any | None, dict[str, Any] | None]
    ) -> list[dict[str, Any]]:
        fill, stroke = inks
        fill = None if outline["shape"] == "line" else fill
        if fill is None and stroke is None:
            return []
        rule = style["fill-rule"] if style["fill-rule"] == "evenodd" else "nonzero"
        item = {**outline, "name": _name_of(element), "fill": fill, "stroke": stroke, "fill_rule": rule}
        order = style["paint-order"].split()
        if fill is None or stroke is None or "stroke" not in order or order[0] == "fill":
            return [item]
        return [item | {"fill": None}, item | {"stroke": None}]


def shallow(items: list[dict[str, Any]], levels: int, notes: set[str]) -> list[dict[str, Any]]:
    """Items of which no more than some levels are groups: those that lie deeper are taken apart."""
    kept: list[dict[str, Any]] = []
    for item in items:
        if item["shape"] != "group":
            kept.append(item)
        elif levels > 0:
            kept.append(item | {"items": shallow(item["items"], levels - 1, notes)})
        else:
            if item.keys() & {"masks", "transform"}:
                notes.add("what groups that lie very deep do to their shapes")
            kept += shallow(item["items"], levels, notes)
    return kept


def _grouped(
    items: list[dict[str, Any]], name: str = "", masks: list[dict[str, Any]] | None = None, opacity: float = 1.0
) -> dict[str, Any]:
    made: dict[str, Any] = {"shape": "group", "name": name, "items": items}
    if masks:
        made["masks"] = masks
    if opacity < 1:
        made["transform"] = {"anchor": FIXED, "opacity": round(opacity * 100, 4)}
    return made


def _css_transform(style: Style) -> str:
    value = style["transform"]
    return value.replace("px", "").replace("deg", "") if value else ""


def _name_of(element: Element) -> str:
    title = next((child.text for child in children(element) if local(child) == "title"), None)
    return " ".join((title or element.get("id") or "").split())[:200]


__all__ = ["MOST_GROUPS", "Found", "Tree"]
