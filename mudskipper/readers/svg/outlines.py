"""Outlines of SVG's shapes as contours of cubic curves."""

from __future__ import annotations

import contextlib
import itertools
import math
from dataclasses import dataclass, field
from typing import Any
from xml.etree.ElementTree import Element

from svgelements import Arc, Close, CubicBezier, Move, Path, QuadraticBezier
from svgelements import Line as Straight
from svgelements import Point as Place

from .document import local
from .units import IDENTITY, Matrix, Viewport, along, at, length, numbers

ARC = 0.5522847498307936
SAME = 1e-9
Point = tuple[float, float]


@dataclass
class Contour:
    """Points x, y with the handles from each: that on which a curve arrives, that on which one leaves."""

    points: list[list[float]] = field(default_factory=list)
    closed: bool = False

    def through(self, m: Matrix) -> Contour:
        """The contour through a matrix."""
        if m == IDENTITY:
            return self
        moved = [[*at(m, *p[:2]), *along(m, *p[2:4]), *along(m, *p[4:6])] for p in self.points]
        return Contour(moved, self.closed)


def outline_of(element: Element, viewport: Viewport, em: float) -> list[Contour]:
    """The outline of a shape element; none where it has no size. ValueError where a path cannot be read at all."""
    name = local(element)

    def number(key: str, axis: str, default: float = 0.0) -> float:
        return length(element.get(key), viewport, axis, default, em)

    if name == "path":
        return path_contours(element.get("d", ""))
    if name == "rect":
        x, y, w, h = number("x", "x"), number("y", "y"), number("width", "x"), number("height", "y")
        rx, ry = radii(element, viewport, em, w, h)
        return [_rounded(x, y, w, h, rx, ry)] if w > 0 and h > 0 else []
    if name in ("circle", "ellipse"):
        cx, cy = number("cx", "x"), number("cy", "y")
        rx = number("r", "") if name == "circle" else number("rx", "x", number("ry", "y"))
        ry = rx if name == "circle" else number("ry", "y", rx)
        return [_ellipse(cx, cy, rx, ry)] if rx > 0 and ry > 0 else []
    if name == "line":
        ends = [[number("x1", "x"), number("y1", "y")], [number("x2", "x"), number("y2", "y")]]
        return [Contour([[*end, 0.0, 0.0, 0.0, 0.0] for end in ends])]
    places = numbers(element.get("points"))
    points = [[x, y, 0.0, 0.0, 0.0, 0.0] for x, y in zip(places[::2], places[1::2], strict=False)]
    return [Contour(points, name == "polygon")] if len(points) > 1 else []


def radii(element: Element, viewport: Viewport, em: float, w: float, h: float) -> Point:
    """The radii of a rectangle's corners, at most half its sides (SVG 2, 10.2)."""
    given = [element.get("rx", "auto"), element.get("ry", "auto")]
    rx = length(given[0], viewport, "x", -1.0, em)
    ry = length(given[1], viewport, "y", -1.0, em)
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    return min(max(rx, 0.0), w / 2), min(max(ry, 0.0), h / 2)


class PathData(Path):  # type: ignore[misc]
    """Path data in which a smooth curve after one of the other kind, or after none, starts off towards its own point:
    a reflected handle is that of a curve of the same kind alone (SVG 2, 9.3.6 and 9.3.7)."""

    def smooth_cubic(self, *points: Any, relative: bool = False, **rest: Any) -> Any:
        return self._smooth(CubicBezier, super().smooth_cubic, 2, points, relative, rest)

    def smooth_quad(self, *points: Any, relative: bool = False, **rest: Any) -> Any:
        return self._smooth(QuadraticBezier, super().smooth_quad, 1, points, relative, rest)

    def _smooth(self, kind: type, draw: Any, size: int, points: Any, relative: bool, rest: dict[str, Any]) -> Any:
        first, others = points[:size], points[size:]
        last = self._segments[-1] if self._segments else None
        made = draw(*first, relative=relative, **rest)
        if not isinstance(last, kind):
            drawn, start = self._segments[-1], self._segments[-1].start
            if isinstance(drawn, CubicBezier):
                drawn.control1 = Place(start.x, start.y)
            elif isinstance(drawn, QuadraticBezier):
                drawn.control = Place(start.x, start.y)
        return draw(*others, relative=relative, **rest) if others else made


def path_contours(text: str) -> list[Contour]:
    """The contours of path data; what comes before a mistake in it is kept, as browsers do (SVG 2, 9.5.4)."""
    contours: list[Contour] = []
    path = PathData()
    with contextlib.suppress(ValueError, TypeError, IndexError, AttributeError, ZeroDivisionError, OverflowError):
        path.parse(text)
    now = Contour()
    for segment in _cubics(path):
        if isinstance(segment, Move):
            if len(now.points) > 1 or now.closed:
                contours.append(now)
            if not _finite(segment.end):
                break
            now = Contour([[segment.end.x, segment.end.y, 0.0, 0.0, 0.0, 0.0]])
            continue
        if isinstance(segment, Close):
            if now.points:
                contours.append(_closed(now))
                x, y = now.points[0][:2]
                now = Contour([[x, y, 0.0, 0.0, 0.0, 0.0]])
            continue
        if not _finite(segment.end) or not now.points:
            break
        here = now.points[-1]
        x, y = segment.end.x, segment.end.y
        if isinstance(segment, CubicBezier):
            here[4:6] = [segment.control1.x - here[0], segment.control1.y - here[1]]
            now.points.append([x, y, segment.control2.x - x, segment.control2.y - y, 0.0, 0.0])
        elif isinstance(segment, QuadraticBezier):
            qx, qy = segment.control.x, segment.control.y
            here[4:6] = [(qx - here[0]) * 2 / 3, (qy - here[1]) * 2 / 3]
            now.points.append([x, y, (qx - x) * 2 / 3, (qy - y) * 2 / 3, 0.0, 0.0])
        elif isinstance(segment, Straight):
            now.points.append([x, y, 0.0, 0.0, 0.0, 0.0])
    if len(now.points) > 1:
        contours.append(now)
    return contours


def _cubics(path: Path) -> list[Any]:
    """The segments of a path, arcs as cubic curves."""
    found: list[Any] = []
    for segment in path:
        if isinstance(segment, Arc):
            found.extend(
                segment.as_cubic_curves() if segment.rx and segment.ry else [Straight(segment.start, segment.end)]
            )
        else:
            found.append(segment)
    return found


def _finite(point: Any) -> bool:
    return point is not None and math.isfinite(point.x) and math.isfinite(point.y)


def _closed(contour: Contour) -> Contour:
    """A contour that ends where it began, with the last point laid into the first."""
    first, last = contour.points[0], contour.points[-1]
    if len(contour.points) > 1 and abs(first[0] - last[0]) < SAME and abs(first[1] - last[1]) < SAME:
        merged = [*first[:2], *last[2:4], *first[4:6]]
        return Contour([merged, *contour.points[1:-1]], True)
    return Contour(contour.points, True)


def _rounded(x: float, y: float, w: float, h: float, rx: float, ry: float) -> Contour:
    if rx <= 0 or ry <= 0:
        corners = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
        return Contour([[*corner, 0.0, 0.0, 0.0, 0.0] for corner in corners], True)
    kx, ky = rx * ARC, ry * ARC
    return Contour(
        [
            [x + rx, y, -kx, 0, 0, 0], [x + w - rx, y, 0, 0, kx, 0], [x + w, y + ry, 0, -ky, 0, 0],
            [x + w, y + h - ry, 0, 0, 0, ky], [x + w - rx, y + h, kx, 0, 0, 0], [x + rx, y + h, 0, 0, -kx, 0],
            [x, y + h - ry, 0, ky, 0, 0], [x, y + ry, 0, 0, 0, -ky],
        ],
        True,
    )  # fmt: skip


def _ellipse(cx: float, cy: float, rx: float, ry: float) -> Contour:
    kx, ky = rx * ARC, ry * ARC
    return Contour(
        [
            [cx + rx, cy, 0, -ky, 0, ky], [cx, cy + ry, kx, 0, -kx, 0],
            [cx - rx, cy, 0, ky, 0, -ky], [cx, cy - ry, -kx, 0, kx, 0],
        ],
        True,
    )  # fmt: skip


def box_of(contours: list[Contour]) -> tuple[float, float, float, float] | None:
    """left, top, right, bottom of outlines, by the extremes of their curves; None where there is none."""
    xs: list[float] = []
    ys: list[float] = []
    for contour in contours:
        points = contour.points
        for p in points:
            xs.append(p[0])
            ys.append(p[1])
        ends = [*itertools.pairwise(points), *([(points[-1], points[0])] if contour.closed else [])]
        for a, b in ends:
            if any(a[4:6]) or any(b[2:4]):
                xs += _extremes(a[0], a[0] + a[4], b[0] + b[2], b[0])
                ys += _extremes(a[1], a[1] + a[5], b[1] + b[3], b[1])
    return (min(xs), min(ys), max(xs), max(ys)) if xs else None


def _extremes(a: float, b: float, c: float, d: float) -> list[float]:
    """The values of a cubic where it turns."""
    q, r, s = d - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a
    if abs(q) < 1e-12:
        roots = [-s / r] if abs(r) > 1e-12 else []
    else:
        under = r * r - 4 * q * s
        roots = [(-r + sign * math.sqrt(under)) / (2 * q) for sign in (1, -1)] if under >= 0 else []
    return [
        (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d for t in roots if 0 < t < 1
    ]
