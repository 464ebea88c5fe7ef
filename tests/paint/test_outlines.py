"""Outlines and their bounds: against skia's own strokes, closed forms, and the box that a shape is said to fill."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import skia
from hypothesis import example, given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.draw.bounds import BoundsPen
from mudskipper.core.draw.inks import Layering, StrokeInk
from mudskipper.core.draw.outlines import filleted
from mudskipper.core.draw.pen import MOST_DEPTH, Recorder
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import tight_box
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import CAPS, JOINS, _built
from tests.conftest import cases, layer, scene

PLACE = st.integers(-60, 60).map(float)
POINT = st.tuples(PLACE, PLACE)
PIECE = st.one_of(
    st.tuples(st.just("L"), st.tuples(POINT)),
    st.tuples(st.just("Q"), st.tuples(POINT, POINT)),
    st.tuples(st.just("C"), st.tuples(POINT, POINT, POINT)),
)
MATRIX = st.one_of(
    st.just((1.0, 0.0, 0.0, 1.0, 0.0, 0.0)),
    st.tuples(*(st.floats(-2, 2).map(lambda n: round(n, 2)) for _ in range(4)), PLACE, PLACE).filter(
        lambda m: abs(m[0] * m[3] - m[1] * m[2]) > 0.05
    ),
)


@cases(150)
@given(
    start=POINT, pieces=st.lists(PIECE, min_size=1, max_size=5), closed=st.booleans(),
    width=st.sampled_from([0.0, 3.0, 20.0]), matrix=MATRIX,
    style=st.tuples(
        st.sampled_from(["butt", "round", "square"]), st.sampled_from(["miter", "round", "bevel"]),
        st.sampled_from([1.0, 2.5, 10.0]),
    ),
)  # fmt: skip
# Pieces shorter than half the stroke: a round corner is no whole disc.
@example(
    start=(0.0, 0.0), pieces=[("L", ((-1.0, 0.0),)), ("L", ((-2.0, 0.0),))], closed=False, width=3.0,
    matrix=(1.0, 0.0, 0.0, 1.0, 0.0, 0.0), style=("butt", "round", 1.0),
)  # fmt: skip
def test_bounds_hold_what_is_painted_and_no_more(
    start: tuple[float, float],
    pieces: list[Any],
    closed: bool,
    width: float,
    matrix: tuple[float, ...],
    style: tuple[str, str, float],
) -> None:
    """The outline that skia strokes, under the same matrix, has the same bounds; a cusp reaches a little further."""
    verbs = "M" + "".join(verb for verb, _ in pieces) + ("Z" if closed else "")
    numbers = [*start, *(n for _, points in pieces for point in points for n in point)]
    cap, join, mitre = style
    ends = [start, *(points[-1] for _, points in pieces)]
    if any(set(points) == {before} for before, (_, points) in zip(ends, pieces, strict=False)) or ends[-1] == start:
        # Whether a piece without a length has ends and corners of its own is left open.
        cap, join = "butt", "miter"
    path = _built(verbs, numbers)
    a, b, c, d, e, f = matrix
    under = skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1)
    whole = [path]
    if width:
        stroke = skia.Path()
        ink = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=width, StrokeMiter=mitre)
        ink.setStrokeCap(CAPS[cap])
        ink.setStrokeJoin(JOINS[join])
        ink.getFillPath(path, stroke, None, 50)
        whole.append(stroke)
    for one in whole:
        one.transform(under)
    ends = np.array([list(one.computeTightBounds()) for one in whole if not one.isEmpty()])
    wanted = [*ends[:, :2].min(axis=0), *ends[:, 2:].max(axis=0)]
    pen = BoundsPen()
    colour = np.array([[0.0, 0.0, 0.0, 255.0]])
    with pen.group(Layering(np.array([matrix]))):
        ink = StrokeInk(colour, np.array([[width]]), cap, join, np.array([[mitre]])) if width else None
        pen.path(verbs, np.array([numbers]), colour, ink)
    assert pen.box is not None
    left, top, wide, high = pen.box[0]
    inside = np.array([left, top, -left - wide, -top - high]) - [wanted[0], wanted[1], -wanted[2], -wanted[3]]
    # Skia puts a round cap on a cusp, where a curve turns back on itself.
    curved = width and any(verb in "QC" for verb, _ in pieces)
    cap = 0.51 * max(float(np.linalg.norm([[a, c], [b, d]], 2)), 1.0)
    assert inside.max() <= 0.05 + (cap if curved else 0.01) * width, f"{inside.max():.3f} px of it are outside"
    # Its strokes of curves are themselves drawn by curves that are not quite parallel to them.
    assert inside.min() >= -0.05 - (0.04 if curved else 0.01) * width, f"{-inside.min():.3f} px too wide"


@pytest.mark.parametrize("verbs", ["ML", "MLL"])
def test_a_dot_with_round_ends_is_as_wide_as_its_stroke(verbs: str) -> None:
    pen = BoundsPen()
    ink = StrokeInk(np.zeros((1, 4)), np.array([[8.0]]), "round", "round", np.array([[10.0]]))
    pen.path(verbs, np.array([[5.0, 7.0] * len(verbs)]), None, ink)
    assert pen.box is not None
    assert pen.box.tolist() == [[1, 3, 8, 8]]


@cases(40)
@given(sides=st.integers(3, 12), radius=st.floats(1, 200))
def test_corners_are_rounded_by_arcs_that_meet_their_sides(sides: int, radius: float) -> None:
    """Every arc keeps its radius from one centre, to 0.2 %, and takes at most half of a side."""
    angle = np.arange(sides) * 2 * np.pi / sides
    corners = 100 * np.stack([np.sin(angle), -np.cos(angle)], axis=1)[None]
    verbs, points = filleted(corners, np.full((1, sides), radius))
    assert verbs == f"M{'LC' * sides}Z"
    at = points.reshape(-1, 2)
    apothem = 100 * np.cos(np.pi / sides)
    real = min(radius, apothem)  # arcs of half a side are the circle within
    for number in range(sides):
        start, first, second, end = at[1 + 4 * number : 5 + 4 * number]
        corner = corners[0, (number + 1) % sides]
        centre = corner * (1 - real / apothem)
        t = np.linspace(0, 1, 9)[:, None]
        arc = (1 - t) ** 3 * start + 3 * (1 - t) ** 2 * t * first + 3 * (1 - t) * t**2 * second + t**3 * end
        assert np.hypot(*(arc - centre).T) == pytest.approx(np.full(9, real), rel=2e-3, abs=0.01)


@pytest.mark.parametrize("item", [
    {"shape": "rectangle"}, {"shape": "rectangle", "corners": 20}, {"shape": "ellipse"}, {"shape": "polygon"},
    {"shape": "polygon", "sides": 3}, {"shape": "polygon", "sides": 7}, {"shape": "star"},
    {"shape": "star", "points": 4, "inner": 20}, {"shape": "star", "inner": 100}, {"shape": "star", "inner": 0},
    {"shape": "ellipse", "hole": 40}, {"shape": "rectangle", "apart": {"top_left": 300, "bottom_right": 20}},
    {"shape": "sunburst", "rays": 8, "share": 100}, {"shape": "line", "start": [-90, 20], "end": [60, -40]},
    {"shape": "arrow", "start": [-90, 20], "end": [60, -40]}, {"shape": "arrow", "start": [5, 5], "end": [5, 5]},
])  # fmt: skip
def test_a_shape_fills_its_size(item: dict[str, Any]) -> None:
    """What is painted reaches from edge to edge of the box that its anchor is pinned to, while it grows too."""
    size = {"rest": [200, 90], "keys": [{"frame": 0, "value": [200, 90]}, {"frame": 10, "value": [60, 140]}]}
    if "start" in item:
        size = {"at": size}
        stroke = {"colour": "#000000", "width": 0}
    else:
        size, stroke = {"size": size}, None
    made = layer(content={"kind": "shape", "items": [{"fill": "#000000", "stroke": stroke, **size, **item}]})
    found = resolve(scene(made), np.arange(12), NO_MEDIA)
    one = found.layers["plate"]
    assert np.allclose(tight_box(one, found.context), one.box, atol=1e-4)


def test_groups_nest_to_a_depth_and_no_deeper() -> None:
    pen = Recorder()

    def nested(depth: int) -> None:
        if depth:
            with pen.group(Layering()):
                nested(depth - 1)

    nested(MOST_DEPTH)
    with pytest.raises(Refused, match="Groups nest at most 64 deep"):
        nested(MOST_DEPTH + 1)
