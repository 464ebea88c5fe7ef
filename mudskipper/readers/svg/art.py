"""A whole SVG file as layers: shapes in the pixels of the art, and texts, back to front."""

from __future__ import annotations

from typing import Any
from xml.etree.ElementTree import Element

from .document import Unreadable, children, local, read_elements
from .paints import Box
from .tree import MOST_GROUPS, Found, Tree, shallow
from .units import Matrix, Viewport, fitted, length, view_box

DEFAULT = 300.0, 150.0
LARGEST = 16_384.0


def read_art(data: bytes) -> dict[str, Any]:
    """The art in a file: `width` and `height` in pixels, `parts` back to front, each with a `name`, the `items` of its
    shapes and its `texts`, and `notes` on what it could not be true to. A part is a top group or what lies between.

    Unreadable where the file is none that is taken.
    """
    root = read_elements(data)
    width, height, place = _frame(root)
    tree = Tree(root)
    style = tree.style(root, {})
    box = view_box(root.get("viewBox"))
    view = Viewport(*(box[2:] if box else (width, height)))
    parts: list[dict[str, Any]] = []
    for element in _tops(root):
        tree.reach.clear()
        found = tree.read(element, place, style, view)
        if found.items or found.texts:
            found.items = shallow(found.items, MOST_GROUPS, tree.notes)
            parts.append(_part(element, found) | {"reach": _around(tree.reach)})
    return {
        "width": width, "height": height, "parts": parts, "notes": sorted(tree.notes),
    }  # fmt: skip


def _frame(root: Element) -> tuple[float, float, Matrix]:
    """The size of the art, and the matrix from its view box."""
    box = view_box(root.get("viewBox"))
    size = box[2:] if box and min(box[2:]) > 0 else DEFAULT
    given = []
    for name, axis, own in (("width", "x", size[0]), ("height", "y", size[1])):
        text = root.get(name) or ""
        given.append(own if "%" in text else length(text, Viewport(*size), axis, 0.0))
    width, height = given
    if not width and not height:
        width, height = size
    width, height = width or height * size[0] / size[1], height or width * size[1] / size[0]
    if width <= 0 or height <= 0 or max(width, height) > LARGEST:
        raise Unreadable(
            f"It is {width:g} × {height:g} pixels, and art may be at most {LARGEST:,.0f} pixels wide and high.",
            "Save it at another size.",
        )
    place = fitted(root.get("viewBox"), root.get("preserveAspectRatio"), width, height)
    if place is None:
        raise Unreadable("Its view box has no size, so nothing of it would be seen.", "Give it a width and a height.")
    return width, height, place


def _tops(root: Element) -> list[Element]:
    """The elements that stand on top: those of the root."""
    return list(children(root))


def _around(boxes: list[Box]) -> list[float] | None:
    """left, top, right, bottom of all boxes."""
    if not boxes:
        return None
    sides = list(zip(*boxes, strict=True))
    return [min(sides[0]), min(sides[1]), max(sides[2]), max(sides[3])]


def _part(element: Element, found: Found) -> dict[str, Any]:
    name = element.get("id") or ""
    title = next((child.text for child in children(element) if local(child) == "title"), None)
    called = " ".join((title or name).split())[:200]
    return {
        "name": called, "group": local(element) == "g", "items": found.items, "texts": found.texts,
    }  # fmt: skip
