"""Colours and gradients of SVG as the data of a shape's paint."""

from __future__ import annotations

import math
from typing import Any
from xml.etree.ElementTree import Element

import tinycss2.color4

from .document import children, local, reference_in, target
from .styles import Style, Styles
from .units import Matrix, Viewport, at, length, matrix_of, multiply, number, turned

Box = tuple[float, float, float, float]
"""left, top, right, bottom."""
MOST_STOPS = 32
LINEAR = {"x1": "0%", "y1": "0%", "x2": "100%", "y2": "0%"}
RADIAL = {"cx": "50%", "cy": "50%", "r": "50%"}


def colour(text: str, current: str, opacity: float) -> str | None:
    """A colour as #rrggbbaa; None for none, or where it cannot be read."""
    found = tinycss2.color4.parse_color(text)
    if found == "currentcolor":
        found = tinycss2.color4.parse_color(current)
    if found is None or isinstance(found, str):
        return None
    red, green, blue, alpha = found.to("srgb")
    numbers = [min(max(0.0 if n is None else n, 0.0), 1.0) for n in (red, green, blue)]
    whole = [round(n * 255) for n in (*numbers, min(max(alpha * opacity, 0.0), 1.0))]
    return "#" + "".join(f"{n:02x}" for n in whole)


class Paints:
    """Reads paints of a file; what it cannot be true to goes into `notes`."""

    def __init__(self, ids: dict[str, Element], styles: Styles, notes: set[str]) -> None:
        self._ids, self._styles, self._notes = ids, styles, notes

    def of(
        self, value: str, opacity: str, style: Style, user: Box, m: Matrix, box: Box, viewport: Viewport
    ) -> Any | None:
        """A paint as a colour or a gradient; None where nothing is painted. `user` is the outline's box before the
        matrix `m`, and `box` that of the shape as it is kept."""
        share = min(max(number(opacity, 1.0), 0.0), 1.0)
        name = reference_in(value)
        if name is None:
            return None if value.strip().lower() == "none" else colour(value, style["color"], share)
        element = self._ids.get(name)
        kind = local(element) if element is not None else ""
        if element is not None and kind in ("linearGradient", "radialGradient"):
            return self._gradient(element, kind, share, user, m, box, viewport)
        fallback = value.partition(")")[2].strip()
        self._notes.add("pattern fills" if kind == "pattern" else f"the missing paint #{name}")
        return colour(fallback, style["color"], share) if fallback and fallback != "none" else None

    def _gradient(
        self, element: Element, kind: str, share: float, user: Box, m: Matrix, box: Box, viewport: Viewport
    ) -> Any | None:
        chain = self._chain(element)
        stops = next((found for one in chain if (found := self._stops(one, share))), [])
        if not stops:
            return None
        if len(stops) == 1:
            self._notes.add("gradients with a single stop, which are one colour")
            return stops[0][1]

        def given(name: str, default: str) -> str:
            return next((value for one in chain if (value := one.get(name)) is not None), default)

        if given("spreadMethod", "pad") != "pad":
            self._notes.add("gradients that repeat")
        in_box = given("gradientUnits", "objectBoundingBox") == "objectBoundingBox"
        place = matrix_of(given("gradientTransform", ""))
        wide, high = user[2] - user[0], user[3] - user[1]
        if in_box:
            if wide <= 0 or high <= 0:
                return None
            place = multiply((wide, 0.0, 0.0, high, user[0], user[1]), place)
        place = multiply(m, place)
        unit = Viewport(1.0, 1.0) if in_box else viewport
        size = box[2] - box[0], box[3] - box[1]
        if abs(place[0] * place[3] - place[1] * place[2]) < 1e-12 or size[0] <= 0 or size[1] <= 0:
            return stops[-1][1]

        def share_of(x: float, y: float) -> list[float]:
            return [round((x - box[0]) / size[0] * 100, 5), round((y - box[1]) / size[1] * 100, 5)]

        made: dict[str, Any] = {"stops": [{"at": at_, "colour": ink} for at_, ink in stops]}
        if kind == "linearGradient":
            axes = {"x1": "x", "y1": "y", "x2": "x", "y2": "y"}
            x1, y1, x2, y2 = (length(given(n, LINEAR[n]), unit, axes[n]) for n in LINEAR)
            dx, dy = x2 - x1, y2 - y1
            long = dx * dx + dy * dy
            if long == 0:
                return stops[-1][1]
            a, b, c, d = place[:4]
            area = a * d - b * c
            # What grows by 1 from start to end grows along its gradient, which a stretch turns.
            gx, gy = (d * dx - b * dy) / area / long, (a * dy - c * dx) / area / long
            steep = gx * gx + gy * gy
            x, y = at(place, x1, y1)
            return made | {
                "gradient": "linear", "start": share_of(x, y), "end": share_of(x + gx / steep, y + gy / steep),
            }  # fmt: skip
        cx, cy = (length(given(n, RADIAL[n]), unit, n[1]) for n in ("cx", "cy"))
        fx, fy = (length(given(n, ""), unit, n[1], own) for n, own in (("fx", cx), ("fy", cy)))
        r = length(given("r", RADIAL["r"]), unit, "")
        if r <= 0:
            return stops[-1][1]
        if math.hypot(fx - cx, fy - cy) > 1e-3 * r:
            self._notes.add("gradients whose focus is not their centre")
        first, sx, sy, _ = turned(place)
        return made | {
            "gradient": "radial", "centre": share_of(*at(place, cx, cy)), "angle": round(first, 5),
            "radius": [round(abs(sx) * r / size[0] * 100, 5), round(abs(sy) * r / size[1] * 100, 5)],
        }  # fmt: skip

    def _chain(self, element: Element) -> list[Element]:
        """A gradient and those that it refers to, itself first."""
        found = [element]
        while (name := target(found[-1])).startswith("#"):
            other = self._ids.get(name[1:])
            if other is None or other in found or not local(other).endswith("Gradient"):
                break
            found.append(other)
        return found

    def _stops(self, element: Element, share: float) -> list[tuple[float, str]]:
        found = []
        parent = self._styles.of(element, {})
        for stop in children(element):
            if local(stop) != "stop":
                continue
            style = self._styles.of(stop, parent)
            own = min(max(number(style["stop-opacity"], 1.0), 0.0), 1.0)
            place = min(max(number(stop.get("offset"), 0.0), 0.0), 1.0) * 100
            ink = colour(style["stop-color"], style["color"], own * share) or colour("black", "black", own * share)
            found.append((round(place, 4), str(ink)))
        if len(found) > MOST_STOPS:
            self._notes.add(f"more than {MOST_STOPS} stops of a gradient")
        return found[:MOST_STOPS]
